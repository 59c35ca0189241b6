import type { Page } from '@playwright/test';
import type { Quad } from '../core/base/geometry/quad.ts';
import type { Job, ShotDetail, ShotDocument } from '../core/base/schemas/types.ts';
import { roughly } from '../bench/seat/drawn-surface.ts';
import { openPool } from '../server/database/connection.ts';
import { plantDrift } from '../server/test/plant-drift.ts';
import type { Api } from '../server/test/api.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { expect, plateView, reading, saved, test } from './support/bench.ts';

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
  const { shot, document, truth } = await preparedShot(api, FRAMES, { reference: REFERENCE, size: 'full' });
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

test('sides, the whole and its turn are moved by hand; a fix is keyed where it is made; matching answers for each corner', async ({
  page,
  service,
}) => {
  const { api } = service;
  const { shot, document } = await preparedShot(api, 8, { reference: 2, size: 'full' });
  const documentNow = async (): Promise<ShotDocument> =>
    (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document;
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  await page.goto(`${service.address}/shots/${shot.id}/seat`);
  await expect(page.locator('[data-part="4"]')).toBeVisible();
  const exact = document.corners!;
  // A side by key: outward by one pixel, along its normal.
  await page.locator('[data-part="4"]').focus();
  await page.keyboard.press('ArrowUp');
  await saved(page);
  let now = (await documentNow()).corners!;
  expect(now[0][1]).toBeCloseTo(exact[0][1] - 1, 1);
  expect(now[3]).toEqual(exact[3]);
  await page.keyboard.press('Control+z');
  // All of it, dragged; the handle over the tab turns it about its middle.
  const drag = async (part: number, dx: number, dy: number, steps = 12) => {
    const box = (await page.locator(`[data-part="${part}"] ${part === 9 ? 'circle.grip' : '.hit'}`).boundingBox())!;
    const x = box.x + box.width / 2;
    const y = box.y + box.height / 2;
    await page.mouse.move(x, y);
    await page.mouse.down();
    for (let i = 1; i <= steps; i++) await page.mouse.move(x + (dx * i) / steps, y + (dy * i) / steps);
    await page.mouse.up();
    await saved(page);
  };
  const view = await plateView(page);
  const scale = view.toPage(1, 0).x - view.toPage(0, 0).x;
  await drag(8, 10, 6);
  now = (await documentNow()).corners!;
  now.forEach(([x, y], i) => {
    expect(x).toBeCloseTo(exact[i]![0] + 10 / scale, 0);
    expect(y).toBeCloseTo(exact[i]![1] + 6 / scale, 0);
  });
  await page.keyboard.press('Control+z');
  await drag(9, 20, 0);
  now = (await documentNow()).corners!;
  expect(Math.atan2(now[1][1] - now[0][1], now[1][0] - now[0][0])).toBeGreaterThan(
    Math.atan2(exact[1][1] - exact[0][1], exact[1][0] - exact[0][0]) + 0.03,
  );
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await documentNow()).corners).toEqual(exact);

  // On another frame, as a fix: the corners stay, the key lies on that frame.
  await page.keyboard.press('.');
  await page.keyboard.press('.');
  await page.getByRole('button', { name: 'a fix here' }).click();
  await page.locator('[data-corner="0"]').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('ArrowDown');
  await saved(page);
  expect(await documentNow()).toMatchObject({ corners: exact, corrections: [{ frame: 4, corner: 0 }] });
  const { dx, dy } = (await documentNow()).corrections![0]!;
  expect(Math.hypot(dx - 0.1, dy - 1)).toBeLessThan(0.15);
  // Matched to the reference, the corner goes back to where it belongs, or is left alone with the reason.
  await page.getByRole('button', { name: 'Drift' }).click();
  await page.locator('[data-match]').click();
  await expect(page.locator('.answers li')).toHaveCount(1);
  await expect(page.locator('.answers li')).toContainText(/moved [01]\.\d\d px|left alone/);
  await page.getByRole('button', { name: 'Mute the fix of frame 4' }).click();
  await saved(page);
  expect((await documentNow()).corrections!.every((c) => c.muted)).toBe(true);
  // Content turned by a quarter, and back by undo.
  await page.getByLabel('Seat', { exact: true }).getByRole('button', { name: 'Set' }).click();
  await page.getByRole('button', { name: 'quarter turn' }).click();
  await saved(page);
  expect((await documentNow()).corners![0]).toEqual(exact[1]);
});

test('a drag of a corner, with fixes and slices shown, is painted at 30 frames a second and never blocks', async ({
  page,
  service,
}) => {
  const { api } = service;
  const { shot } = await preparedShot(api, 16, { reference: 4, size: 'full' });
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  await page.goto(`${service.address}/shots/${shot.id}/seat`);
  await page.getByRole('button', { name: 'Drift' }).click();
  await page.locator('[data-measure]').click();
  await expect(page.locator('[data-slices]')).toHaveAttribute('data-slices-frames', '16', { timeout: 120_000 });
  await page.waitForTimeout(1500);
  const handle = page.locator('[data-corner="2"]');
  const box = (await handle.boundingBox())!;
  const x = box.x + box.width / 2;
  const y = box.y + box.height / 2;
  await page.mouse.move(x, y);
  await page.mouse.down();
  // Moves come from within the page, one for every frame that the browser paints, as a hand's do.
  const { painted, places, seconds } = await handle.evaluate(
    (element, [fromX, fromY]) =>
      new Promise<{ painted: number; places: number; seconds: number }>((resolve) => {
        const begun = performance.now();
        const seen = new Set<string | null>();
        let frames = 0;
        const step = () => {
          frames++;
          seen.add(element.getAttribute('transform'));
          const t = performance.now() - begun;
          if (t > 2000) return resolve({ painted: frames, places: seen.size, seconds: t / 1000 });
          element.dispatchEvent(
            new PointerEvent('pointermove', {
              bubbles: true,
              pointerId: 1,
              clientX: fromX! + 6 * Math.sin(t / 150),
              clientY: fromY! + 4 * Math.cos(t / 130),
            }),
          );
          return requestAnimationFrame(step);
        };
        requestAnimationFrame(step);
      }),
    [x, y],
  );
  await page.mouse.up();
  // How fast this machine is is measured by `npm run bench:riding`; here it is that every painted frame shows a new place of the corner.
  console.log(`dragging: ${(painted / seconds).toFixed(0)} frames a second`);
  expect(places).toBeGreaterThan(0.6 * painted);
  expect(painted).toBeGreaterThan(10);
});
