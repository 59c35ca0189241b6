import { expect, test } from 'vitest';
import { compose, IDENTITY, invert, translation, type Homography } from '../../base/geometry/homography.ts';
import { ShapeMemory, shapeBetween, sizeOfChange } from './shape-prior.ts';

/** The region is 200 px wide about (150, 100). */
const UNIT: Homography = [0.01, 0, -1.5, 0, 0.01, -1, 0, 0, 1];
const inUnit = (warp: Homography): Homography => compose(invert(UNIT)!, warp, UNIT);
const turned = (angle: number, size: number): Homography => [
  size * Math.cos(angle),
  -size * Math.sin(angle),
  0,
  size * Math.sin(angle),
  size * Math.cos(angle),
  0,
  0,
  0,
  1,
];
/** Each frame a little more foreshortened, and moving. */
const orbit = (frame: number): Homography =>
  compose(translation(0.5 * frame, 0), inUnit([1, 0, 0, 0, 1, 0, 0.004 * frame, 0, 1]));

test('turns, sizes and shifts are no change of shape; stretch and foreshortening are', () => {
  for (const warp of [turned(0.6, 1.3), translation(40, -9)])
    for (const part of shapeBetween(IDENTITY, inUnit(warp), UNIT)!) expect(part).toBeCloseTo(0, 9);
  expect(shapeBetween(IDENTITY, inUnit([1.02, 0, 0, 0, 0.98, 0, 0.01, 0, 1]), UNIT)).toEqual([
    expect.closeTo(0.04, 3),
    expect.closeTo(0, 9),
    expect.closeTo(0.01, 9),
    expect.closeTo(0, 9),
  ]);
  expect(sizeOfChange([0.04, 0, 0.01, 0], { shape: 0.02, perspective: 0.01 })).toBe(2);
});

test('a trend is expected to go on', () => {
  const memory = new ShapeMemory(UNIT);
  const earlier = [9, 8, 7, 6, 5].map(orbit);
  const { expected } = memory.expect(orbit(9), { earlier, gap: 1 });
  expect(shapeBetween(orbit(10), expected, UNIT)![2]).toBeCloseTo(0, 3);
  expect(shapeBetween(orbit(9), expected, UNIT)![2]).toBeGreaterThan(0.003);
});

test('between two neighbours the middle is expected', () => {
  const { expected } = new ShapeMemory(UNIT).expect(orbit(10), { earlier: [orbit(9)], gap: 1, later: orbit(11) });
  expect(shapeBetween(orbit(10), expected, UNIT)![2]).toBeCloseTo(0, 3);
});

test('a quiet shot narrows what is expected, but one surprise does not widen it at will', () => {
  const memory = new ShapeMemory(UNIT);
  const still = [IDENTITY, IDENTITY, IDENTITY, IDENTITY, IDENTITY];
  const tolerance = () => memory.expect(IDENTITY, { earlier: still, gap: 1 }).tolerance.perspective;
  const first = tolerance();
  for (let i = 0; i < 20; i++) memory.learn(IDENTITY, still);
  const quiet = tolerance();
  expect(quiet).toBeLessThan(first / 2);
  memory.learn(inUnit([1, 0, 0, 0, 1, 0, 0.5, 0, 1]), still);
  expect(tolerance()).toBeLessThan(2 * quiet);
});

test('what moves fast may change faster, what was long lost in any way; a written state comes back', () => {
  const memory = new ShapeMemory(UNIT);
  const earlier = [IDENTITY];
  const slow = memory.expect(translation(1, 0), { earlier, gap: 1 }).tolerance;
  const fast = memory.expect(translation(120, 0), { earlier, gap: 1 }).tolerance;
  expect(fast.perspective).toBeGreaterThan(slow.perspective + 0.03);
  expect(memory.expect(IDENTITY, { earlier, gap: 9 }).tolerance.shape).toBeGreaterThan(0.2);
  memory.learn(IDENTITY, earlier);
  const other = new ShapeMemory(UNIT);
  other.restore(memory.state());
  expect(other.expect(IDENTITY, { earlier, gap: 1 })).toEqual(memory.expect(IDENTITY, { earlier, gap: 1 }));
});
