import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { psnrInside } from '../bench/psnr.ts';
import { codeToLight } from '../core/base/image/transfer.ts';
import { grownOutline } from '../core/base/geometry/grow-outline.ts';
import type { Quad } from '../core/base/geometry/quad.ts';
import type { Job, Project, Shot, ShotDocument } from '../core/base/schemas/types.ts';
import { movingDevice } from '../core/test/generated-device.ts';
import { runTool } from '../server/media/run-tool.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { canvasPixels, expect, pixelInTurn, saved, test } from './support/workspace.ts';
import { trueComposite } from './support/true-composite.ts';
import { SHOWN, laptop, lookOf, change, rendered, atFrame, type } from './support/laptop-shot.ts';

test('a laptop with a green screen: the look is measured, taken, compared with the truth, changed, and measured again', async ({
  page,
  service,
}) => {
  const goal = await trueComposite('orders-laptop', SHOWN);
  const { api } = service;
  const { shot, truth } = await laptop(api);
  const outline = truth.frames[SHOWN]!.corners;
  await page.goto(`${service.address}/shots/${shot.id}/blend`);
  const before = await lookOf(api, shot.id);
  await page.getByRole('button', { name: 'Measure the look' }).click();
  await expect(page.getByRole('button', { name: /^Take all/ })).toBeVisible({ timeout: 120_000 });
  // Nothing is changed by measuring.
  expect(await lookOf(api, shot.id)).toEqual(before);
  await expect(page.getByText("of the device's straight borders", { exact: false }).first()).toBeVisible();
  // One alone, then the rest.
  await page.getByRole('button', { name: 'Take Softness' }).click();
  await saved(page);
  const one = await lookOf(api, shot.id);
  expect(
    Object.keys(one)
      .filter((name) => !(name in before))
      .sort(),
  ).toEqual(['soften', 'why']);
  expect(Math.abs((one.soften as number) - truth.softness)).toBeLessThan(0.2);
  await page.getByRole('button', { name: /^Take all/ }).click();
  await saved(page);
  const taken = await lookOf(api, shot.id);
  expect(Object.keys(taken)).toEqual(expect.arrayContaining(['levels', 'motionBlur', 'grain', 'keys', 'spill']));
  expect(taken.why!['levels/white']!.says).toMatch(/\d+ places around the screen/);
  // The measured look is nearer to how the laptop would have looked than content as it comes; with grain off the noise does not count.
  const { width, height } = truth;
  await change(api, shot.id, (d) => ({ ...d, look: { ...d.look, grain: { ...d.look.grain!, off: true } } }));
  const measured = psnrInside(await rendered(api, shot.id, SHOWN), goal, width, height, outline);
  await change(api, shot.id, (d) => ({ ...d, look: {} }));
  const plain = psnrInside(await rendered(api, shot.id, SHOWN), goal, width, height, outline);
  expect(measured).toBeGreaterThan(plain + 6);
  expect(measured).toBeGreaterThan(24);
  // Put back what was taken, and kept to compare; a value set by hand loses its reason, the others keep theirs.
  await change(api, shot.id, (d) => ({ ...d, look: taken }));
  await page.reload();
  await atFrame(page, SHOWN);
  await page.getByRole('button', { name: 'Compare', exact: true }).click();
  await page.getByRole('button', { name: 'Keep this look to compare' }).click();
  await page.getByRole('button', { name: 'difference', exact: true }).click();
  await page.keyboard.press('Escape');
  const inside: [number, number] = [0, 1].map((axis) => outline.reduce((sum, p) => sum + p[axis]! / 4, 0)) as [
    number,
    number,
  ];
  const away: [number, number] = [20, 20];
  const greens = async (...at: [number, number][]) => (await canvasPixels(page, at)).map((p) => p[1]!);
  await expect.poll(() => greens(inside, away)).toEqual([0, 0]);
  await type(page, 'White', '0.5');
  await saved(page);
  // Eight times as large, within the screen alone.
  await expect.poll(async () => (await greens(inside))[0]!, { timeout: 90_000 }).toBeGreaterThan(100);
  expect(await greens(away)).toEqual([0]);
  await expect(page.locator('[data-altered]')).toContainText('difference from the kept look');
  // In turns: now one, now the other, as bright as each is.
  await page.locator('.ledger').focus();
  await page.keyboard.press('0');
  await page.keyboard.press('Shift+B');
  const turn = async (which: 'now' | 'other') => (await pixelInTurn(page, which, inside))[1]!;
  await expect(page.locator('[data-altered]')).toContainText('in turns with the kept look');
  await expect.poll(async () => (await turn('other')) - (await turn('now')), { timeout: 90_000 }).toBeGreaterThan(20);
  await page.keyboard.press('Shift+B');
  await page.keyboard.press('Control+z');
  await saved(page);
  await type(page, 'Soften, px', '3');
  await saved(page);
  const byHand = await lookOf(api, shot.id);
  expect(byHand.soften).toBe(3);
  expect(byHand.why!.soften).toBeUndefined();
  expect(byHand.why!['levels/white']).toBeDefined();
  // Undo brings value and reason back.
  await page.locator('.ledger').focus();
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await lookOf(api, shot.id)).why!.soften).toBeDefined();
  // Other corners: what was measured is out of date until it is measured again.
  await change(api, shot.id, (d) => ({
    ...d,
    corners: d.corners!.map(([x, y]) => [x + 3, y + 2]) as ShotDocument['corners'],
  }));
  await page.reload();
  await expect(page.getByText(/values were measured along other corners/)).toBeVisible();
  await page.getByRole('button', { name: 'Measure again' }).click();
  await expect(page.getByRole('button', { name: /^Take all/ })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('button', { name: /^Take all/ }).click();
  await expect(page.getByText(/measured along other corners/)).toHaveCount(0);
});

