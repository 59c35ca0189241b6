import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { psnrInside } from '../bench/psnr.ts';
import { ROOT, temporaryFolder } from '../server/test/folders.ts';
import { shortClip } from '../server/test/prepared-shot.ts';
import { clickPlate, expect, reading, saved, test, canvasPixels, plateView } from './support/workspace.ts';
import { patchShift } from './support/patch-shift.ts';
import { trueComposite } from './support/true-composite.ts';

/**
 * The whole job on the second demo shot, from an empty state, as a person does it with mouse and keys:
 * bring in, follow, seat, content, blend, render, hand on. What comes out is read back as pixels and numbers.
 */
/** So many frames of the laptop. */
const FRAMES = 14;

test('from footage to composite and data', async ({ page, ownService: service }) => {
  const { bytes, truth } = await shortClip(FRAMES);
  const folder = temporaryFolder();
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(error.message));

  await page.goto(service.address);
  await expect(page.getByText('There is no project yet')).toBeVisible();
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Fernhollow Glasshouses');
  await page.getByRole('button', { name: 'Create' }).click();
  await page.getByRole('button', { name: 'New shot' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Orders laptop');
  await page.getByRole('button', { name: 'Create' }).click();

  // Plate: a file is chosen, its facts are shown.
  await page
    .locator('[data-file-input]')
    .setInputFiles({ name: 'orders-laptop.mp4', mimeType: 'video/mp4', buffer: bytes });
  await expect(reading(page, 'plate')).toContainText(`${FRAMES} f · 25 fps`);
  await expect(page.locator('.facts')).toContainText('h264, yuv420p');
  await page.getByRole('link', { name: 'On to Follow' }).click();

  // Follow: from frame 12, around the lid.
  await page.getByRole('slider', { name: 'Frame' }).focus();
  await page.keyboard.press('PageDown');
  for (let i = 0; i < 2; i++) await page.keyboard.press('ArrowRight');
  await expect(page.locator('.viewer')).toHaveAttribute('data-frame', '12');
  await page.keyboard.press('d');
  const [tl, tr, br, bl] = truth.frames[12]!.corners as [
    [number, number],
    [number, number],
    [number, number],
    [number, number],
  ];
  await clickPlate(page, [
    [tl[0] - 12, tl[1] - 14],
    [tr[0] + 12, tr[1] - 14],
    [br[0] + 12, br[1] + 14],
    [bl[0] - 12, bl[1] + 14],
  ]);
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-outline="regions-0"]')).toBeVisible();
  await expect(page.getByText('on frame 12 (reference)')).toBeVisible();
  await page.getByRole('button', { name: 'Both ways' }).click();
  // It is seen to run: the job's progress, and the outline on a frame that was followed meanwhile.
  await expect(page.locator('[data-job="follow"]')).toBeVisible();
  await expect(page.locator('.viewer')).not.toHaveAttribute('data-frame', '12');
  await expect(page.locator('[data-outline="regions-0"]')).toBeVisible();
  await expect(reading(page, 'follow')).toContainText(`${FRAMES} of ${FRAMES}`, { timeout: 120_000 });
  await expect(page.locator('[data-residual]')).toBeVisible();
  // When all is done the picture is back on the reference.
  await expect(page.locator('.viewer')).toHaveAttribute('data-frame', '12');
  await page.getByRole('link', { name: 'On to Seat' }).click();

  // Seat: four clicks, then exact numbers (what a magnifier and nudges come to).
  await page.getByRole('button', { name: 'Place the corners' }).click();
  await clickPlate(page, [tl, tr, br, bl]);
  await expect(page.locator('[data-surface]')).toBeVisible();
  for (const [i, name] of ['top-left', 'top-right', 'bottom-right', 'bottom-left'].entries()) {
    for (const [axis, label] of ['x', 'y'].entries()) {
      const field = page.getByLabel(`${name} ${label}, ${label}`);
      await field.fill(String(truth.frames[12]!.corners[i]![axis]));
      await field.press('Enter');
    }
  }
  await expect(page.getByLabel('top-left x, x')).toHaveValue(String(Number(tl[0].toFixed(2))));
  // A nudge by key and back by undo.
  await page.locator('[data-corner="0"]').focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByLabel('top-left x, x')).toHaveValue(String(Number((tl[0] + 10).toFixed(2))));
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('top-left x, x')).toHaveValue(String(Number(tl[0].toFixed(2))));
  // The test card rides on the track: on another frame it covers the screen's middle.
  await page.getByRole('button', { name: 'Check' }).click();
  await page.getByText('Test card on the surface').click();
  await page.getByRole('slider', { name: 'Frame' }).focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowLeft');
  await expect(page.locator('.viewer')).toHaveAttribute('data-shows', 'result');
  const middle = truth.frames[8]!.corners.reduce(([a, b], [x, y]) => [a + x / 4, b + y / 4], [0, 0]);
  await expect
    .poll(async () => {
      const [r, g, b] = (await canvasPixels(page, [[middle[0] + 3, middle[1] + 37]]))[0]!;
      return Math.max(r!, g!, b!) - Math.min(r!, g!, b!);
    })
    .toBeLessThan(40);
  await page.getByText('Test card on the surface').click();
  await page.getByRole('link', { name: 'On to Content' }).click();

  // Content.
  await page.locator('[data-file-input]').setInputFiles(join(ROOT, 'demo/content/orders.png'));
  await expect(reading(page, 'content')).toContainText('orders.png');
  await expect(page.locator('.viewer')).toHaveAttribute('data-shows', 'result', { timeout: 90_000 });
  await page.getByRole('link', { name: 'On to Front' }).click();
  await page.getByRole('link', { name: 'On to Blend' }).click();

  // Blend: the truth's own values.
  for (const [label, value] of [
    ['Black', truth.levels.black],
    ['White', truth.levels.white],
    ['Soften, px', truth.softness],
    ['Shutter, °', truth.shutter],
  ] as const) {
    await page.getByLabel(label, { exact: true }).fill(String(value));
    await page.getByLabel(label, { exact: true }).press('Enter');
  }
  await saved(page);
  await expect(reading(page, 'blend')).toContainText('blur 180°');
  await page.getByRole('link', { name: 'On to Send' }).click();

  // Send: pictures of three frames apart, and a film.
  const rendered = new Map<number, Buffer>();
  const span = async (from: number, to: number) => {
    // The end first where the beginning would pass it.
    for (const [label, value] of [
      ['to', to],
      ['From', from],
      ['to', to],
    ] as const) {
      await page.getByLabel(label, { exact: true }).fill(String(value));
      await page.getByLabel(label, { exact: true }).press('Enter');
    }
  };
  for (const frame of [4, 8, 12]) {
    await span(frame, frame);
    await page.getByLabel('Format', { exact: true }).selectOption('png');
    await page.getByRole('button', { name: 'Write pictures of 1 frames' }).click();
    const row = page.locator('[data-render="done"]', { hasText: `${frame} · done` });
    const download = page.waitForEvent('download');
    await row.locator('[data-download]').click();
    const zip = unzipSync(new Uint8Array(readFileSync(await (await download).path())));
    expect(Object.keys(zip)).toEqual([
      expect.stringMatching(new RegExp(`^orders-laptop-full-v\\d{3}\\.${String(frame).padStart(4, '0')}\\.png$`)),
    ]);
    rendered.set(frame, Buffer.from(Object.values(zip)[0]!));
  }
  for (const [frame, png] of rendered) {
    const expected = await trueComposite('orders-laptop', frame);
    const { data, info } = await sharp(png).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([640, 360]);
    const { corners } = truth.frames[frame]!;
    for (const corner of corners)
      expect(await patchShift(expected, data, 640, corner), `frame ${frame} at ${corner.join(', ')}`).toBeLessThan(1);
    expect(psnrInside(data, expected, 640, 360, corners), `frame ${frame}, dB`).toBeGreaterThan(32);
  }
  await span(4, 11);
  await page.getByLabel('Format', { exact: true }).selectOption('h264');
  await page.getByRole('button', { name: 'Write the film of 8 frames' }).click();
  const film = page.waitForEvent('download');
  await page
    .locator('[data-render="done"]', { hasText: '4–11' })
    .locator('[data-download]')
    .click({ timeout: 120_000 });
  writeFileSync(join(folder.path, 'film.mp4'), readFileSync(await (await film).path()));
  const { probe } = await import('../server/media/probe.ts');
  expect(await probe({ kind: 'clip', file: join(folder.path, 'film.mp4') })).toMatchObject({
    frames: 8,
    width: 640,
    height: 360,
    rate: [25, 1],
  });

  // Data: each file parses, and its corners are the truth's within half a pixel.
  for (const format of ['corners-csv', 'corners-json', 'homography-json']) {
    const download = page.waitForEvent('download');
    await page.getByLabel('Data format').selectOption(format);
    await expect(page.locator('[data-first-lines]')).toContainText(
      format.startsWith('corners') ? 'corners' : 'homographies',
    );
    await page.locator(`[data-export="${format}"]`).click();
    const text = readFileSync(await (await download).path(), 'utf8');
    const frames =
      format === 'corners-csv'
        ? text
            .split('\n')
            .filter((l) => /^\d/.test(l))
            .map((l) => l.split(',').map(Number))
            .map(([frame, ...c]) => ({ frame: frame!, corners: [0, 2, 4, 6].map((k) => [c[k]!, c[k + 1]!]) }))
        : (JSON.parse(text) as { frames: { frame: number; corners?: number[][] }[] }).frames;
    expect(frames).toHaveLength(FRAMES);
    for (const { frame, corners } of frames) {
      corners?.forEach(([x, y], i) => {
        const [u, v] = truth.frames[frame]!.corners[i]!;
        expect(Math.hypot(x! - u, y! - v)).toBeLessThan(0.6);
      });
    }
  }
  // The picture on the page is the one that was rendered.
  await page.getByRole('slider', { name: 'Frame' }).focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('PageDown');
  for (let i = 0; i < 2; i++) await page.keyboard.press('ArrowRight');
  await expect(page.locator('.viewer')).toHaveAttribute('data-shows', 'result');
  const points: [number, number][] = [
    [middle[0] - 30, middle[1] - 15],
    [middle[0] + 25, middle[1] + 20],
    [60, 60],
  ];
  const { data } = await sharp(rendered.get(12)).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const view = await plateView(page);
  expect(view.toPage(0, 0).x).toBeGreaterThan(0);
  await expect
    .poll(
      async () => {
        const shown = await canvasPixels(page, points);
        return Math.max(
          ...shown.map((rgb, k) => {
            const at = (Math.floor(points[k]![1]) * 640 + Math.floor(points[k]![0])) * 3;
            return Math.max(...rgb.map((v, c) => Math.abs(v - data[at + c]!)));
          }),
        );
      },
      { message: 'preview against render' },
    )
    .toBeLessThan(60);
  expect(errors).toEqual([]);
  folder.remove();
});
