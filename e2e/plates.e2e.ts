import type { Page } from '@playwright/test';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Job, Media, Project, Shot, ShotDetail } from '../core/base/schemas/types.ts';
import { ffmpeg, numberedPictures } from '../server/test/media-files.ts';
import { clipPath, temporaryFolder } from '../server/test/folders.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { canvasPixels, clickPlate, expect, plateView, reading, saved, test } from './support/bench.ts';

const folder = temporaryFolder();
test.beforeAll(() => mkdirSync(folder.path, { recursive: true }));
test.afterAll(() => folder.remove());
const at = (name: string) => join(folder.path, name);

async function emptyShot(api: {
  call<T>(m: string, p: string, b?: unknown): Promise<T>;
}): Promise<{ project: Project; shot: Shot }> {
  const project = await api.call<Project>('POST', '/projects', { name: 'Bringing in' });
  return { project, shot: await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'New' }) };
}
const viewer = '.viewer';
const frame = (page: Page) => page.locator(viewer).getAttribute('data-frame');

test('an upload shows its rate, survives a reload and goes on by itself; another is cancelled', async ({
  page,
  service,
}) => {
  const { shot, project } = await emptyShot(service.api);
  await ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=320x180:r=25:d=2',
    '-vf',
    'noise=alls=60:allf=t',
    '-c:v',
    'ffv1',
    at('noisy.mkv'),
  );
  await page.goto(`${service.address}/shots/${shot.id}/plate`);
  const network = await page.context().newCDPSession(page);
  const throttle = (bytes: number) =>
    network.send('Network.emulateNetworkConditions', {
      offline: false,
      latency: 5,
      downloadThroughput: -1,
      uploadThroughput: bytes,
    });
  await network.send('Network.enable');
  const size = readFileSync(at('noisy.mkv')).length;
  await throttle(size / 12);
  await page
    .locator('[data-file-input]')
    .first()
    .setInputFiles([at('noisy.mkv')]);
  const row = page.locator('[data-upload="noisy.mkv"]');
  await expect(row).toContainText(/B\/s, \d+ (s|min) left/);
  await expect(page.getByText(/Up to .* a file/)).toBeVisible();
  await page.reload();
  // Nobody chooses the file again.
  await expect(row).toBeVisible();
  await throttle(-1);
  await expect(page.locator('[data-facts]')).toContainText('320 × 180', { timeout: 120_000 });
  await expect(row).toHaveCount(0);
  await expect(reading(page, 'plate')).toContainText('50 f · 25 fps');

  await throttle(size / 60);
  await page
    .locator('[data-file-input]')
    .first()
    .setInputFiles({
      name: 'given-up.mkv',
      mimeType: 'video/x-matroska',
      buffer: Buffer.concat([readFileSync(at('noisy.mkv')), Buffer.from('x')]),
    });
  await page.getByLabel('Cancel given-up.mkv').click();
  await expect(page.locator('[data-upload="given-up.mkv"]')).toHaveCount(0);
  await throttle(-1);
  // The same file again is here already: it is taken without being sent.
  await page
    .locator('[data-file-input]')
    .first()
    .setInputFiles([at('noisy.mkv')]);
  await expect(page.locator('[data-pick="noisy.mkv"]')).toBeVisible({ timeout: 90_000 });
  expect((await service.api.call<Media[]>('GET', `/projects/${project.id}/media`)).map((m) => m.name)).toEqual([
    'noisy.mkv',
    'noisy.mkv',
  ]);
});

