/** Takes docs/screenshots anew from the demo project, 1280×800. `npm run screenshots`. */
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Job, MadeSlot, PlateCheck, ReviewVersion, Shot, ShotDetail } from '../core/base/schemas/types.ts';
import type { Truth } from '../demo/truth.ts';
import { launch } from '../server/test/launched.ts';
import { Api } from '../server/test/api.ts';
import { ROOT, temporaryFolder } from '../server/test/folders.ts';
import { launchBrowser } from './support/browser.ts';

const folder = temporaryFolder();
const out = join(ROOT, 'docs/screenshots');
mkdirSync(out, { recursive: true });
const service = await launch(folder.path, { demo: true });
const api = new Api(service.address);
const browser = await launchBrowser();
const truthOf = (name: string) =>
  JSON.parse(readFileSync(join(ROOT, `demo/clips/${name}.truth.json`), 'utf8')) as Truth;
try {
  const shots = await api.call<Shot[]>('GET', '/projects/1/shots');
  const tablet = shots.find((s) => s.name === 'Bench tablet')!;
  await api.until<PlateCheck>(`/media/${tablet.plate!.id}/check`, (c) => c.done, 300);
  await api.until<Job[]>(
    `/shots/${tablet.id}/jobs`,
    (jobs) => jobs.some((j) => j.kind === 'render' && j.state === 'done'),
    300,
  );
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const take = async (name: string): Promise<void> => {
    await page.waitForTimeout(2500);
    await sharp(await page.screenshot())
      .png({ palette: true, quality: 92, effort: 8 })
      .toFile(join(out, `${name}.png`));
    console.log(name);
  };
  await page.goto(service.address);
  await take('projects');
  await page.goto(`${service.address}/projects/1`);
  await take('shots');
  await page.goto(`${service.address}/shots/${tablet.id}/plate`);
  await take('plate');
  await page.goto(`${service.address}/shots/${tablet.id}/follow`);
  await page.getByRole('slider', { name: 'Frame' }).focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('PageDown');
  await take('follow');
  const openPage = (name: string) => page.locator('nav.pages').getByRole('button', { name }).click();
  await openPage('Points');
  await page.locator('[data-add-corners]').click();
  await page.locator('[data-run="both"]').click();
  await page.waitForTimeout(12_000);
  await page.locator('[data-point-row="top-right"] .who').click();
  await take('points');
  await openPage('Plane');
  await page.keyboard.press('Alt+3');
  await page.locator('[data-snap]').click();
  await page.waitForTimeout(3000);
  await page.getByRole('button', { name: 'Grid', exact: false }).first().click();
  await take('seat');
  await page.getByRole('button', { name: 'Check' }).click();
  await page.keyboard.press('l');
  for (let i = 0; i < 4; i++) await page.keyboard.press('>');
  await take('seat-check');
  await page.keyboard.press('l');
  for (const [step, name] of [
    ['4', 'content'],
    ['6', 'blend'],
    ['7', 'send'],
  ] as const) {
    await page.keyboard.press(`Alt+${step}`);
    await take(name);
  }
  // A screen that is off, carried by the room; and a wide lens.
  const wall = await api.call<ShotDetail>('GET', `/shots/${shots.find((s) => s.name === 'Wall screen')!.id}`);
  const hall = truthOf('wall-screen');
  await api.call('PUT', `/shots/${wall.shot.id}/document`, {
    base: wall.shot.revision,
    document: {
      ...wall.document,
      referenceFrame: hall.referenceFrame,
      corners: hall.frames[hall.referenceFrame]!.corners,
    },
  });
  await api.ended((await api.call<Job>('POST', `/shots/${wall.shot.id}/scene`)).id);
  await page.goto(`${service.address}/shots/${wall.shot.id}/follow`);
  await openPage('Room');
  await page.locator('[data-orbit]').click();
  await page.locator('[data-room]').scrollIntoViewIfNeeded();
  await take('room');
  const wide = await api.call<ShotDetail>('GET', `/shots/${shots.find((s) => s.name === 'Wide tablet')!.id}`);
  await api.call('PUT', `/shots/${wide.shot.id}/document`, {
    base: wide.shot.revision,
    document: { ...wide.document, scene: { terms: 2 } },
  });
  await api.ended((await api.call<Job>('POST', `/shots/${wide.shot.id}/scene`)).id);
  await page.goto(`${service.address}/shots/${wide.shot.id}/plate`);
  await page.locator('[data-use-lens]').click();
  await page.locator('[data-drop-lens]').scrollIntoViewIfNeeded();
  await take('lens');
  const tapped = shots.find((s) => s.name === 'Tapped tablet')!;
  await page.goto(`${service.address}/shots/${tapped.id}/send`);
  await page.getByRole('group', { name: 'Divided by' }).getByRole('button', { name: 'line' }).click();
  await page.locator('[data-make-loop]').click();
  await page.locator('[data-jump]').waitFor({ timeout: 300_000 });
  await page.locator('[data-play-loop]').scrollIntoViewIfNeeded();
  await take('loop');
  const held = shots.find((s) => s.name === 'Held phone')!;
  await api.until<Job[]>(
    `/shots/${held.id}/jobs`,
    (jobs) => jobs.some((j) => j.kind === 'follow' && j.state === 'done'),
    300,
  );
  await page.goto(`${service.address}/shots/${held.id}/front`);
  await page.getByRole('slider', { name: 'Frame' }).focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press('PageDown');
  await take('front');
  await page.locator('[data-find-marks]').click();
  await page.locator('[data-fix="3"]').waitFor();
  await page.locator('[data-fix="1"] .entry').click();
  await page.locator('[data-clean] .chosen').scrollIntoViewIfNeeded();
  await take('paint-out');
  await page.keyboard.press('Alt+4');
  await page.locator('[data-begin-board]').click();
  await page.locator('[data-key-of="position"]').click();
  for (let i = 0; i < 12; i++) await page.keyboard.press('.');
  await page.getByLabel('Down, px').fill('-300');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Add: Rounded box' }).click();
  await page.getByRole('button', { name: 'Add: Text' }).click();
  await page.getByRole('textbox', { name: 'Text', exact: true }).fill('House 2 is dry: begonias need water.');
  await page.getByRole('textbox', { name: 'Text', exact: true }).press('Tab');
  await take('board');
  // With others: contents of one track, versions with a note, and a slot as its guest sees it.
  const rendered = await api.call<Job[]>('POST', `/shots/${tablet.id}/variants/render`, {
    request: { frames: [28, 40], output: 'h264' },
  });
  for (const { id } of rendered) await api.ended(id);
  const [own] = (await api.call<ReviewVersion[]>('GET', `/shots/${tablet.id}/versions`)).slice(-1);
  const other = rendered.at(-1)!.id;
  await api.call('POST', `/shots/${tablet.id}/notes`, {
    jobId: other,
    frame: 28,
    at: [0.62, 0.44],
    author: 'Ida',
    words: 'The lower right corner: is it as soft as the bezel?',
  });
  const { secret } = await api.call<MadeSlot>('POST', `/shots/${tablet.id}/slots`, { name: 'Shop front', days: 14 });
  await page.goto(`${service.address}/shots/${tablet.id}/contents`);
  await take('contents');
  await page.goto(`${service.address}/shots/${tablet.id}/versions`);
  await page.getByRole('button', { name: 'side by side' }).click();
  await page.getByLabel('Other version').selectOption(String(own!.jobId));
  await take('versions');
  await page.goto(`${service.address}/slot/${secret}`);
  await page.getByLabel('Content', { exact: true }).setInputFiles(join(ROOT, 'demo/content/orders.png'));
  await page.locator('[data-preview]').waitFor();
  await take('slot');
} finally {
  await browser.close();
  await service.stop();
  folder.remove();
}
