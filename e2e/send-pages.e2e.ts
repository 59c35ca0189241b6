import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { patchShift } from './support/patch-shift.ts';
import type { ShotDetail, TrackRows } from '../core/base/schemas/types.ts';
import { clipPath, temporaryFolder } from '../server/test/folders.ts';
import { runTool } from '../server/media/run-tool.ts';
import { expect, saved, test } from './support/workspace.ts';
import { FRAMES, REFERENCE, laptop, change, written } from './support/sent-shot.ts';

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
