import type { Page } from '@playwright/test';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Job, Media, Project, Shot } from '../core/base/schemas/types.ts';
import { ffmpeg } from '../server/test/media-files.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { canvasPixels, expect, plateView, reading, test } from './support/workspace.ts';

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
