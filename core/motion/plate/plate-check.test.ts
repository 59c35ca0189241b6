import { describe, expect, test } from 'vitest';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { median } from '../../base/image/statistics.ts';
import { movingFrame, type MovingPlate } from '../../test/moving-plate.ts';
import { CutWatch } from './cuts.ts';
import { findingWords } from './findings.ts';
import { PlateChecker, type PlateCheckResult } from './plate-check.ts';

/** Generated plates whose noise, movement, smear and faults are known exactly. */
const SIZE = { width: 480, height: 270 };
/** Suffices where nothing is measured to the pixel. */
const SMALL = { width: 320, height: 180 };

function check(frames: Iterable<LumaFrame>): PlateCheckResult {
  const checker = new PlateChecker();
  for (const frame of frames) checker.add(frame);
  return checker.finish();
}
const smeared = (change: Partial<MovingPlate>): MovingPlate => ({
  ...SIZE,
  velocity: () => [3, 1],
  shutter: 0.5,
  noise: 2,
  ...change,
});
const span = (p: MovingPlate, frames: number) => Array.from({ length: frames }, (_, f) => movingFrame(p, f));
const words = (result: PlateCheckResult, first = 0) => result.findings.map((f) => findingWords(f, first));

describe('noise, within 15 %', () => {
  test.each([0.5, 1, 2, 4, 8])('σ %f of 255', (noise) => {
    const rounding = 1 / 12;
    const truth = Math.sqrt(noise * noise + rounding);
    const found = check(span(smeared({ noise, velocity: () => [0, 0] }), 3)).rows.map((r) => r.noise);
    for (const value of found) expect(Math.abs(value - truth)).toBeLessThan(0.15 * truth);
  });
});

describe('length and direction of motion blur, within 20 % or 2 px', () => {
  // Speed in pixels a frame, direction in degrees, shutter as a fraction of the frame's time, noise.
  test.each([
    [12, 20, 0.5, 2],
    [30, 150, 0.5, 4],
    [24, 45, 0.25, 2],
    [24, 20, 0.75, 6],
    [20, 135, 0.5, 1],
  ])('%f px a frame at %f°, shutter %f, noise %f', (speed, angle, shutter, noise) => {
    const radians = (angle * Math.PI) / 180;
    const { rows } = check(
      span(
        smeared({
          velocity: () => [speed * Math.cos(radians), speed * Math.sin(radians)],
          shutter,
          noise,
          seed: 3 + speed,
        }),
        6,
      ),
    );
    const truth = shutter * speed;
    const found = median(rows.map((r) => r.blur));
    expect(Math.abs(found - truth)).toBeLessThanOrEqual(Math.max(2, 0.2 * truth));
    const turned = Math.abs((((rows[3]!.blurAngle ?? NaN) - angle + 270) % 180) - 90);
    expect(turned).toBeLessThan(5);
  });
  test.each([1, 3])('a plate that moves without a smear has none (%i)', (seed) => {
    const result = check(span(smeared({ velocity: () => [0, 16], shutter: 0, seed }), 7));
    expect(Math.max(...result.rows.map((r) => r.blur))).toBeLessThan(2);
    expect(words(result)).toEqual(['frames 0–6 move up to 16 px a frame']);
  });
});

describe('faults', () => {
  const plate = (change: Partial<MovingPlate>) => smeared({ ...SMALL, ...change });
  const clean = plate({});
  test('an ordinary plate has none', () => {
    const result = check(span(clean, 16));
    expect(words(result)).toEqual([]);
    expect(result.rows.every((r) => !r.cut && !r.flash && r.repeats === null)).toBe(true);
  });
  test('a planted cut, three repeats and a flash are all found, and nothing else', () => {
    const first = span(clean, 20);
    const second = span(plate({ seed: 40 }), 14);
    first[6] = first[5]!;
    first[13] = first[12]!;
    second[9] = second[8]!;
    second[5] = movingFrame(plate({ seed: 40, gain: () => 1.6 }), 5);
    const result = check([...first, ...second]);
    const watch = new CutWatch();
    for (const frame of [...first, ...second]) watch.add(frame);
    // Who only watches for cuts finds the same one.
    expect([watch.firstCut([0, 33]), watch.firstCut([0, 19]), watch.firstCut([20, 33])]).toEqual([20, null, null]);
    expect(words(result, 1001)).toEqual([
      '1007 repeats 1006',
      '1014 repeats 1013',
      'cut at 1021',
      'flash on frame 1026',
      '1030 repeats 1029',
    ]);
  });
  test('a screen that lights up in the middle of the picture, and a whip of the camera, are no cuts', () => {
    const lit = (frame: LumaFrame): LumaFrame => ({
      ...frame,
      codes: frame.codes.map((v, i) =>
        Math.abs((i % frame.width) / frame.width - 0.5) < 0.2 && Math.abs(i / frame.width / frame.height - 0.5) < 0.3
          ? 255 - (v >> 2)
          : v,
      ),
    });
    expect(check(span(clean, 8).map((frame, i) => (i < 4 ? frame : lit(frame)))).rows.filter((r) => r.cut)).toEqual([]);
    expect(
      check(span(plate({ velocity: (f) => [f === 4 ? 40 : 3, 0], shutter: 0.2 }), 8)).rows.filter((r) => r.cut),
    ).toEqual([]);
  });
  test('a frame that was dropped is recognised by the leap', () => {
    const frames = span(plate({ velocity: () => [6, 0] }), 16);
    frames.splice(8, 1);
    expect(words(check(frames))).toContain('a frame seems to be missing before 8');
  });
  test('a dark stretch is reported, with how dark', () => {
    const result = check(span(plate({ gain: (f) => (f >= 5 && f <= 8 ? 0.3 : 1) }), 16));
    expect(words(result).filter((w) => w.includes('dark'))).toEqual([
      expect.stringMatching(/^frames 5–8 dark \(mean 0\.1\d\)$/),
    ]);
  });
  test('a still shot without noise repeats nothing', () => {
    expect(
      words(check(Array.from({ length: 8 }, () => movingFrame(plate({ velocity: () => [0, 0], noise: 0 }), 0)))),
    ).toEqual([]);
  });
});

test('the proposed reference is sharp, lit, still and near the middle', () => {
  // Fast at the ends, slow in the middle, dark at the very middle.
  const { reference, rows } = check(
    span(smeared({ ...SMALL, velocity: (f) => [Math.abs(f - 8) * 3, 0], gain: (f) => (f === 8 ? 0.15 : 1) }), 17),
  );
  expect([6, 7, 9, 10]).toContain(reference!.frame);
  expect(reference!.reasons.join('; ')).toMatch(/% as sharp as the sharpest.*near the middle/);
  expect(rows[0]!.sharpness).toBeLessThan(rows[7]!.sharpness);
});
