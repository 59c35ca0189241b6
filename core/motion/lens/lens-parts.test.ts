import { describe, expect, test } from 'vitest';
import { gaussianFrom, randomFrom } from '../../../demo/scene/random.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, invert, type Point } from '../../base/geometry/homography.ts';
import { distance, UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import { bend, straighten, type Lens } from './lens.ts';
import { lensFromLines } from './lens-from-lines.ts';
import { filmedFit, ThroughLens } from './follow-through-lens.ts';
import { IdealMotion } from './ideal-motion.ts';
import { LensSurface, lensOutline, placesOnSurface, surfaceFromPlace } from './lens-surface.ts';
import { StraightenedPicture } from './straightened-picture.ts';

const lens: Lens = { k1: -0.12, k2: 0.015, k3: 0, centre: [640, 360], focal: 1000 };

describe('a surface through a lens', () => {
  const ideal: Quad = [
    [150, 90],
    [1050, 60],
    [1180, 660],
    [90, 640],
  ];
  const quad = ideal.map((p) => bend(lens, p)) as unknown as Quad;
  const flat = homographyBetweenQuads(UNIT_SQUARE, quad)!;
  const straight = homographyBetweenQuads(UNIT_SQUARE, ideal)!;
  const back = invert(flat)!;
  test('every place of it is found where the lens films it, and the slopes are those of differences', () => {
    const surface = new LensSurface(lens, quad, null);
    const out = new Float64Array(6);
    const near = new Float64Array(6);
    const h = 1e-6;
    let worst = 0;
    let steep = 0;
    let without = 0;
    for (let s = 0; s <= 1; s += 0.05)
      for (let t = 0; t <= 1; t += 0.05) {
        const filmed = bend(lens, applyToPoint(straight, [s, t]));
        const [u, v] = applyToPoint(back, filmed);
        expect(surface.look(u, v, out)).toBe(true);
        worst = Math.max(worst, Math.abs(out[0]! - s), Math.abs(out[1]! - t));
        without = Math.max(without, distance(applyToPoint(flat, [s, t]), filmed));
        for (const [k, du, dv] of [
          [0, h, 0],
          [1, 0, h],
        ] as const) {
          surface.look(u + du, v + dv, near);
          steep = Math.max(
            steep,
            Math.abs((near[0]! - out[0]!) / h - out[2 + k]!),
            Math.abs((near[1]! - out[1]!) / h - out[4 + k]!),
          );
        }
      }
    expect(without).toBeGreaterThan(5);
    expect(worst).toBeLessThan(1e-8);
    expect(steep).toBeLessThan(1e-4);
  });
  test('a bend of its own comes after the lens', () => {
    const own = {
      look: (u: number, v: number, to: Float64Array) => {
        to.set([u + 0.1 * v * v, v, 1, 0.2 * v, 0, 1]);
        return true;
      },
    };
    const both = new LensSurface(lens, quad, own);
    const alone = new LensSurface(lens, quad, null);
    const a = new Float64Array(6);
    const b = new Float64Array(6);
    both.look(0.3, 0.6, a);
    alone.look(0.3, 0.6, b);
    expect(a[0]).toBeCloseTo(b[0]! + 0.1 * b[1]! ** 2, 12);
    expect(a[3]).toBeCloseTo(b[3]! + 0.2 * b[1]! * b[5]!, 12);
  });
  test('its outline goes through the corners and bulges between them; places lead there and back', () => {
    const outline = lensOutline(lens, quad, null);
    const there = placesOnSurface(quad, lens)!;
    const home = surfaceFromPlace(quad, lens)!;
    quad.forEach((corner) => expect(Math.min(...outline.map((p) => distance(p, corner)))).toBeLessThan(1e-6));
    expect(distance(outline[12]!, [(quad[0][0] + quad[1][0]) / 2, (quad[0][1] + quad[1][1]) / 2])).toBeGreaterThan(2);
    const [u, v] = home(there(0.2, 0.7));
    expect([u, v].map((x) => Number(x.toFixed(9)))).toEqual([0.2, 0.7]);
    expect(
      () =>
        new LensSurface(
          { ...lens, k1: -0.9, k2: 0 },
          [
            [0, 0],
            [1280, 0],
            [1280, 720],
            [0, 720],
          ],
          null,
        ),
    ).toThrow('the lens films no surface there');
  });
});

test('what was followed in straightened pictures is stated for the plate, and led back into them', () => {
  const corners: Quad = [
    [200, 150],
    [900, 170],
    [880, 600],
    [180, 580],
  ];
  const through = new ThroughLens(lens, 1280, 720);
  const moved = [1.02, 0.01, 30, -0.015, 0.99, 25, 1e-5, -2e-5, 1] as const;
  const memory = new StraightenedPicture(lens, 1280, 720);
  const ideal = through.ideal({ homography: moved }).homography;
  const filmed = filmedFit(lens, corners)({ homography: ideal }).homography!;
  // By hand: straightened about the straightened picture's own origin, moved, bent again.
  corners.forEach((c) =>
    expect(distance(applyToPoint(filmed, c), memory.toFilmed(applyToPoint(moved, memory.toStraight(c))))).toBeLessThan(
      1e-6,
    ),
  );
  const motion = IdealMotion.at(lens, corners)!;
  const plan = through.plan({
    motion: 'perspective',
    referenceFrame: 0,
    frames: [0, 5],
    direction: 'both',
    regions: [{ points: corners.map(([x, y]) => [x, y]) }],
    keepOut: [],
    known: new Map([[3, motion.ideal(filmed)]]),
  });
  corners.forEach((c) =>
    expect(
      distance(applyToPoint(plan.known!.get(3)!, memory.toStraight(c)), applyToPoint(moved, memory.toStraight(c))),
    ).toBeLessThan(1e-6),
  );
  // What a barrel leaves unfilmed is kept out, on every side.
  expect(plan.keepOut.filter((o) => o.fixed)).toHaveLength(4);
  expect(
    filmedFit({ ...lens, k1: -0.3, k2: 0 }, corners)({ homography: [1, 0, 9000, 0, 1, 0, 0, 0, 1] }),
  ).toMatchObject({ homography: null });
});

describe('distortion from lines known to be straight', () => {
  const random = randomFrom(3);
  const gauss = gaussianFrom(random);
  const lineOf = (a: Point, b: Point, noise: number) =>
    Array.from({ length: 25 }, (_, i): Point => {
      const [x, y] = bend(lens, [a[0] + ((b[0] - a[0]) * i) / 24, a[1] + ((b[1] - a[1]) * i) / 24]);
      return [x + noise * gauss(), y + noise * gauss()];
    });
  const rims: [Point, Point][] = [
    [
      [60, 40],
      [1200, 70],
    ],
    [
      [1200, 70],
      [1220, 660],
    ],
    [
      [1220, 660],
      [80, 690],
    ],
    [
      [80, 690],
      [60, 40],
    ],
    [
      [300, 100],
      [280, 600],
    ],
    [
      [100, 200],
      [1100, 180],
    ],
  ];
  test('k1 and k2 within their noise; the corners of the frame straightened to 0.3 px', () => {
    const fit = lensFromLines(
      rims.map(([a, b]) => lineOf(a, b, 0.08)),
      [640, 360],
      1000,
      2,
    )!;
    expect(fit.before).toBeGreaterThan(1);
    expect(fit.rms).toBeLessThan(0.1);
    expect(
      Math.max(
        ...(
          [
            [0, 0],
            [1280, 0],
            [1280, 720],
            [0, 720],
          ] as Point[]
        ).map((p) => distance(straighten(fit.lens, p), straighten(lens, p))),
      ),
    ).toBeLessThan(0.6);
  });
  test('a line with a bump is outvoted; too few points say nothing', () => {
    const lines = rims.map(([a, b]) => lineOf(a, b, 0.05));
    lines[0]![12] = [lines[0]![12]![0], lines[0]![12]![1] + 9];
    expect(Math.abs(lensFromLines(lines, [640, 360], 1000, 1)!.lens.k1 - -0.105)).toBeLessThan(0.02);
    expect(
      lensFromLines(
        [
          [
            [0, 0],
            [1, 1],
            [2, 2],
            [3, 3],
          ],
        ],
        [640, 360],
        1000,
      ),
    ).toBeNull();
  });
});

test('a straightened picture shows a bent grid straight, and holds all of the plate', () => {
  const width = 320;
  const height = 180;
  const small: Lens = { k1: -0.15, k2: 0, k3: 0, centre: [160, 90], focal: 250 };
  const memory = new StraightenedPicture(small, width, height);
  const codes = new Uint8Array(width * height);
  // A pattern of the straight picture, as the lens films it.
  const pattern = (x: number, y: number) => 128 + 50 * Math.sin(x / 9) + 50 * Math.cos(y / 11);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      codes[y * width + x] = Math.round(pattern(...straighten(small, [x + 0.5, y + 0.5])));
  const out = memory.luma({ width, height, codes, peak: 255 });
  expect([memory.left < 0, memory.width > width]).toEqual([true, true]);
  let worst = 0;
  for (let y = 8; y < memory.height - 8; y++)
    for (let x = 8; x < memory.width - 8; x++) {
      const [u, v] = bend(small, [x + 0.5 + memory.left, y + 0.5 + memory.top]);
      if (u > 3 && v > 3 && u < width - 3 && v < height - 3)
        worst = Math.max(
          worst,
          Math.abs(out.codes[y * memory.width + x]! - pattern(x + 0.5 + memory.left, y + 0.5 + memory.top)),
        );
    }
  expect(worst).toBeLessThan(1.6);
  expect(distance(memory.toFilmed(memory.toStraight([20, 30])), [20, 30])).toBeLessThan(1e-6);
});
