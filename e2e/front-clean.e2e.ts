import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import { applyToPoint } from '../core/base/geometry/homography.ts';
import { UNIT_SQUARE } from '../core/base/geometry/quad.ts';
import type { Job } from '../core/base/schemas/types.ts';
import { canvasPixels, clickPlate, expect, plateView, saved, test } from './support/workspace.ts';
import { REFERENCE, SHOWN, glove, documentOf, atFrame } from './support/glove-shot.ts';

test('marks on the glove shot are found and painted out on all frames; one is brushed, patched, keyed and taken back; the cleaned plate is sent', async ({
  page,
  service,
}) => {
  test.setTimeout(300_000);
  const { api } = service;
  const { shot, truth } = await glove(api);
  const fixes = async () => {
    const { clean } = (await documentOf(api, shot.id)).look;
    return clean && clean.fixes !== 'find' ? clean.fixes : [];
  };
  const on = (frame: number, u: number, v: number) =>
    applyToPoint(homographyBetweenQuads(UNIT_SQUARE, truth.frames[frame]!.corners)!, [u, v]);
  const off = (a: number[], b: number[]) => Math.max(...a.map((v, c) => Math.abs(v - b[c]!)));
  await page.goto(`${service.address}/shots/${shot.id}/front`);
  const section = page.locator('[data-clean]');
  await section.scrollIntoViewIfNeeded();
  await expect(section).toContainText('somebody mirrored in the glass');
  await section.locator('[data-find-marks]').click();
  await expect(section.locator('[data-fix="5"]')).toBeVisible({ timeout: 120_000 });
  await saved(page);
  const found = (await fixes()).length;
  expect(found).toBeGreaterThanOrEqual(6);
  expect(found).toBeLessThanOrEqual(8);
  // On this frame and on another, with and without: where the mark was, the screen is as it is beside it.
  for (const frame of [SHOWN, REFERENCE]) {
    await atFrame(page, frame);
    const places = [on(frame, 0.25, 0.125), on(frame, 0.25, 0.19)] as const;
    const difference = async () => {
      const [a, b] = await canvasPixels(page, places);
      return off(a!, b!);
    };
    await section.getByRole('button', { name: 'cleaned' }).click();
    await expect.poll(difference, { timeout: 120_000 }).toBeLessThan(14);
    await section.getByRole('button', { name: 'plate' }).click();
    await expect.poll(difference, { timeout: 60_000 }).toBeGreaterThan(40);
  }
  // One of them taken as shown by the screen, under its glass: it goes as well.
  const at = on(REFERENCE, 0.25, 0.125);
  const near = (await fixes()).findIndex(({ shape }) =>
    shape!.points.every(([x, y]) => Math.hypot(x - at[0], y - at[1]) < 15),
  );
  await section.locator(`[data-fix="${near}"] .entry`).click();
  await section.getByRole('group', { name: 'Filled from' }).getByRole('button', { name: 'glass' }).click();
  await saved(page);
  expect((await fixes())[near]!.method).toBe('glass');
  await section.getByRole('button', { name: 'cleaned' }).click();
  await expect
    .poll(
      async () => {
        const [a, b] = await canvasPixels(page, [at, on(REFERENCE, 0.25, 0.19)]);
        return off(a!, b!);
      },
      { timeout: 120_000 },
    )
    .toBeLessThan(14);
  // A stroke of the brush over the phone's frame, filled from beside it; where it is taken from is dragged.
  await section.getByRole('button', { name: 'Brush' }).click();
  const view = await plateView(page);
  const stroke = [on(REFERENCE, 0.4, -0.04), on(REFERENCE, 0.6, -0.04)].map(([x, y]) => view.toPage(x, y));
  await page.mouse.move(stroke[0]!.x, stroke[0]!.y);
  await page.mouse.down();
  await page.mouse.move(stroke[1]!.x, stroke[1]!.y, { steps: 6 });
  await page.mouse.up();
  await expect(section.locator(`[data-fix="${found}"]`)).toBeVisible();
  await section.getByRole('group', { name: 'Filled from' }).getByRole('button', { name: 'patch' }).click();
  await saved(page);
  const from = (await fixes())[found]!.from!;
  const source = (await page.locator('[data-fix-source]').boundingBox())!;
  await page.mouse.move(source.x + source.width / 2, source.y + source.height / 2);
  await page.mouse.down();
  await page.mouse.move(source.x + source.width / 2 + 40, source.y + source.height / 2 + 30, { steps: 4 });
  await page.mouse.up();
  await saved(page);
  expect(off((await fixes())[found]!.from!, from)).toBeGreaterThan(0.05);
  // Moved on another frame, it has a key there, in the ledger too.
  await atFrame(page, REFERENCE + 4);
  await page.locator(`[aria-label="Move fix ${found + 1}"]`).focus();
  await page.keyboard.press('Shift+ArrowDown');
  await saved(page);
  expect((await fixes())[found]!.shape!.keys).toHaveLength(1);
  await expect(page.locator(`[data-key^="fixes-${found}-"]`)).toHaveCount(2);
  // Undone to the brush, step by step: key, source, filling, stroke.
  await page.locator('.ledger').focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z');
  await saved(page);
  expect(await fixes()).toHaveLength(found);
  // One drawn around nearly all of the screen is said to be too large; it can be taken away again.
  await section.getByRole('button', { name: 'Draw' }).click();
  await clickPlate(page, [
    on(REFERENCE + 4, 0.05, 0.05),
    on(REFERENCE + 4, 0.95, 0.05),
    on(REFERENCE + 4, 0.95, 0.95),
    on(REFERENCE + 4, 0.05, 0.95),
  ]);
  await page.keyboard.press('Enter');
  await expect(section.locator('[data-too-large]')).toContainText('Draw it smaller');
  await section.locator(`[data-fix="${found}"] [aria-label^="Remove"]`).click();
  await saved(page);
  expect(await fixes()).toHaveLength(found);
  // The cleaned plate as it is sent.
  const job = await api.ended(
    (
      await api.call<Job>('POST', `/shots/${shot.id}/render`, {
        frames: [SHOWN, SHOWN],
        output: 'png',
        layers: ['clean'],
      })
    ).id,
  );
  const zip = unzipSync(new Uint8Array(await api.bytes(`/jobs/${job.id}/files/${job.render!.files[0]!.name}`)));
  const sent = await sharp(Buffer.from(Object.values(zip)[0]!))
    .removeAlpha()
    .raw()
    .toBuffer();
  const pixel = ([x, y]: readonly [number, number]) => {
    const i = 3 * (Math.floor(y) * truth.width + Math.floor(x));
    return [...sent.subarray(i, i + 3)];
  };
  for (const [u, v] of [
    [0.25, 0.125],
    [0.75, 0.125],
    [0.25, 0.375],
  ] as const)
    expect(off(pixel(on(SHOWN, u, v)), pixel(on(SHOWN, u, v + 0.065)))).toBeLessThan(20);
});