test('numbered pictures with a gap: what is missing is named, the person decides, the ledger has the plate’s numbers', async ({
  page,
  service,
}) => {
  const { shot } = await emptyShot(service.api);
  await numberedPictures(at('run'), [1015, 1016, 1020, 1021], 'bed.', { width: 64, height: 36 });
  await page.goto(`${service.address}/shots/${shot.id}/plate`);
  await page
    .locator('[data-file-input]')
    .first()
    .setInputFiles([1015, 1016, 1020, 1021].map((n) => at(`run/bed.${n}.png`)));
  await expect(page.locator('[data-gap]')).toContainText('missing 1017–1019', { timeout: 120_000 });
  await expect(reading(page, 'plate')).toContainText('pictures');
  await page.getByRole('button', { name: 'Hold the last picture' }).click();
  await expect(page.locator('[data-facts]')).toContainText('7 frames');
  await expect(page.locator('[data-note]').first()).toContainText('the last picture before is held');
  const strip = page.getByRole('slider', { name: 'Frame' });
  await expect(strip).toHaveAttribute('aria-valuenow', '1015');
  await strip.focus();
  await page.keyboard.press('End');
  await expect(strip).toHaveAttribute('aria-valuenow', '1021');
  await page.getByLabel('First frame is number').fill('1');
  await page.getByLabel('First frame is number').press('Enter');
  await expect(strip).toHaveAttribute('aria-valuenow', '7');
});

test('the check: findings go there, the proposed reference is taken by one press; corrections are asked of the file', async ({
  page,
  service,
}) => {
  const { shot, project } = await emptyShot(service.api);
  await ffmpeg(
    '-i',
    clipPath('bench-tablet.mp4'),
    '-vf',
    'trim=end_frame=24,loop=loop=1:size=1:start=9,setpts=N/25/TB',
    '-c:v',
    'libx264',
    '-crf',
    '12',
    at('repeat.mp4'),
  );
  const { media } = await service.api.bringIn(project.id, 'repeat.mp4', readFileSync(at('repeat.mp4')));
  await service.api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: media.id });
  await page.goto(`${service.address}/shots/${shot.id}/plate`);
  const finding = page.locator('[data-finding="repeat"]');
  await expect(finding).toHaveText('9 repeats 8', { timeout: 120_000 });
  await finding.click();
  await expect.poll(() => frame(page)).toBe('9');
  await page.keyboard.press('Home');
  await page.locator(viewer).click({ position: { x: 6, y: 6 } });
  await page.keyboard.press('n');
  await expect.poll(() => frame(page)).toBe('9');
  const use = page.locator('[data-use-reference]');
  const proposed = Number((await use.innerText()).replace(/\D/g, ''));
  await use.click();
  await saved(page);
  expect((await service.api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document.referenceFrame).toBe(proposed);
  await expect(page.locator('[data-check]')).toContainText('is the reference');
  await page.locator('[data-corrections] summary').click();
  // Pixels twice as wide as high: the picture is shown so, and fits.
  await page.getByLabel('Pixel shape').fill('2:1');
  await page.getByLabel('Pixel shape').press('Enter');
  await expect(page.locator('[data-facts]')).toContainText('pixels 2:1', { timeout: 120_000 });
  await expect.poll(() => shownShape(page)).toBeCloseTo((2 * 1280) / 720, 1);
  await page.getByLabel('Pixel shape').fill('1:1');
  await page.getByLabel('Pixel shape').press('Enter');
  await expect.poll(() => shownShape(page)).toBeCloseTo(1280 / 720, 1);
  await page.getByLabel('Turned').selectOption('90');
  await expect(page.locator('[data-facts]')).toContainText('720 × 1280', { timeout: 120_000 });
  await page.getByLabel('Turned').selectOption('');
  await expect(page.locator('[data-facts]')).toContainText('1280 × 720', { timeout: 120_000 });
});

/** Width over height of what is painted in the viewer's canvas. */
const shownShape = (page: Page): Promise<number> =>
  page.locator('.viewer canvas').evaluate((canvas: HTMLCanvasElement) => {
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
    const solid = (x: number, y: number) => data[4 * (y * canvas.width + x) + 3] === 255;
    const middleX = canvas.width >> 1;
    const middleY = canvas.height >> 1;
    let wide = 0;
    let high = 0;
    for (let x = 0; x < canvas.width; x++) wide += solid(x, middleY) ? 1 : 0;
    for (let y = 0; y < canvas.height; y++) high += solid(middleX, y) ? 1 : 0;
    return wide / high;
  });

