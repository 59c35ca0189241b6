import { expect, test } from 'vitest';
import { findOffset } from './find-offset.ts';

/** A small picture in which a patch moves over a still ground. */
const picture = (frame: number, gain = 1, lift = 0): Float32Array =>
  Float32Array.from({ length: 48 * 27 }, (_, i) => {
    const x = i % 48;
    const y = Math.floor(i / 48);
    const patch = Math.hypot(x - 8 - frame * 1.3, y - 13 - 6 * Math.sin(frame / 3)) < 5 ? 90 : 0;
    return lift + gain * (60 + 50 * Math.sin(x / 3) * Math.cos(y / 4) + patch);
  });
const run = (from: number, count: number, gain = 1, lift = 0) =>
  Array.from({ length: count }, (_, i) => picture(from + i, gain, lift));

test.each([
  [0, 20],
  [5, 30],
  [-4, 14],
  [6, 18],
  [30, 120],
  [-5, 70],
])('another grade that begins %i frames earlier, %i long', (handles, length) => {
  const found = findOffset(run(0, 20), run(-handles, length, 0.6, 22))!;
  expect(found).toMatchObject({ offset: handles, distinct: true });
  expect(found.score).toBeGreaterThan(0.8);
});
test('a few frames among many of a whole picture that moves, its grade changed too', () => {
  const pan = (from: number, count: number, gain: number) =>
    Array.from({ length: count }, (_, f) =>
      Float32Array.from({ length: 48 * 27 }, (__, i) => {
        const x = (i % 48) + 0.8 * (from + f);
        const y = Math.floor(i / 48);
        return 20 + gain * (70 + 30 * Math.sin(x / 2.3 + Math.sin(y / 5)) + 25 * Math.cos(x / 7.1) * Math.sin(y / 3));
      }),
    );
  expect(findOffset(pan(0, 8, 1), pan(3, 37, 0.8))).toMatchObject({ offset: -3, distinct: true });
});
test('a shot in which nothing moves cannot be determined', () => {
  const still = Array.from({ length: 10 }, () => picture(0));
  expect(findOffset(still, still)).toMatchObject({ offset: 0, distinct: false });
});
test('two different shots do not match', () => {
  const other = Array.from({ length: 20 }, (_, f) =>
    Float32Array.from({ length: 48 * 27 }, (_, i) => Math.imul(i + f * 7919, 2654435761) >>> 24),
  );
  expect(findOffset(run(0, 20), other)!.distinct).toBe(false);
  expect(findOffset([], other)).toBeNull();
});
