import { describe, expect, test } from 'vitest';
import {
  cornerPoints,
  drawnFrames,
  offTruth,
  runPoints,
  screenAt,
  withGlare,
} from '../../../bench/points/drawn-corners.ts';
import { motionOfPoints, pointsFrom, quadOfPoints } from './points-track.ts';
import type { PointFit } from './point-plan.ts';

const COUNT = 10;
const frames = drawnFrames(COUNT);
const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
const all = (found: ReadonlyMap<number, Parameters<typeof offTruth>[0]>) => [...found.values()].flatMap(offTruth);

describe('four points carried by their plane', () => {
  test('hold to a fraction of a pixel, forward and backward, within what they state', async () => {
    const { found } = await runPoints(frames, { points: cornerPoints(4), referenceFrame: 4 });
    expect([...found.keys()].sort((a, b) => a - b)).toEqual([0, 1, 2, 3, 5, 6, 7, 8, 9]);
    expect(mean(all(found))).toBeLessThan(0.06);
    expect(Math.max(...all(found))).toBeLessThan(0.25);
    for (const frame of found.values())
      frame.points.forEach((p, i) => expect(offTruth(frame)[i]).toBeLessThan(p!.bound));
  });
  test('far better than patterns that only move', async () => {
    const plane = await runPoints(frames, { points: cornerPoints(0) });
    const plain = await runPoints(frames, { points: cornerPoints(0, { shape: 'translation' }) });
    expect(mean(all(plane.found))).toBeLessThan(0.4 * mean(all(plain.found)));
  });
  test('only some of them, one way, to a frame: the rest is left as it is known', async () => {
    const points = cornerPoints(0);
    const known = new Map(
      [1, 2, 3].map((f) => [
        f,
        screenAt(f).map((at): PointFit => ({ at, how: 'hand', score: 1, bound: 0.1, light: false })),
      ]),
    );
    known.forEach((row) => (row[2] = null as never));
    const { found } = await runPoints(frames, { points, active: [2], known, frames: [0, 3], direction: 'forward' });
    expect([...found.keys()]).toEqual([1, 2, 3]);
    for (const frame of found.values()) {
      expect(frame.points[0]!.how).toBe('hand');
      expect(frame.points[2]!.how).toBe('matched');
      expect(offTruth(frame)[2]).toBeLessThan(0.2);
    }
  });
  test('one of them hidden is reckoned from the others and the border between them, and taken up again', async () => {
    const covered = drawnFrames(COUNT, (f) =>
      f >= 4 && f <= 6 ? { cover: [{ at: screenAt(f)[2], radius: 26, light: 0.07 }] } : {},
    );
    const { found } = await runPoints(covered, { points: cornerPoints(0) });
    expect([3, 4, 5, 6, 7].map((f) => found.get(f)!.points[2]!.how)).toEqual([
      'matched',
      'reckoned',
      'reckoned',
      'reckoned',
      'matched',
    ]);
    expect(Math.max(...[4, 5, 6].map((f) => offTruth(found.get(f)!)[2]!))).toBeLessThan(0.4);
    expect(found.get(5)!.why[2]).toMatch(/bottom-right/);
    expect(found.get(5)!.points[2]!.note).toMatch(/reckoned from the border between the points/);
  });
  test.each([
    ['as it was', {}],
    ['something else', { pattern: (x: number, y: number) => 0.1 * Math.sin(x / 3) * Math.cos(y / 4) }],
  ])('two of them hidden are where the border between all says, while the screen shows %s', async (_, shows) => {
    const covered = drawnFrames(COUNT, (f) =>
      f >= 4 && f <= 6
        ? { cover: [0, 2].map((k) => ({ at: screenAt(f)[k]!, radius: 22, light: 0.07 })), ...shows }
        : {},
    );
    const { found } = await runPoints(covered, { points: cornerPoints(0) });
    for (const f of [4, 5, 6]) {
      expect([0, 2].map((k) => found.get(f)!.points[k]!.how)).toEqual(['reckoned', 'reckoned']);
      offTruth(found.get(f)!).forEach((off, k) =>
        expect(off, `${f}/${k}`).toBeLessThan(found.get(f)!.points[k]!.bound),
      );
      expect(Math.max(...offTruth(found.get(f)!))).toBeLessThan(0.6);
      expect(found.get(f)!.points[0]!.note).toMatch(/reckoned from the border between the points/);
    }
    expect(found.get(7)!.points.map((p) => p!.how)).toEqual(['matched', 'matched', 'matched', 'matched']);
  });
  test('what is found nowhere stops, and says so', async () => {
    const gone = drawnFrames(6, (f) => (f >= 3 ? { screen: 0.2, bezel: 0.2, pattern: () => 0 } : {}));
    const { found } = await runPoints(gone, { points: cornerPoints(0) });
    expect(found.get(3)!.points.every((p) => p === null)).toBe(true);
    expect(found.get(3)!.why[0]).toMatch(/top-left/);
    expect([...found.keys()]).toEqual([1, 2, 3]);
  });
});

