import type { Point } from '../../core/base/geometry/homography.ts';
import { contains } from '../../core/base/geometry/polygon.ts';
import { flattened } from '../../core/picture/matte/roto-shapes.ts';
import { coverageOf } from '../../core/picture/matte/coverage.ts';

/** Places looked at in each pixel, across and down: finer than the figure asked for needs along straight edges. */
const PLACES = 64;

/** The worst and mean difference of the rasteriser from the share of many places within each pixel that lie inside, over a curved outline. */
export function coverageError(): { worst: number; mean: number } {
  const points: Point[] = [
    [6.3, 8.1],
    [30.7, 5.4],
    [35.2, 27.6],
    [11.9, 30.2],
  ];
  const handles = [
    [-4, 6, 5, -7],
    [-8, -4, 7, 5],
    [5, -7, -4, 6],
    [7, 2, -5, -6],
  ] as [number, number, number, number][];
  const { points: outline } = flattened(
    points,
    handles,
    () => [0, 0],
    (p) => p,
  );
  const box = { left: 0, top: 0, right: 42, bottom: 38 };
  const { data } = coverageOf([outline], box);
  let worst = 0;
  let sum = 0;
  for (let i = 0; i < data.length; i++) {
    let inside = 0;
    const col = i % 42;
    const row = Math.floor(i / 42);
    for (let j = 0; j < PLACES; j++)
      for (let k = 0; k < PLACES; k++)
        if (contains(outline, col + (k + 0.5) / PLACES, row + (j + 0.5) / PLACES)) inside++;
    const off = Math.abs(inside / PLACES ** 2 - data[i]!);
    worst = Math.max(worst, off);
    sum += off;
  }
  return { worst, mean: sum / data.length };
}
