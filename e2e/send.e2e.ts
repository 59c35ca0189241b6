import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { patchShift } from './support/true-composite.ts';
import type {
  Job,
  Project,
  RenderLedger,
  Shot,
  ShotDetail,
  ShotDocument,
  TrackRows,
} from '../core/base/schemas/types.ts';
import { launch } from '../server/test/launched.ts';
import { Api } from '../server/test/api.ts';
import { clipPath, temporaryFolder } from '../server/test/folders.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { driftingTake } from '../server/test/media-files.ts';
import { runTool } from '../server/media/run-tool.ts';
import { expect, saved, test } from './support/workspace.ts';

const FRAMES = 10;
const REFERENCE = 5;

/** A shot of the laptop; how it moves is known. */
const laptop = (api: Api, size: 'full' | 'half' = 'half') =>
  preparedShot(api, FRAMES, { reference: REFERENCE, size, followed: true });
async function change(api: Api, id: number, recipe: (document: ShotDocument) => ShotDocument): Promise<void> {
  const { shot, document } = await api.call<ShotDetail>('GET', `/shots/${id}`);
  await api.call('PUT', `/shots/${id}/document`, { base: shot.revision, document: recipe(document) });
}
const states = async (api: Api, id: number) =>
  (await api.call<RenderLedger>('GET', `/shots/${id}/ledger`)).frames.map((f) => f.state);
async function written(api: Api, id: number, frame: number, layer: 'full' | 'matte'): Promise<Buffer> {
  const job = await api.ended(
    (await api.call<Job>('POST', `/shots/${id}/render`, { frames: [frame, frame], output: 'png', layers: [layer] })).id,
  );
  const zip = unzipSync(new Uint8Array(await api.bytes(`/jobs/${job.id}/files/${job.render!.files[0]!.name}`)));
  return Buffer.from(Object.values(zip)[0]!);
}

test('frames are rendered, put out of date by an edit and brought back by undo; only what is out of date is made again', async ({
  page,
  service,
}) => {
  const { shot } = await laptop(service.api);
  const { api } = service;
  await page.goto(`${service.address}/shots/${shot.id}/send`);
  await page.locator('[data-render-missing]').click();
  await expect(page.locator('[data-ledger-counts]')).toHaveText(`${FRAMES} of ${FRAMES}`, { timeout: 120_000 });
  await expect(page.locator('[data-reading="send"]')).toContainText(`${FRAMES} / ${FRAMES}`);
  // Softened on Blend: all of them are of another look now, and Send says which.
  await page.getByRole('link', { name: 'Blend' }).first().click();
  await page.getByLabel('Soften, px', { exact: true }).fill('2');
  await page.getByLabel('Soften, px', { exact: true }).press('Enter');
  await saved(page);
  await expect(page.locator('[data-reading="send"]')).toContainText(`${FRAMES} out of date`);
  await page.getByRole('link', { name: 'Send' }).first().click();
  await expect(page.locator('[data-frame-state]')).toContainText('is out of date: softness changed');
  expect(await states(api, shot.id)).toEqual(Array.from({ length: FRAMES }, () => 'stale'));
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  await expect(page.locator('[data-ledger-counts]')).toHaveText(`${FRAMES} of ${FRAMES}`);
  await page.getByRole('button', { name: 'Redo' }).click();
  await saved(page);
  // One frame of the new look, then the rest of them.
  await page.locator('[data-render-one]').click();
  await expect(page.locator('[data-render-stale]')).toHaveText(`Render ${FRAMES - 1} out of date`, {
    timeout: 120_000,
  });
  await page.locator('[data-render-stale]').click();
  await expect(page.locator('[data-ledger-counts]')).toHaveText(`${FRAMES} of ${FRAMES}`, { timeout: 120_000 });
  expect(await states(api, shot.id)).toEqual(Array.from({ length: FRAMES }, () => 'done'));
});

