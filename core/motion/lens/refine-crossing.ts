import type { Point } from '../../base/geometry/homography.ts';
import type { Plane } from '../../base/image/plane.ts';
import { sampleBilinear } from '../../base/image/sampling.ts';

const ROUNDS = 30;
const NEAR_ENOUGH = 0.002;

/**
 * A crossing of two edges to a fraction of a pixel: the place from which every slope of the light around it is seen edge-on. `half` is half the width of the window that is looked at, px. Null
 * where the light does not tell it, or tells another place.
 * Source: W. Förstner, E. Gülch, A fast operator for detection and precise location of distinct points, 1987.
 */
export function refineCrossing(picture: Plane, start: Point, half: number): Point | null {
  let [x, y] = [start[0] - 0.5, start[1] - 0.5];
  const reach = Math.ceil(half);
  const most = Math.max(2, 0.6 * half);
  for (let round = 0; round < ROUNDS; round++) {
    if (!(x > reach + 2 && y > reach + 2 && x < picture.width - reach - 3 && y < picture.height - reach - 3))
      return null;
    let xx = 0;
    let xy = 0;
    let yy = 0;
    let bx = 0;
    let by = 0;
    for (let dj = -reach; dj <= reach; dj++) {
      for (let di = -reach; di <= reach; di++) {
        const px = x + di;
        const py = y + dj;
        const gx = sampleBilinear(picture, px + 1, py) - sampleBilinear(picture, px - 1, py);
        const gy = sampleBilinear(picture, px, py + 1) - sampleBilinear(picture, px, py - 1);
        const weight = Math.exp((-2 * (di * di + dj * dj)) / (half * half));
        const a = weight * gx * gx;
        const b = weight * gx * gy;
        const c = weight * gy * gy;
        xx += a;
        xy += b;
        yy += c;
        bx += a * di + b * dj;
        by += b * di + c * dj;
      }
    }
    const determinant = xx * yy - xy * xy;
    const trace = xx + yy;
    if (!(determinant > 1e-3 * trace * trace)) return null;
    const dx = (yy * bx - xy * by) / determinant;
    const dy = (xx * by - xy * bx) / determinant;
    x += dx;
    y += dy;
    if (!(Math.hypot(x + 0.5 - start[0], y + 0.5 - start[1]) < most)) return null;
    if (Math.hypot(dx, dy) < NEAR_ENOUGH) break;
  }
  return [x + 0.5, y + 0.5];
}