test('looking: exposure, channels, border, measured square, magnifier', async ({ page, service }) => {
  const { shot, truth } = await preparedShot(service.api, 3, { reference: 1, size: 'full' });
  const job = await service.api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' });
  await service.api.ended(job.id);
  await page.goto(`${service.address}/shots/${shot.id}/plate`);
  const corners = truth.frames[1]!.corners;
  const middle: [number, number] = [
    corners.reduce((s, c) => s + c[0], 0) / 4,
    corners.reduce((s, c) => s + c[1], 0) / 4,
  ];
  await expect.poll(() => frame(page)).toBe('1');
  // The screen is green: on the red channel it is dark, three stops up it is brighter than as it is.
  await expect.poll(async () => (await canvasPixels(page, [middle]))[0]![1]).toBeGreaterThan(120);
  const [plain] = await canvasPixels(page, [middle]);
  for (let i = 0; i < 4; i++) await page.keyboard.press('[');
  await expect(page.locator('[data-altered]')).toContainText('−2.0 EV');
  // IEC 61966-2-1: two stops down is a quarter of the light.
  const quarter = (code: number) => 255 * encode(decode(code / 255) / 4);
  await expect
    .poll(async () => Math.abs((await canvasPixels(page, [middle]))[0]![1]! - quarter(plain![1]!)))
    .toBeLessThan(2);
  await page.keyboard.press('0');
  await page.keyboard.press('h');
  await expect.poll(async () => (await canvasPixels(page, [middle]))[0]).toEqual([plain![0], plain![0], plain![0]]);
  await page.locator('[data-altered]').click();
  await expect.poll(async () => (await canvasPixels(page, [middle]))[0]).toEqual(plain);

  // A square is measured in the plate's own codes.
  await page.keyboard.press('m');
  const view = await plateView(page);
  const from = view.toPage(middle[0] - 20, middle[1] - 20);
  const to = view.toPage(middle[0] + 20, middle[1] + 20);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps: 4 });
  await page.mouse.up();
  const means = (await page.locator('[data-values] tr').first().innerText()).match(/\d\.\d{3}/g)!.map(Number);
  means.forEach((mean, c) => expect(Math.abs(mean * 255 - plain![c]!)).toBeLessThan(12));
  await page.keyboard.press('Escape');

  // The border between plate and finished picture: the finished on its left, the plate on its right; moved, then turned.
  await page.keyboard.press('Alt+6');
  await page.keyboard.press('b');
  const left: [number, number] = [middle[0] - 60, middle[1]];
  const right: [number, number] = [middle[0] + 60, middle[1]];
  const handle = page.locator('[data-wipe-middle]');
  const dragTo = async (locator: typeof handle, x: number, y: number) => {
    const box = (await locator.boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(x, y, { steps: 4 });
    await page.mouse.up();
  };
  const centre = view.toPage(...middle);
  await dragTo(handle, centre.x, centre.y);
  const isPlate = ([r, g, b]: number[]) => g! > r! + 40 && g! > b! + 40;
  await expect.poll(async () => (await canvasPixels(page, [left, right])).map(isPlate)).toEqual([false, true]);
  // Turned by half: the other way round.
  await dragTo(page.locator('[data-wipe-grip]'), centre.x, centre.y + 90);
  await expect.poll(async () => (await canvasPixels(page, [left, right])).map(isPlate)).toEqual([true, false]);
  await page.keyboard.press('b');
  await expect(handle).toHaveCount(0);

  // While a corner is dragged a magnifier shows what lies under it.
  await page.keyboard.press('Alt+3');
  const corner = (await page.locator('[data-corner="0"]').boundingBox())!;
  await page.mouse.move(corner.x + corner.width / 2, corner.y + corner.height / 2);
  await page.mouse.down();
  await page.mouse.move(corner.x + corner.width / 2 + 3, corner.y + corner.height / 2 + 2, { steps: 3 });
  const glass = page.locator('[data-pointer-glass]');
  await expect(glass).toBeVisible();
  const colours = await glass
    .locator('canvas')
    .evaluate(
      (canvas: HTMLCanvasElement) =>
        new Set([
          ...new Uint32Array(canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height).data.buffer),
        ]).size,
    );
  expect(colours).toBeGreaterThan(20);
  await page.mouse.up();
  await expect(glass).toHaveCount(0);
});
const decode = (code: number): number => (code <= 0.04045 ? code / 12.92 : ((code + 0.055) / 1.055) ** 2.4);
const encode = (light: number): number => (light <= 0.0031308 ? light * 12.92 : 1.055 * light ** (1 / 2.4) - 0.055);