describe('what a point is compared with', () => {
  test('the frame before drifts more than the reference', async () => {
    const previous = await runPoints(frames, { points: cornerPoints(0, { match: 'previous' }) });
    expect(Math.max(...all(previous.found))).toBeLessThan(1);
    const reference = await runPoints(frames, { points: cornerPoints(0) });
    expect(mean(offTruth(reference.found.get(9)!))).toBeLessThan(mean(offTruth(previous.found.get(9)!)));
  });
  test('a key is kept as it was put, and its surroundings become the pattern where that is asked for', async () => {
    const off: [number, number] = [screenAt(5)[0][0] + 3, screenAt(5)[0][1] + 2];
    const keyed = (pattern: boolean) =>
      cornerPoints(0).map((p, i) => (i === 0 ? { ...p, keys: [{ frame: 5, at: off, pattern }] } : p));
    const { found } = await runPoints(frames, { points: keyed(true) });
    expect(found.get(5)!.points[0]).toMatchObject({ at: off, how: 'hand' });
    // It goes on beside the corner, where the key was put.
    expect(offTruth(found.get(8)!)[0]).toBeGreaterThan(2.5);
    const without = await runPoints(frames, { points: keyed(false) });
    expect(offTruth(without.found.get(8)!)[0]).toBeLessThan(0.5);
  });
});

describe('changing light', () => {
  const lit = frames.map((frame, f) => withGlare(frame, screenAt(f)[1], 0.06 * f, 40));
  test('is compensated by itself where a glare comes over a corner, and only there', async () => {
    const { found } = await runPoints(lit, { points: cornerPoints(0) });
    expect(mean(all(found))).toBeLessThan(0.12);
    expect(found.get(8)!.points.map((p) => p!.light)).toEqual([false, true, false, false]);
  });
  test('switched off it is worse, and the switch is proposed', async () => {
    const { run, found } = await runPoints(lit, { points: cornerPoints(0, { light: false }) });
    const on = await runPoints(lit, { points: cornerPoints(0, { light: true }) });
    expect(run.lightProposed).toContain('top-right');
    const at = (f: typeof found) => Math.min(50, Math.max(...[7, 8, 9].map((k) => offTruth(f.get(k)!)[1]!)));
    expect(at(on.found)).toBeLessThan(0.4);
    expect(at(found)).toBeGreaterThan(at(on.found));
  });
});

test('a track of them goes through the four corners, with their bounds; other points make a plane when there are four', async () => {
  const points = cornerPoints(0);
  const { found } = await runPoints(frames, { points });
  const motion = motionOfPoints(points, found.get(7)!);
  expect(motion.confidence).toBeGreaterThan(0.9);
  expect(motion.bounds).toHaveLength(4);
  expect(quadOfPoints(points, found.get(7)!)!.flat()).toEqual(found.get(7)!.points.flatMap((p) => [...p!.at]));
  const renamed = points.map((p, i) => ({ ...p, name: `mark ${i}` }));
  const plane = motionOfPoints(renamed, found.get(7)!);
  expect(plane.bounds).toBeNull();
  plane.homography!.forEach((v, k) => expect(v).toBeCloseTo(motion.homography![k]!, 6));
  expect(
    motionOfPoints(renamed.slice(0, 3), { frame: 7, points: found.get(7)!.points.slice(0, 3), why: [null, null, null] })
      .lost,
  ).toMatch(/takes four/);
});

// Common practice, no source: 40 px and 130 px at 4096 wide.
test('boxes are usual for the width of the plate', () => {
  const [p] = pointsFrom([{ name: 'top-left', at: [100, 80] }], 4096);
  expect([p!.pattern, p!.search, p!.match, p!.shape]).toEqual([[40, 40], [130, 130], 'reference', 'plane']);
  expect(
    pointsFrom(
      [
        { name: 'a', at: [3, 4], pattern: [80, 60] },
        { name: 'b', at: [1, 1], off: true },
      ],
      1920,
      'integer',
    ),
  ).toEqual([
    {
      name: 'a',
      at: [3.5, 4.5],
      pattern: [80, 60],
      search: [176, 132],
      match: 'reference',
      shape: 'plane',
      light: undefined,
    },
  ]);
});
