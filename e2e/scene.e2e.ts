import { applyToPoint } from '../core/base/geometry/homography.ts';
import type { SceneReply, ShotDetail, ShotDocument, TrackRows } from '../core/base/schemas/types.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { canvasPixels, clickPlate, expect, plateView, saved, test } from './support/workspace.ts';

/** Every fourth frame of the hall: the whole walk in a quarter of the time. */
const EVERY = 4;
const FOURTH = `select=not(mod(n\\,${EVERY})),setpts=N/25/TB`;
const FRAMES = 18;
const REFERENCE = 9;
const AWAY = 3;
const WIDE_FRAMES = 12;

test('a wall screen that is off, from nothing to composite: corners, the room, the plane, moved by hand and back, the content on it', async ({
  page,
  service,
}) => {
  test.setTimeout(300_000);
  const { api } = service;
  const { shot, document, truth } = await preparedShot(api, FRAMES, {
    reference: REFERENCE,
    filter: FOURTH,
    clip: 'wall-screen',
    size: 'full',
  });
  const corners = (frame: number) => truth.frames[EVERY * frame]!.corners;
  const detail = () => api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const viewer = page.locator('.viewer');
  // As a new shot is: nothing drawn.
  await api.call('PUT', `/shots/${shot.id}/document`, {
    base: (await detail()).shot.revision,
    document: { ...document, regions: [], corners: null } satisfies ShotDocument,
  });
  await page.goto(`${service.address}/shots/${shot.id}/follow`);
  await expect(viewer).toHaveAttribute('data-painted', /^0 exact/, { timeout: 60_000 });
  await page.getByRole('button', { name: /Room$/ }).click();
  await expect(page.getByText('For a screen that offers nothing')).toBeVisible();

  // The four corners, then the room.
  await page.getByRole('button', { name: 'Corners' }).click();
  await expect(viewer).toHaveAttribute('data-painted', new RegExp(`^${REFERENCE} exact`), { timeout: 60_000 });
  await clickPlate(page, corners(REFERENCE));
  await saved(page);
  await page.locator('[data-solve-scene]').click();
  await expect(page.locator('[data-scene-motion]')).toHaveText('camera moves through the room', { timeout: 180_000 });
  await expect(page.locator('[data-scene-rms]')).toHaveText(/^0\.\d\d px rms$/);
  expect(Number(await page.locator('[data-scene-points]').getAttribute('data-scene-points'))).toBeGreaterThan(40);
  await expect(page.locator('[data-holds]')).toHaveText(/^\d{2,} hold/);
  await page.locator('[data-use-scene]').click();
  await expect(page.locator('[data-scene-used]')).toBeVisible();
  await saved(page);
  const offOf = async () => {
    const { rows } = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
    const placed = (await detail()).document.corners!;
    return rows.map((row) =>
      Math.max(
        ...placed.map((c, i) => {
          const [x, y] = applyToPoint(row.homography!, c);
          const [u, v] = corners(row.frame)[i]!;
          return Math.hypot(x - u, y - v);
        }),
      ),
    );
  };
  const offs = await offOf();
  expect(offs).toHaveLength(FRAMES);
  // The corners were clicked, to a pixel of the screen.
  expect(Math.max(...offs)).toBeLessThan(3);

  // A corner dragged on another frame: the plane takes another depth; undone, it is as it was found.
  await page.locator('.ledger').focus();
  for (let i = REFERENCE; i > AWAY; i--) await page.keyboard.press('ArrowLeft');
  await expect(viewer).toHaveAttribute('data-painted', `${AWAY} exact`, { timeout: 60_000 });
  const { toPage } = await plateView(page);
  const grip = toPage(...corners(AWAY)[1]!);
  await page.mouse.move(grip.x, grip.y);
  await page.mouse.down();
  await page.mouse.move(grip.x + 9, grip.y, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText('moved by hand')).toBeVisible();
  await saved(page);
  expect((await detail()).document.scene?.normal).toHaveLength(3);
  expect((await offOf())[AWAY]!).toBeGreaterThan(offs[AWAY]! + 1);
  await page.keyboard.press('Control+z');
  await expect(page.getByText('moved by hand')).toHaveCount(0);

  // Through the points of the wall about it: a few centimetres behind, and nearly the same; undone.
  await page.locator('[data-draw-plane]').click();
  const [tl, tr, br, bl] = corners(AWAY);
  await clickPlate(page, [
    [tl![0] - 60, tl![1] - 50],
    [tr![0] + 60, tr![1] - 50],
    [br![0] + 60, br![1] + 50],
    [bl![0] - 60, bl![1] + 50],
  ]);
  await page.keyboard.press('Enter');
  await expect(page.getByText('moved by hand')).toBeVisible();
  await saved(page);
  const through = await offOf();
  expect(Math.max(...through)).toBeLessThan(25);
  expect(through).not.toEqual(offs);
  await page.locator('.ledger').focus();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('moved by hand')).toHaveCount(0);
  await expect(page.locator('[data-ground]')).toBeVisible();

  // The room from elsewhere.
  await page.locator('[data-orbit]').click();
  await expect(page.locator('[data-room]')).toHaveAttribute('data-drawn', /^\d+$/);
  expect(Number(await page.locator('[data-room]').getAttribute('data-drawn'))).toBeGreaterThan(50);

  // The content stands where the screen is, on a frame far from the reference.
  await page.goto(`${service.address}/shots/${shot.id}/content`);
  await page.locator('.ledger').focus();
  for (let i = REFERENCE; i > AWAY; i--) await page.keyboard.press('ArrowLeft');
  await expect(viewer).toHaveAttribute('data-painted', `${AWAY} exact`, { timeout: 120_000 });
  await expect(viewer).toHaveAttribute('data-shows', 'result');
  const [a, b, c, d] = corners(AWAY);
  const at = (u: number, v: number): [number, number] =>
    [0, 1].map((k) => (1 - v) * ((1 - u) * a![k]! + u * b![k]!) + v * ((1 - u) * d![k]! + u * c![k]!)) as [
      number,
      number,
    ];
  const [inside, outside] = (await canvasPixels(page, [at(0.97, 0.5), at(1.25, 0.5)])) as [number[], number[]];
  expect(inside[0]! + inside[1]! + inside[2]!).toBeGreaterThan(330);
  expect(outside.every((v, k) => Math.abs(v - outside[0]!) < 60 || k > 2)).toBe(true);

  // Undone to the beginning of it: the region again, no corners.
  const reply = await api.call<SceneReply>('GET', `/shots/${shot.id}/scene`);
  expect(reply).toMatchObject({ current: true });
  expect(reply.scene!.frames).toHaveLength(FRAMES);
});