test('the CSS page lays the content where our render has it, to half a pixel; SVG shapes are our matte', async ({
  page,
  service,
}) => {
  const { shot, truth } = await laptop(service.api, 'full');
  const { api } = service;
  const folder = temporaryFolder();
  const frame = 8;
  const corners = truth.frames[REFERENCE]!.corners;
  const middle = [0, 1].map((k) => corners.reduce((sum, c) => sum + c[k]!, 0) / 4) as [number, number];
  await change(api, shot.id, (document) => ({
    ...document,
    look: {
      fit: 'stretch',
      shapes: [
        {
          name: 'leaf',
          points: [
            [middle[0] - 60, middle[1] - 30],
            [middle[0] + 70, middle[1] - 40],
            [middle[0] + 10, middle[1] + 50],
          ],
        },
      ],
    },
  }));
  const full = await sharp(await written(api, shot.id, frame, 'full'))
    .removeAlpha()
    .raw()
    .toBuffer();
  await mkdir(folder.path, { recursive: true });
  await page.goto(`${service.address}/shots/${shot.id}/send`);
  const save = async (format: string) => {
    await page.getByLabel('Data format').selectOption(format);
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.locator(`[data-export="${format}"]`).click(),
    ]);
    return readFile(await download.path());
  };
  const html = await save('css-html');
  const svgs = unzipSync(new Uint8Array(await save('shapes-svg')));
  await writeFile(join(folder.path, 'page.html'), html);
  await writeFile(
    join(folder.path, 'orders.png'),
    await readFile(join(import.meta.dirname, '../demo/content/orders.png')),
  );
  // The same first frames as a film that the browser plays.
  expect(
    (
      await runTool(
        'ffmpeg',
        [
          '-v',
          'error',
          '-i',
          clipPath('orders-laptop.mp4'),
          '-frames:v',
          String(FRAMES),
          '-c:v',
          'libx264',
          '-crf',
          '10',
          '-pix_fmt',
          'yuv420p',
          join(folder.path, 'orders.mp4'),
        ],
        60_000,
      )
    ).exitCode,
  ).toBe(0);
  await page.setViewportSize({ width: 1280, height: 720 });
  await page.goto(`${pathToFileURL(join(folder.path, 'page.html')).href}?frame=${frame}`);
  await page
    .locator('video')
    .evaluate(
      (film: HTMLVideoElement) =>
        new Promise<void>((done) =>
          film.readyState >= 2 ? done() : film.addEventListener('loadeddata', () => done()),
        ),
    );
  await page.addStyleTag({ content: 'video::-webkit-media-controls { display: none !important; }' });
  await page.waitForTimeout(500);
  const seen = await sharp(await page.screenshot())
    .removeAlpha()
    .raw()
    .toBuffer();
  const { rows } = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
  expect(rows).toHaveLength(FRAMES);
  for (const corner of truth.frames[frame]!.corners)
    expect(await patchShift(full, seen, 1280, corner), corner.join(', ')).toBeLessThan(0.5);

  // The shape as Chromium fills it, against what our matte leaves out of the content.
  const [name, svg] = Object.entries(svgs)[frame]!;
  expect(name).toBe('orders-laptop.0008.svg');
  await writeFile(join(folder.path, 'shape.svg'), svg);
  await page.goto(pathToFileURL(join(folder.path, 'shape.svg')).href);
  const drawn = await sharp(await page.screenshot())
    .removeAlpha()
    .raw()
    .toBuffer();
  const matte = await sharp(await written(api, shot.id, frame, 'matte'))
    .toColourspace('b-w')
    .raw()
    .toBuffer();
  const box = {
    left: Math.round(middle[0] - 90),
    right: Math.round(middle[0] + 100),
    top: Math.round(middle[1] - 60),
    bottom: Math.round(middle[1] + 65),
  };
  let sum = 0;
  let n = 0;
  let covered = 0;
  for (let y = box.top; y < box.bottom; y++)
    for (let x = box.left; x < box.right; x++, n++) {
      sum += Math.abs(drawn[3 * (y * 1280 + x)]! - (255 - matte[y * 1280 + x]!));
      if (drawn[3 * (y * 1280 + x)]! > 250) covered++;
    }
  expect(covered).toBeGreaterThan(3000);
  expect(sum / n).toBeLessThan(2);
  // And back in: the outline lies on the frame on show as it was written.
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(`${service.address}/shots/${shot.id}/front`);
  await expect(page.locator('[data-shape]')).toHaveCount(1);
  await page
    .getByLabel('Shapes from an SVG')
    .setInputFiles({ name: 'shape.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
  await expect(page.locator('[data-shape]')).toHaveCount(2);
  await saved(page);
  const taken = (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document.look.shapes![1]!;
  expect(taken).toMatchObject({ name: 'leaf', rides: 'plate' });
  expect(taken.points).toHaveLength(3);
  folder.remove();
});

test('a whole project is saved as one file and brought into an empty server', async ({ page, service }) => {
  test.setTimeout(120_000);
  const { shot, project } = await laptop(service.api);
  const folder = temporaryFolder();
  const empty = await launch(folder.path);
  await page.goto(`${service.address}/projects/${project.id}`);
  const [download] = await Promise.all([page.waitForEvent('download'), page.locator('[data-save-all]').click()]);
  expect(download.suggestedFilename()).toBe('trial.yarlop.zip');
  const bytes = await readFile(await download.path());
  await page.goto(empty.address);
  await page
    .getByLabel('A saved project')
    .setInputFiles({ name: 'trial.yarlop.zip', mimeType: 'application/zip', buffer: bytes });
  await expect(page).toHaveURL(/\/projects\/1$/);
  await page.getByRole('link', { name: 'Orders laptop' }).first().click();
  await expect(page.locator('[data-reading="follow"]')).toContainText(`${FRAMES} of ${FRAMES}`, { timeout: 120_000 });
  const id = Number(/\/shots\/(\d+)\//.exec(page.url())![1]);
  const corners = async (api: Api, of: number) => (await api.bytes(`/shots/${of}/export/corners-csv`)).toString();
  expect(await corners(new Api(empty.address), id)).toBe(await corners(service.api, shot.id));
  await empty.stop();
  folder.remove();
});

test('a loop is made and played: a dividing line is dragged and keyed, the jump is reported, the film goes round, all can be taken back', async ({
  page,
  service,
}) => {
  test.setTimeout(240_000);
  const { api } = service;
  const folder = temporaryFolder();
  const LENGTH = 26;
  const FADE = 6;
  try {
    await driftingTake(join(folder.path, 'take.mkv'), LENGTH);
    const project = await api.call<Project>('POST', '/projects', { name: 'Round and round' });
    const shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Tapped tablet' });
    const { media } = await api.bringIn(project.id, 'take.mkv', await readFile(join(folder.path, 'take.mkv')));
    await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: media.id });
    const loop = async () => (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document.loop;
    await page.goto(`${service.address}/shots/${shot.id}/send`);
    const section = page.locator('[data-loop]');
    await expect(section).toContainText('its end goes over into its beginning');
    await section.getByRole('button', { name: 'show' }).click();
    // What is finished is not there yet: it says so, and what to do.
    await section.locator('[data-make-loop]').click();
    await expect(page.getByRole('alert').first()).toContainText(/corners|content/i);
    await section.getByRole('group', { name: 'What is joined' }).getByRole('button', { name: 'plate' }).click();
    await section.getByLabel('Goes over in, frames').fill(String(FADE));
    await section.getByLabel('Goes over in, frames').press('Enter');
    await section.getByRole('group', { name: 'Divided by' }).getByRole('button', { name: 'line' }).click();
    await saved(page);
    expect(await loop()).toMatchObject({
      of: 'plate',
      fade: FADE,
      split: {
        home: 0,
        line: {
          points: [
            [160, 180],
            [160, 0],
          ],
        },
      },
    });
    // An end is dragged on the first frame, and nudged on a later one: that is a key.
    const end = page.locator('[data-split-end="1"]');
    const box = (await end.boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2 + 60, box.y + box.height / 2 + 4, { steps: 4 });
    await page.mouse.up();
    await saved(page);
    expect((await loop())!.split!.line!.points[1]![0]).toBeGreaterThan(165);
    await page.locator('.ledger').focus();
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight');
    await expect(page.locator('.viewer')).toHaveAttribute('data-frame', '3');
    await end.focus();
    await page.keyboard.press('Shift+ArrowLeft');
    await saved(page);
    expect((await loop())!.split!.line!.keys).toMatchObject([{ frame: 3 }]);
    await page.locator('.ledger').focus();
    await page.keyboard.press('Control+z');
    await saved(page);
    expect((await loop())!.split!.line!.keys).toBeUndefined();
    // Made, told, played.
    await section.locator('[data-make-loop]').click();
    await expect(section.locator('[data-loop-made="done"]')).toBeVisible({ timeout: 120_000 });
    await expect(section.locator('[data-loop-made="done"]')).toContainText(`${LENGTH - FADE} frames`);
    const told = /join: ([\d.]+) px, ([\d.]+) of 255/.exec((await section.locator('[data-jump]').textContent())!)!;
    expect(Number(told[1])).toBeLessThan(0.3);
    expect(Number(told[2])).toBeLessThan(1);
    await section.locator('[data-play-loop]').click();
    const player = page.locator('[data-loop-player]');
    await expect(player).toBeVisible();
    // It goes round: its time falls back and grows again.
    await expect
      .poll(
        () =>
          player.evaluate((video: HTMLVideoElement) => {
            const w = window as unknown as { turns?: number; last?: number };
            w.turns = (w.turns ?? 0) + (video.currentTime < (w.last ?? 0) ? 1 : 0);
            w.last = video.currentTime;
            return w.turns;
          }),
        { timeout: 30_000, intervals: [100] },
      )
      .toBeGreaterThan(1);
    expect(await player.evaluate((video: HTMLVideoElement) => Math.round(video.duration * 25))).toBe(LENGTH - FADE);
    await page.keyboard.press('Escape');
    await expect(player).toHaveCount(0);
    // By numbers: the beginning lies half through over the end, where the numbers put it.
    await section.getByRole('group', { name: 'Align' }).getByRole('button', { name: 'by hand' }).click();
    await section.locator('[data-go-join]').click();
    const ghost = page.locator('[data-ghost]');
    const left = async () => (await ghost.boundingBox())!;
    await expect(ghost).toHaveAttribute('data-ghost', String(LENGTH - 1 - FADE / 2 - (LENGTH - FADE)));
    const before = await left();
    await section.getByLabel('Right, px').fill('4');
    await section.getByLabel('Right, px').press('Enter');
    await expect.poll(async () => Math.round((320 * (before.x - (await left()).x)) / before.width)).toBe(4);
    await saved(page);
    expect((await loop())!.byHand).toEqual({ move: [4, 0], turn: 0, scale: 1 });
    await page.locator('.ledger').focus();
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect(ghost).toHaveCount(0);
  } finally {
    folder.remove();
  }
});
