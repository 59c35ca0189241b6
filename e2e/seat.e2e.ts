import type { Page } from '@playwright/test';
import type { Quad } from '../core/base/geometry/quad.ts';
import type { Job, ShotDetail, ShotDocument } from '../core/base/schemas/types.ts';
import { roughly } from '../bench/seat/drawn-surface.ts';
import { openPool } from '../server/database/connection.ts';
import { plantDrift } from '../server/test/plant-drift.ts';
import type { Api } from '../server/test/api.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { expect, reading, saved, test } from './support/workspace.ts';

const FRAMES = 24;
const REFERENCE = 6;
/** Up to 2.5 px at the end, one corner more, and a jump of one frame. */
const drift = (frame: number, corner: number): [number, number] => [
  0.12 * (frame - REFERENCE) + (frame === 11 ? 1 : 0),
  corner === 1 ? 0.08 * (frame - REFERENCE) : 0,
];

/** Worst corner of what is handed on, px. */
async function worst(
  api: Api,
  shotId: number,
  truth: { frames: { corners: readonly (readonly number[])[] }[] },
): Promise<number> {
  const text = (await api.bytes(`/shots/${shotId}/export/corners-csv`)).toString();
  const rows = text
    .split('\n')
    .filter((l) => /^\d/.test(l))
    .map((l) => l.split(',').map(Number));
  expect(rows).toHaveLength(FRAMES);
  return Math.max(
    ...rows.map(([frame, ...c]) =>
      Math.max(...truth.frames[frame!]!.corners.map(([x, y], i) => Math.hypot(c[2 * i]! - x!, c[2 * i + 1]! - y!))),
    ),
  );
}
/** Mean brightness of a canvas's part, as drawn. */
const brightness = (page: Page, canvas: string, box: [number, number, number, number]) =>
  page
    .locator(canvas)
    .first()
    .evaluate((element: HTMLCanvasElement, [x, y, w, h]) => {
      const { data } = element
        .getContext('2d')!
        .getImageData(x * devicePixelRatio, y * devicePixelRatio, w * devicePixelRatio, h * devicePixelRatio);
      let sum = 0;
      for (let i = 0; i < data.length; i += 4) sum += data[i]! + data[i + 1]! + data[i + 2]!;
      return sum / (data.length / 4) / 3;
    }, box);