test('a wide lens, estimated from the room and used: the follow takes it out, the content is bent as it bends, and it can be taken back', async ({
  page,
  service,
}) => {
  test.setTimeout(240_000);
  const { api } = service;
  const { shot, document, truth } = await preparedShot(api, WIDE_FRAMES, {
    reference: 0,
    filter: FOURTH,
    clip: 'wide-tablet',
    points: null,
  });
  const viewer = page.locator('.viewer');
  const detail = () => api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await api.call('PUT', `/shots/${shot.id}/document`, {
    base: (await detail()).shot.revision,
    document: { ...document, regions: [{ points: truth.region }] } satisfies ShotDocument,
  });
  await page.goto(`${service.address}/shots/${shot.id}/plate`);
  await expect(viewer).toHaveAttribute('data-painted', /^0 exact/, { timeout: 60_000 });
  await expect(page.locator('[data-lens]')).toContainText('when straight edges look bent');
  await page.locator('[data-estimate-lens]').click();
  await page.locator('[data-use-lens]').click({ timeout: 120_000 });
  // Three per cent at the corners of 480 × 270: eight and a quarter pixels.
  await expect(page.locator('[data-lens-reach]')).toHaveText(/corners by ([7-8]\.\d|9\.0) px/);
  await expect(page.locator('[data-lens-grid]')).toBeVisible();
  await saved(page);
  expect((await detail()).document.lens!.k1).toBeLessThan(-0.015);

  await page.goto(`${service.address}/shots/${shot.id}/follow`);
  await page.getByRole('button', { name: 'Both ways' }).click();
  await expect(page.locator('[data-reading="follow"]')).toContainText(`${WIDE_FRAMES} of ${WIDE_FRAMES}`, {
    timeout: 120_000,
  });
  const { rows } = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
  const placed = (await detail()).document.corners!;
  for (const row of rows)
    expect(
      Math.max(
        ...placed.map((c, i) => {
          const [x, y] = applyToPoint(row.homography!, c);
          const [u, v] = truth.frames[EVERY * row.frame]!.corners[i]!;
          return Math.hypot(x - u, y - v);
        }),
      ),
    ).toBeLessThan(0.6);

  // Across the middles of the sides, where the lens bows the edges: it is another picture with it than without.
  const bow = async () => {
    await page.goto(`${service.address}/shots/${shot.id}/content`);
    await expect(viewer).toHaveAttribute('data-painted', '0 exact', { timeout: 120_000 });
    await expect(viewer).toHaveAttribute('data-shows', 'result');
    const places = placed.flatMap(([x, y], i): [number, number][] => {
      const [u, v] = placed[(i + 1) % 4]!;
      const across: [number, number] = i % 2 === 0 ? [0, 1] : [1, 0];
      return Array.from({ length: 13 }, (_, k): [number, number] => [
        (x + u) / 2 + (k - 6) * 0.6 * across[0],
        (y + v) / 2 + (k - 6) * 0.6 * across[1],
      ]);
    });
    return (await canvasPixels(page, places)).map((rgb) => rgb.reduce((a, b) => a + b));
  };
  const bent = await bow();
  await page.goto(`${service.address}/shots/${shot.id}/plate`);
  await page.locator('[data-drop-lens]').click();
  await saved(page);
  expect((await detail()).document.lens).toBeUndefined();
  const flat = await bow();
  expect(bent.reduce((sum, v, i) => sum + Math.abs(v - flat[i]!), 0)).toBeGreaterThan(300);
});
