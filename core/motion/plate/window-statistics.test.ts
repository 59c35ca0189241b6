import { expect, test } from 'vitest';
import { createPlane, type Plane } from '../../base/image/plane.ts';
import { mean } from '../../base/image/statistics.ts';
import { windowCorrelation, windowSpread } from './window-statistics.ts';

function noisy(width: number, height: number, seed: number): Plane {
  const plane = createPlane(width, height);
  for (let i = 0; i < plane.data.length; i++)
    plane.data[i] = 90 + 40 * Math.sin(i * 0.37 + seed) + ((Math.imul(i + 1, 2654435761) >>> 9) % (20 + seed));
  return plane;
}
function window(plane: Plane, x: number, y: number, half: number): number[] {
  const out: number[] = [];
  for (let v = -half; v <= half; v++)
    for (let u = -half; u <= half; u++) out.push(plane.data[(y + v) * plane.width + x + u]!);
  return out;
}

test('spread and correlation are those of the samples one by one', () => {
  const a = noisy(40, 30, 1);
  const b = noisy(50, 28, 7);
  for (const [ax, ay, bx, by, half] of [
    [10, 10, 20, 14, 5],
    [36, 26, 3, 3, 3],
    [20, 15, 46, 24, 3],
  ] as const) {
    const p = window(a, ax, ay, half);
    const q = window(b, bx, by, half);
    const mp = mean(p);
    const mq = mean(q);
    const product = p.reduce((sum, value, i) => sum + (value - mp) * (q[i]! - mq), 0);
    const squares = (values: number[], middle: number) => values.reduce((sum, value) => sum + (value - middle) ** 2, 0);
    expect(windowSpread(a, ax, ay, half)).toBeCloseTo(Math.sqrt(squares(p, mp) / p.length), 8);
    expect(windowCorrelation(a, ax, ay, b, bx, by, half)).toBeCloseTo(
      product / Math.sqrt(squares(p, mp) * squares(q, mq)),
      8,
    );
  }
});

test('a window beyond the picture correlates with nothing, a flat one neither way', () => {
  const a = noisy(20, 20, 1);
  const flat = createPlane(20, 20);
  expect(windowCorrelation(a, 10, 10, a, 2, 10, 3)).toBe(-1);
  expect(windowCorrelation(a, 10, 10, a, 10, 17, 3)).toBe(-1);
  expect(windowCorrelation(a, 10, 10, flat, 10, 10, 3)).toBe(0);
  expect(windowCorrelation(a, 10, 10, a, 10, 10, 3)).toBeCloseTo(1, 10);
});
