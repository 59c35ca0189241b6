import { expect, test } from 'vitest';
import {
  applyToPoint,
  compose,
  IDENTITY,
  translation,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { kernels } from '../../base/kernels/index.ts';
import { createPlane, type Plane } from '../../base/image/plane.ts';
import { picturesOf } from '../../test/follow-memory.ts';
import { textureAt } from '../../test/moving-plate.ts';
import { createScratch } from './align-level.ts';
import { NO_MOTION, blurTemplate } from './motion-blurred-template.ts';
import { correlationAt, searchRegion, type SearchRange } from './region-search.ts';
import { buildTemplate, homographyAtLevel, homographyFromLevel, type Template } from './template.ts';

const W = 320;
const H = 240;
const MIDDLE: Point = [110, 90];
/** A card of texture, laid on plain grey by a map from where it lies on the reference. */
function scene(map: Homography): Plane {
  const plane = createPlane(W, H);
  const [a, b, c, d, e, f] = map as [number, number, number, number, number, number];
  const det = a * e - b * d;
  for (let j = 0; j < H; j++) {
    for (let i = 0; i < W; i++) {
      const u = i + 0.5 - c;
      const v = j + 0.5 - f;
      const x = (e * u - b * v) / det;
      const y = (a * v - d * u) / det;
      plane.data[j * W + i] =
        x > 60 && x < 160 && y > 50 && y < 130
          ? textureAt(2 * x, 2 * y, 7)
          : 0.5 + 0.04 * Math.sin(i / 9) * Math.cos(j / 7);
    }
  }
  return plane;
}
const turned = (angle: number, size: number, dx: number, dy: number): Homography =>
  compose(
    translation(MIDDLE[0] + dx, MIDDLE[1] + dy),
    [size * Math.cos(angle), -size * Math.sin(angle), 0, size * Math.sin(angle), size * Math.cos(angle), 0, 0, 0, 1],
    translation(-MIDDLE[0], -MIDDLE[1]),
  );

/** Searches level `index` for the card; where its middle is found, px of the full picture, and how alike. */
function find(truth: Homography, range: SearchRange, index: number): { at: Point; correlation: number }[] {
  const [reference, picture] = picturesOf([scene(IDENTITY), scene(truth)], kernels());
  const mask = new Uint8Array(W * H);
  for (let y = 50; y < 130; y++) mask.fill(1, y * W + 60, y * W + 160);
  const level = (buildTemplate(reference!, mask) as Template).levels[index]!;
  const s = createScratch(reference!.set, level);
  blurTemplate(reference!.set, level, homographyAtLevel(IDENTITY, level.level), NO_MOTION, 0.5, s.blurred);
  return searchRegion(level, picture!, homographyAtLevel(IDENTITY, level.level), range, 3, s).map(
    ({ homography, correlation }) => ({
      at: applyToPoint(homographyFromLevel(homography, level.level), MIDDLE),
      correlation,
    }),
  );
}
const distance = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]);

test('a shift within reach is found to a sample of the level, the best place first', () => {
  const found = find(translation(37, -22), { reach: 12, turns: [0], scales: [1] }, 2);
  expect(distance(found[0]!.at, [147, 68])).toBeLessThan(4);
  expect(found[0]!.correlation).toBeGreaterThan(0.85);
  for (const other of found.slice(1)) expect(other.correlation).toBeLessThan(found[0]!.correlation);
});

test('out of reach it is not found; with the whole picture to look at it is', () => {
  const truth = translation(140, 80);
  expect(distance(find(truth, { reach: 6, turns: [0], scales: [1] }, 2)[0]?.at ?? MIDDLE, [250, 170])).toBeGreaterThan(
    40,
  );
  expect(distance(find(truth, { reach: Infinity, turns: [0], scales: [1] }, 2)[0]!.at, [250, 170])).toBeLessThan(4);
});

test('a turn and another size are found among those tried', () => {
  const found = find(turned(0.52, 1.2, 20, 12), { reach: 12, turns: [-0.52, 0, 0.52], scales: [0.85, 1, 1.2] }, 2);
  expect(distance(found[0]!.at, [130, 102])).toBeLessThan(5);
  expect(find(turned(0.52, 1.2, 20, 12), { reach: 12, turns: [0], scales: [1] }, 2)[0]?.correlation ?? 0).toBeLessThan(
    found[0]!.correlation - 0.2,
  );
});

test('what lies mostly outside the picture resembles nothing', () => {
  const [reference] = picturesOf([scene(IDENTITY)], kernels());
  const mask = new Uint8Array(W * H);
  for (let y = 50; y < 130; y++) mask.fill(1, y * W + 60, y * W + 160);
  const level = (buildTemplate(reference!, mask) as Template).levels[0]!;
  const s = createScratch(reference!.set, level);
  blurTemplate(reference!.set, level, homographyAtLevel(IDENTITY, level.level), NO_MOTION, 0.5, s.blurred);
  expect(correlationAt(level, reference!, IDENTITY, s)).toBeGreaterThan(0.99);
  expect(correlationAt(level, reference!, translation(-150, 0), s)).toBe(0);
});
