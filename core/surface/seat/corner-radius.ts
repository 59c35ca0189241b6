import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import { applyToPoint, type Point } from '../../base/geometry/homography.ts';
import { median } from '../../base/image/statistics.ts';
import { sampleLight, type LightPicture } from '../../base/image/light-sampler.ts';

/** The largest radius that is looked for, in shorter sides; samples along a ray, px. */
const LARGEST = 0.25;
const STEP = 0.25;
/** Rays across the corner, about its diagonal, degrees. */
const RAYS = [-25, -15, -8, 0, 8, 15, 25] as const;

/**
 * Radius of a surface's rounded corners, px of the frame (in the plane's own upright pixels): along rays out of where the arc's
 * middle would be, the arc must be met at the same distance. For each radius the edge along all rays of all four corners is summed; the
 * radius is where that is strongest, or 0 where the square corner's is.
 */
export function estimateCornerRadius(picture: LightPicture, quad: Quad): number {
  const width = (distance(quad[0], quad[1]) + distance(quad[3], quad[2])) / 2;
  const height = (distance(quad[0], quad[3]) + distance(quad[1], quad[2])) / 2;
  const flat: Quad = [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ];
  const map = homographyBetweenQuads(flat, quad);
  if (!map) return 0;
  const most = LARGEST * Math.min(width, height);
  const found: number[] = [];
  for (let corner = 0; corner < 4; corner++) {
    const [cx, cy] = flat[corner]!;
    const inX = corner === 0 || corner === 3 ? 1 : -1;
    const inY = corner < 2 ? 1 : -1;
    const light = (u: number, v: number) => {
      const [x, y] = applyToPoint(map, [cx + inX * u, cy + inY * v]);
      return sampleLight(picture, x, y);
    };
    let best = 0;
    let strongest = -1;
    for (let radius = 0; radius <= most; radius += 0.5) {
      let sum = 0;
      for (const degrees of RAYS) {
        const [u, v] = onArc(radius, degrees);
        const length = Math.SQRT1_2;
        const turn = (degrees * Math.PI) / 180;
        // Outward: from the arc's middle toward the corner.
        const dx = -length * Math.cos(turn) + length * Math.sin(turn);
        const dy = -length * Math.cos(turn) - length * Math.sin(turn);
        const [ox, oy]: Point = radius > 0 ? [dx, dy] : squareNormal(degrees);
        let slope = 0;
        for (const s of [0.75, 1.25, 1.75]) slope += light(u + ox * s, v + oy * s) - light(u - ox * s, v - oy * s);
        sum += slope;
      }
      if (Math.abs(sum) > strongest) [strongest, best] = [Math.abs(sum), radius];
    }
    if (!Number.isNaN(strongest) && strongest > 0) found.push(best);
  }
  const radius = found.length > 0 ? median(found) : 0;
  return radius < 2 * STEP ? 0 : radius;
}

/** A point of the rounded corner at an angle off its diagonal, from the square corner inward. */
function onArc(radius: number, degrees: number): Point {
  const turn = (degrees * Math.PI) / 180;
  const dx = -Math.SQRT1_2 * Math.cos(turn) + Math.SQRT1_2 * Math.sin(turn);
  const dy = -Math.SQRT1_2 * Math.cos(turn) - Math.SQRT1_2 * Math.sin(turn);
  return [radius * (1 + dx), radius * (1 + dy)];
}
/** At a square corner the rays of one half meet the one side, those of the other half the other. */
function squareNormal(degrees: number): Point {
  return degrees < 0 ? [-1, 0] : degrees > 0 ? [0, -1] : [-Math.SQRT1_2, -Math.SQRT1_2];
}
