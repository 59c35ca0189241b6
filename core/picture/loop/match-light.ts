import { upperMedian } from '../../base/image/statistics.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { coverageOf } from '../matte/coverage.ts';
import type { LightRegion } from '../../base/image/light-region.ts';

/** By how much each channel of the second picture is brighter than the first's. */
export type Gains = readonly [number, number, number];
export const SAME_LIGHT: Gains = [1, 1, 1];

/** Gains beyond this are another picture and no other light. */
const MOST = 2;
/** Pixels whose ratio is farther off than this from the middle one's (its logarithm) show something else. */
const ALIKE = 0.25;
const DARK = 0.004;

/**
 * The gains between two pictures that lie on each other, over a region: the middle ratio, then the ratio of sums of what is near it, so that what moved
 * by itself does not count.
 */
export function gainsBetween(
  first: LightRegion['planes'],
  second: LightRegion['planes'],
  width: number,
  height: number,
  region: readonly Point[],
): Gains {
  const { data: inside } = coverageOf([region], { left: 0, top: 0, right: width, bottom: height });
  const step = Math.max(1, Math.floor(Math.sqrt((width * height) / 60_000)));
  return mapTuple([0, 1, 2], (c) => {
    const a = first[c];
    const b = second[c];
    const logs: number[] = [];
    const places: number[] = [];
    for (let row = 0; row < height; row += step)
      for (let col = 0; col < width; col += step) {
        const at = row * width + col;
        if (inside[at]! < 1 || a[at]! < DARK || b[at]! < DARK) continue;
        logs.push(Math.log(b[at]! / a[at]!));
        places.push(at);
      }
    if (logs.length < 50) return 1;
    const middle = upperMedian(logs);
    let sumA = 0;
    let sumB = 0;
    places.forEach((at, i) => {
      if (Math.abs(logs[i]! - middle) > ALIKE) return;
      sumA += a[at]!;
      sumB += b[at]!;
    });
    return Math.min(MOST, Math.max(1 / MOST, sumB / Math.max(1e-9, sumA)));
  });
}
