/** Takes docs/screenshots anew from the demo project, 1280×800. `npm run screenshots`. */
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Job, PlateCheck, Shot } from '../core/schemas/types.ts';
import { launch } from '../server/test/launched.ts';
import { Api, ROOT, temporaryFolder } from '../server/test/service.ts';
import { launchBrowser } from './support/browser.ts';

const folder = temporaryFolder(), out = join(ROOT, 'docs/screenshots');
mkdirSync(out, { recursive: true });
const service = await launch(folder.path, { demo: true });
const api = new Api(service.address);
const browser = await launchBrowser();
try {
  const shots = await api.call<Shot[]>('GET', '/projects/1/shots');
  const tablet = shots.find((s) => s.name === 'Bench tablet')!;
  await api.until<PlateCheck>(`/media/${tablet.plate!.id}/check`, (c) => c.done, 300);
  await api.until<Job[]>(`/shots/${tablet.id}/jobs`, (jobs) => jobs.some((j) => j.kind === 'render' && j.state === 'done'), 300);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const take = async (name: string): Promise<void> => {
    await page.waitForTimeout(2500);
    await sharp(await page.screenshot()).png({ palette: true, quality: 92, effort: 8 }).toFile(join(out, `${name}.png`));
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
  await page.getByRole('button', { name: 'in to out', exact: true }).click();
  await take('disagreement');
  await page.getByRole('button', { name: 'off', exact: true }).click();
  await page.getByLabel('Daylight or dim').click();
  await take('follow-dim');
  await page.getByLabel('Daylight or dim').click();
  await page.keyboard.press('Alt+3');
  await page.locator('[data-snap]').click();
  await page.waitForTimeout(3000);
  await page.getByRole('button', { name: 'Grid', exact: false }).first().click();
  await take('seat');
  await page.getByRole('button', { name: 'Drift' }).click();
  await page.locator('[data-propose]').click();
  await take('seat-drift');
  await page.getByRole('button', { name: 'Check' }).click();
  await page.keyboard.press('l');
  for (let i = 0; i < 4; i++) await page.keyboard.press('>');
  await take('seat-check');
  await page.keyboard.press('l');
  for (const [step, name] of [['4', 'content'], ['5', 'blend'], ['6', 'send']] as const) {
    await page.keyboard.press(`Alt+${step}`);
    await take(name);
  }
  await page.keyboard.press('Alt+5');
  await page.keyboard.press('b');
  await page.mouse.move(560, 330);
  await take('wipe');
  await page.keyboard.press('b');
  await page.keyboard.press('Alt+1');
  for (let i = 0; i < 6; i++) await page.keyboard.press(']');
  await page.keyboard.press('m');
  await page.mouse.move(392, 196);
  await page.mouse.down();
  await page.mouse.move(470, 214, { steps: 3 });
  await page.mouse.up();
  await take('viewing');
  await page.keyboard.press('Escape');
  await page.keyboard.press('0');
  await page.keyboard.press('Shift+?');
  await take('keys');
} finally {
  await browser.close();
  await service.stop();
  folder.remove();
}