test('rough corners are snapped; a planted drift is seen in the slices and mended in under ten actions; undone all the way', async ({
  page,
  service,
}) => {
  const { api } = service;
  const { shot, document, truth } = await preparedShot(api, FRAMES, { reference: REFERENCE });
  const documentNow = async (): Promise<ShotDocument> =>
    (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document;
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  const exact = document.corners as unknown as Quad;
  const db = openPool(service.database, 1);
  await plantDrift(db, shot.id, exact, drift);
  await db.end();
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const rough = roughly(exact, 8).map(([x, y]) => [x, y]) as unknown as ShotDocument['corners'];
  await api.call('PUT', `/shots/${shot.id}/document`, {
    base: detail.shot.revision,
    document: { ...detail.document, corners: rough },
  });

  await page.goto(`${service.address}/shots/${shot.id}/seat`);
  await expect(page.locator('.viewer')).toHaveAttribute('data-painted', new RegExp(`^${REFERENCE} `));
  await expect(page.locator('[data-glass]')).toHaveCount(4);
  let actions = 0;
  const act = async (does: () => Promise<void>) => {
    actions++;
    await does();
  };
  // 1: the corners go onto the borders, and every side says how sure it is.
  await act(() => page.locator('[data-snap]').click());
  await expect(page.locator('[data-snapped] .sure')).toHaveCount(4);
  await saved(page);
  const snapped = (await documentNow()).corners!;
  snapped.forEach(([x, y], i) => expect(Math.hypot(x - exact[i]![0], y - exact[i]![1])).toBeLessThan(0.35));
  // 2, 3: the drift page, and a look at all frames; the slices come under the picture and the rail says how far off it is.
  await act(() => page.getByRole('button', { name: 'Drift' }).click());
  await act(() => page.locator('[data-measure]').click());
  await expect(page.locator('[data-slices]')).toHaveAttribute('data-slices-frames', String(FRAMES), {
    timeout: 120_000,
  });
  await expect(page.locator('[data-off]')).toContainText(/\d+ of 24 frames over 0.25 px/);
  await expect(reading(page, 'seat')).toContainText(/±[01]\.\d+ px/);
  await expect(page.locator('.worst tr').first()).toContainText(/frame 23.*[12]\.\d\d px/);
  // A strip shows the bright screen below its middle and the dark frame above it.
  const strips = (await page.locator('[data-slices] canvas').boundingBox())!;
  const first = 84 + (strips.width - 100) * ((REFERENCE + 0.5) / FRAMES);
  await expect.poll(() => brightness(page, '[data-slices] canvas', [first - 4, 20, 8, 8])).toBeGreaterThan(120);
  expect(await brightness(page, '[data-slices] canvas', [first - 4, 3, 8, 8])).toBeLessThan(90);
  // A press in a strip goes to the frame.
  await page.mouse.click(strips.x + 84 + (strips.width - 100) * (20.5 / FRAMES), strips.y + 40);
  await expect(page.locator('.viewer')).toHaveAttribute('data-frame', '20');
  // 4, 5: the fewest keys are proposed, shown with what they come to, and taken.
  await act(() => page.locator('[data-propose]').click());
  await expect(page.locator('[data-proposal]')).toContainText(/worst corner\s*\d\.\d\d\s*0\.\d\d px/);
  await expect(page.locator('.notice')).toContainText([/Frame 11 jumps by \d\.\d px and comes back/]);
  await act(() => page.locator('[data-take]').click());
  await saved(page);
  expect(actions).toBeLessThan(10);
  const { corrections } = await documentNow();
  expect(new Set(corrections!.filter((c) => c.ease !== 'single').map((c) => c.frame)).size).toBeLessThanOrEqual(4);
  expect(corrections!.filter((c) => c.ease === 'single').every((c) => c.frame === 11)).toBe(true);
  await expect(page.locator('[data-off]')).toContainText('none over 0.25 px');
  await expect(reading(page, 'seat')).toContainText(/±0\.\d+ px\s*\d fixes/);
  expect(await worst(api, shot.id, truth)).toBeLessThan(0.45);

  // Over the slices each fix stands at its frame, and is moved in time there.
  const keyed = [...new Set(corrections!.map((c) => c.frame))];
  const last = keyed.at(-1)!;
  await expect(page.locator('[data-slice-fix]')).toHaveCount(keyed.length);
  await page.locator(`[data-slice-fix="${last}"]`).focus();
  await page.keyboard.press('ArrowLeft');
  await saved(page);
  expect((await documentNow()).corrections!.at(-1)!.frame).toBe(last - 1);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await documentNow()).corrections).toEqual(corrections);

  // Fixes are shown one by one; without them it is as the track has it.
  const corner = () => page.locator('[data-corner="1"]').getAttribute('transform');
  const withFixes = await corner();
  await page.keyboard.press('y');
  await expect.poll(corner).not.toBe(withFixes);
  await page.keyboard.press('y');
  await expect.poll(corner).toBe(withFixes);

  // The test card lies on it, the surface can be laid flat, corners stand beside the reference's.
  await page.getByRole('button', { name: 'Check' }).click();
  await page.getByRole('button', { name: 'numbers', exact: true }).click();
  await expect(page.locator('.viewer')).toHaveAttribute('data-shows', 'result');
  await expect(page.locator('[data-compare] canvas')).toHaveCount(8);
  const pair = (side: number) =>
    page
      .locator('[data-compare] .pair')
      .nth(1)
      .locator('canvas')
      .nth(side)
      .evaluate((c: HTMLCanvasElement) => [...c.getContext('2d')!.getImageData(0, 0, c.width, c.height).data]);
  // The same corner on both: alike to a few codes in the mean.
  await expect
    .poll(async () => {
      const [then, now] = [await pair(0), await pair(1)];
      return then.some((v) => v > 60)
        ? then.reduce((sum, v, i) => sum + Math.abs(v - now[i]!), 0) / then.length
        : Infinity;
    })
    .toBeLessThan(9);
  await page.keyboard.press('l');
  await expect(page.locator('[data-flat]')).toHaveAttribute('data-flat-frame', '20');
  expect(await brightness(page, '[data-flat] canvas', [100, 80, 40, 40])).toBeGreaterThan(60);
  await page.keyboard.press('l');

  // Locked in place of the fixes; then all of it is undone.
  await page.getByRole('button', { name: 'Drift' }).click();
  for (const fix of [...new Set(corrections!.map((c) => c.frame))])
    await page.getByRole('button', { name: `Remove the fix of frame ${fix}`, exact: true }).click();
  await page.getByText('Corners where the borders are, on every frame').click();
  await saved(page);
  expect(await documentNow()).toMatchObject({ lock: true });
  expect((await documentNow()).corrections).toBeUndefined();
  expect(await worst(api, shot.id, truth)).toBeLessThan(0.35);
  await expect(reading(page, 'seat')).toContainText('locked');
  const undo = page.getByRole('button', { name: 'Undo' });
  while (await undo.isEnabled()) await undo.click();
  await saved(page);
  expect(await documentNow()).toEqual({ ...detail.document, corners: rough });
});
