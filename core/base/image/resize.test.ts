import { expect, test } from 'vitest';
import { resize } from './resize.ts';

const SIZE = { width: 24, height: 16 };

test('a flat picture stays flat, whichever size', () => {
  const flat = new Float32Array(24 * 16 * 4).fill(0.37);
  for (const to of [
    { width: 12, height: 8 },
    { width: 7, height: 31 },
    { width: 48, height: 32 },
  ])
    for (const v of resize(flat, 4, SIZE, to)) expect(v).toBeCloseTo(0.37, 6);
});

test('the same size is the same picture; a slope stays a slope, in place', () => {
  const slope = Float32Array.from({ length: 24 * 16 }, (_, i) => (i % 24) + 0.5 + 3 * (Math.floor(i / 24) + 0.5));
  resize(slope, 1, SIZE, SIZE).forEach((v, i) => expect(v).toBeCloseTo(slope[i]!, 4));
  const small = resize(slope, 1, SIZE, { width: 12, height: 8 });
  // Pixel centres of the smaller picture lie at twice their place, away from the border.
  for (const [x, y] of [
    [4, 4],
    [6, 3],
    [7, 4],
  ] as const)
    expect(small[y * 12 + x]).toBeCloseTo(2 * (x + 0.5) + 3 * 2 * (y + 0.5), 1);
});

test('what is finer than the smaller picture can show is evened out', () => {
  const checks = Float32Array.from({ length: 64 * 64 }, (_, i) => ((i % 64) + Math.floor(i / 64)) % 2);
  const small = resize(checks, 1, { width: 64, height: 64 }, { width: 16, height: 16 });
  for (let y = 4; y < 12; y++)
    for (let x = 4; x < 12; x++) expect(Math.abs(small[y * 16 + x]! - 0.5)).toBeLessThan(0.01);
});