test('a dark laptop keeps what it mirrors', async ({ page, service }) => {
  const { api } = service;
  const frames = 12;
  const folder = temporaryFolder();
  const project = await api.call<Project>('POST', '/projects', { name: 'Dark laptop' });
  try {
    // A window's light goes over the glass of a screen that is off.
    const device = movingDevice({
      speed: 1.5,
      screen: () => 0.004,
      mirrored: (frame, u) => 0.25 * Math.exp(-(((u - 0.25 - 0.03 * frame) / 0.07) ** 2)),
    });
    const { width, height } = device(0).picture;
    const film = join(folder.path, 'dark.mkv');
    for (let f = 0; f < frames; f++)
      await sharp(device(f).picture.data as Uint8Array, { raw: { width, height, channels: 3 } })
        .png()
        .toFile(join(folder.path, `dark.${String(f).padStart(3, '0')}.png`));
    await runTool(
      'ffmpeg',
      [
        '-v',
        'error',
        '-framerate',
        '25',
        '-i',
        join(folder.path, 'dark.%03d.png'),
        '-c:v',
        'ffv1',
        '-pix_fmt',
        'bgr0',
        film,
      ],
      60_000,
    );
    const plate = (await api.bringIn(project.id, 'dark.mkv', await readFile(film))).media;
    const black = (
      await api.bringIn(
        project.id,
        'black.png',
        await sharp({ create: { width: 64, height: 48, channels: 3, background: '#000' } })
          .png()
          .toBuffer(),
      )
    ).media;
    const shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Dark laptop' });
    await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: plate.id });
    const corners = device(6, true).quad.map(([x, y]): [number, number] => [x, y]) as NonNullable<
      ShotDocument['corners']
    >;
    await change(api, shot.id, (d) => ({
      ...d,
      referenceFrame: 6,
      regions: [{ points: grownOutline(corners as Quad, 18).map(([x, y]): [number, number] => [x, y]) }],
      keepOut: [{ points: corners }],
      corners,
      contentId: black.id,
    }));
    const job = await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' });
    expect((await api.ended(job.id)).state).toBe('done');
    await page.goto(`${service.address}/shots/${shot.id}/blend`);
    await page.getByRole('button', { name: 'Measure the look' }).click();
    const proposed = page.locator('[data-part="reflections"]');
    await expect(proposed).toContainText('of the dark screen', { timeout: 120_000 });
    await page.getByRole('button', { name: /^Take all/ }).click();
    await saved(page);
    expect((await lookOf(api, shot.id)).reflections!.from).toBe('dark');
    await change(api, shot.id, (d) => ({
      ...d,
      look: { ...d.look, grain: { levels: [{ level: 0, sigma: [0, 0, 0] }], off: true } },
    }));
    // On frame 8 the window is mirrored a little left of the middle: there it lies over the black content as in the plate, and nothing elsewhere.
    const green = (pixels: Buffer, u: number) => {
      const { quad } = device(8, true);
      const [x, y] = [0, 1].map(
        (axis) => (1 - u) * ((quad[0][axis]! + quad[3][axis]!) / 2) + u * ((quad[1][axis]! + quad[2][axis]!) / 2),
      );
      return codeToLight(pixels[3 * (Math.floor(y!) * width + Math.floor(x!)) + 1]! / 255);
    };
    const kept = await rendered(api, shot.id, 8);
    const black0 = codeToLight((await lookOf(api, shot.id)).levels!.black as number);
    for (const u of [0.42, 0.49, 0.56])
      expect(green(kept, u)).toBeCloseTo(0.25 * Math.exp(-(((u - 0.49) / 0.07) ** 2)) + black0, 1);
    expect(green(kept, 0.49)).toBeGreaterThan(0.2);
    expect(green(kept, 0.85)).toBeLessThan(0.02);
    // At twice the strength there is twice as much of it; without, none.
    await page.reload();
    await type(page, 'Strength, ×', '2');
    await saved(page);
    expect((green(await rendered(api, shot.id, 8), 0.56) - black0) / (green(kept, 0.56) - black0)).toBeCloseTo(2, 0);
    await page.getByLabel('Reflections from').selectOption('none');
    await saved(page);
    expect(green(await rendered(api, shot.id, 8), 0.49)).toBeLessThan(0.02);
  } finally {
    folder.remove();
  }
});