test('the ledger by keyboard: frames, zoom in time, in and out; single pixels are squares', async ({
  page,
  service,
}) => {
  const { shot, project } = await emptyShot(service.api);
  const { media } = await service.api.bringIn(project.id, 'orders.mp4', readFileSync(clipPath('orders-laptop.mp4')));
  await service.api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: media.id });
  await page.goto(`${service.address}/shots/${shot.id}/plate`);
  const strip = page.getByRole('slider', { name: 'Frame' });
  await expect(strip).toHaveAttribute('aria-valuemax', '79');
  await strip.focus();
  for (const [key, wanted] of [
    ['ArrowRight', '1'],
    ['Shift+ArrowRight', '11'],
    ['PageDown', '21'],
    ['End', '79'],
    ['PageUp', '69'],
    ['Home', '0'],
    ['ArrowLeft', '0'],
  ] as const) {
    await page.keyboard.press(key);
    await expect.poll(() => frame(page)).toBe(wanted);
  }
  await page.keyboard.press('Shift+ArrowRight');
  for (let i = 0; i < 6; i++) await page.keyboard.press('+');
  const across = Number(await strip.getAttribute('data-across'));
  expect(across).toBeLessThan(20);
  // A press in the middle of a frame's column goes to that frame.
  const box = (await strip.boundingBox())!;
  const from = Number(await strip.getAttribute('data-from'));
  await page.mouse.click(box.x + 84 + ((14.5 - from) / across) * (box.width - 100), box.y + 100);
  await expect.poll(() => frame(page)).toBe('14');
  await page.keyboard.press('i');
  await page.keyboard.press('End');
  for (let i = 0; i < 20; i++) await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('u');
  await saved(page);
  expect((await service.api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document.range).toEqual([14, 59]);
  await expect(reading(page, 'plate')).toContainText('46 f');
  for (let i = 0; i < 8; i++) await page.keyboard.press('-');
  await expect(strip).toHaveAttribute('data-across', '80.00');
  // Playing goes round between in and out.
  await page.locator('[data-play-rate]').click();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  const seen = new Set<number>();
  const end = Date.now() + 8000;
  while (Date.now() < end) seen.add(Number(await frame(page)));
  await page.getByRole('button', { name: 'Stop playing' }).click();
  expect(Math.min(...[...seen].filter((f) => f !== 59))).toBeGreaterThanOrEqual(14);
  expect(Math.max(...seen)).toBeLessThanOrEqual(59);
  expect(seen.size).toBeGreaterThan(10);

  // At 32 to 1 a plate pixel is a square of 32 equal ones.
  const near = (await plateView(page)).toPage(700, 560);
  await page.mouse.move(near.x, near.y);
  for (let i = 0; i < 30; i++) await page.mouse.wheel(0, -400);
  await expect(page.locator('[data-zoom]')).toHaveText('3200 %');
  await page.waitForTimeout(600);
  const runs = await page.locator(`${viewer} canvas`).evaluate((canvas: HTMLCanvasElement) => {
    const lengths: number[] = [];
    for (let y = 20; y < canvas.height; y += 40) {
      const { data } = canvas.getContext('2d')!.getImageData(0, y, canvas.width, 1);
      const row: number[] = [];
      let length = 1;
      for (let x = 1; x < canvas.width; x++) {
        if ([0, 1, 2].every((c) => data[x * 4 + c] === data[x * 4 - 4 + c])) length++;
        else {
          row.push(length);
          length = 1;
        }
      }
      lengths.push(...row.slice(1));
    }
    return lengths;
  });
  // Neighbours may have the same colour; no square is cut.
  expect(runs.every((length) => Math.abs(length / 32 - Math.round(length / 32)) < 0.05)).toBe(true);
  expect(runs.length).toBeGreaterThan(5);
});

test('the library: search, duplicate, archive, delete and undo', async ({ page, service }) => {
  const { shot, project } = await emptyShot(service.api);
  await service.api.call('PATCH', `/shots/${shot.id}`, { name: 'Glove and phone' });
  await service.api.call('POST', `/projects/${project.id}/shots`, { name: 'Wall screen' });
  await page.goto(`${service.address}/projects/${project.id}`);
  const item = (name: string) => page.locator(`[data-item="${name}"]`);
  await expect(item('Wall screen')).toContainText('no region');
  await page.getByLabel('Find a shot').fill('phone glove');
  await expect(item('Wall screen')).toHaveCount(0);
  await page.getByLabel('Duplicate Glove and phone').click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Glove again');
  await page.getByRole('button', { name: 'Duplicate', exact: true }).click();
  await page.getByLabel('Find a shot').fill('');
  await expect(item('Glove again')).toBeVisible();
  await page.getByLabel('Archive Glove again').click();
  await expect(item('Glove again')).toHaveCount(0);
  await page.getByRole('button', { name: '1 archived' }).click();
  await page.getByLabel('Bring back Glove again').click();
  await page.getByRole('button', { name: 'back', exact: true }).click();
  await page.getByLabel('Delete Glove again').click();
  await expect(item('Glove again')).toHaveCount(0);
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(item('Glove again')).toBeVisible();
});

test('clicking corners is the same through all of this', async ({ page, service }) => {
  const { shot, document } = await preparedShot(service.api, 2, { reference: 0, size: 'full' });
  await page.goto(`${service.address}/shots/${shot.id}/seat`);
  await expect(page.locator('[data-corner="0"]')).toBeVisible();
  await page.keyboard.press('p');
  await clickPlate(page, document.corners!);
  await saved(page);
  const now = (await service.api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document.corners!;
  now.forEach((c, i) =>
    expect(Math.hypot(c[0] - document.corners![i]![0], c[1] - document.corners![i]![1])).toBeLessThan(1.2),
  );
});

test('another version of the plate under the work: how it fits is said first, undone by keeping the old one', async ({
  page,
  service,
}) => {
  const { shot, project, document } = await preparedShot(service.api, 8, { reference: 6, size: 'full' });
  await ffmpeg(
    '-i',
    clipPath('orders-laptop.mp4'),
    '-vf',
    'trim=start_frame=3:end_frame=40,setpts=PTS-STARTPTS,scale=640:360',
    '-crf',
    '14',
    at('half.mp4'),
  );
  const { media } = await service.api.bringIn(project.id, 'half.mp4', readFileSync(at('half.mp4')));
  await page.goto(`${service.address}/shots/${shot.id}/plate`);
  const plateOf = async () => await service.api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const before = (await plateOf()).shot.plate!.id;
  await page.locator('[data-pick="half.mp4"]').click();
  const replace = page.locator('[data-replace]');
  await expect(replace).toContainText('frame 3 is the first of the new one, which is 0.500 times the size', {
    timeout: 90_000,
  });
  await expect(replace).toContainText('3 of 8 frames are not in the new plate');
  await replace.getByRole('button', { name: 'Keep the old one' }).click();
  expect((await plateOf()).shot.plate!.id).toBe(before);
  await page.locator('[data-pick="half.mp4"]').click();
  await replace.getByRole('button', { name: 'Replace the plate' }).click();
  await expect(page.locator('[data-facts]')).toContainText('640 × 360');
  const now = await plateOf();
  expect(now.shot.plate!.id).toBe(media.id);
  expect(now.document.referenceFrame).toBe(3);
  now.document.corners!.forEach((corner, i) =>
    corner.forEach((v, k) => expect(v).toBeCloseTo(document.corners![i]![k]! / 2, 3)),
  );
});
