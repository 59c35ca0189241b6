import { clamp } from '../../base/geometry/clamp.ts';
import { applyToPoint, type Homography, type Point } from '../../base/geometry/homography.ts';
import { fillPolygon } from '../../base/geometry/polygon.ts';
import { bounds } from '../../base/geometry/quad.ts';
import type { FixOnFrame } from './fix-on-frame.ts';

/** A fix reaches so far beyond its outline, px, since the lens smears what is under it; and fades over so many unless said otherwise. */
const MARGIN = 2;
const SOFT = 1.5;
/** How much of the surroundings is looked at, px. */
const RING = 9;
/** What is covered by more than this is not looked at; fewer known pixels than this around a fix tell nothing. */
export const COVERED = 0.02;
export const FEWEST_AROUND = 24;

/** A box of the picture about a fix. `alpha`: how much of each pixel is made up; `reach`: where that is more than nothing. */
export interface Hole {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  readonly alpha: Float32Array;
  readonly reach: Uint8Array;
}

/** The box of a fix on a picture; `maps` are the surface's at moments over the shutter. Null where it is not in the picture. */
export function holeOf(
  { outline, soft = SOFT, opacity }: Pick<FixOnFrame, 'outline' | 'soft' | 'opacity'>,
  maps: readonly Homography[],
  { width, height }: { width: number; height: number },
): Hole | null {
  const polygons = maps.map((map) => outline.map((p) => applyToPoint(map, p)));
  const all = polygons.flat();
  if (all.length < 3 || !all.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y))) return null;
  const box = bounds(all);
  const more = MARGIN + Math.ceil(soft) + RING;
  const left = Math.max(0, Math.floor(box.left) - more);
  const top = Math.max(0, Math.floor(box.top) - more);
  const right = Math.min(width, Math.ceil(box.right) + more);
  const bottom = Math.min(height, Math.ceil(box.bottom) + more);
  const w = right - left;
  const h = bottom - top;
  if (w < 3 || h < 3) return null;
  const inside = new Uint8Array(w * h);
  for (const polygon of polygons) {
    fillPolygon(
      inside,
      w,
      h,
      polygon.map(([x, y]): Point => [x - left, y - top]),
      1,
    );
    // However small it is, the pixel it is on belongs to it.
    for (const [x, y] of polygon)
      if (x >= left && y >= top && x < right && y < bottom) inside[Math.floor(y - top) * w + Math.floor(x - left)] = 1;
  }
  const distance = distanceTo(inside, w, h);
  const alpha = new Float32Array(w * h);
  const reach = new Uint8Array(w * h);
  for (let i = 0; i < alpha.length; i++) {
    const t = clamp((distance[i]! - MARGIN) / Math.max(0.01, soft), 0, 1);
    const share = 1 - t * t * (3 - 2 * t);
    alpha[i] = share * opacity;
    reach[i] = share > 0 ? 1 : 0;
  }
  return { left, top, width: w, height: h, alpha, reach };
}

/** Distance to the nearest marked pixel, px, by two sweeps of neighbours' distances (G. Borgefors, Distance transformations in digital images, 1986, 3-4 chamfer): at most 6 % off. */
function distanceTo(marked: Uint8Array, w: number, h: number): Float32Array {
  const d = Float32Array.from(marked, (m) => (m === 1 ? 0 : 1e6));
  const near = 0.955;
  const slant = 1.3693;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if (x > 0) d[i] = Math.min(d[i]!, d[i - 1]! + near);
      if (y > 0)
        d[i] = Math.min(
          d[i]!,
          d[i - w]! + near,
          x > 0 ? d[i - w - 1]! + slant : 1e6,
          x < w - 1 ? d[i - w + 1]! + slant : 1e6,
        );
    }
  for (let y = h - 1; y >= 0; y--)
    for (let x = w - 1; x >= 0; x--) {
      const i = y * w + x;
      if (x < w - 1) d[i] = Math.min(d[i]!, d[i + 1]! + near);
      if (y < h - 1)
        d[i] = Math.min(
          d[i]!,
          d[i + w]! + near,
          x < w - 1 ? d[i + w + 1]! + slant : 1e6,
          x > 0 ? d[i + w - 1]! + slant : 1e6,
        );
    }
  return d;
}

/** Each place of a hole's box, with its index in a picture so many px across. */
export function eachOfHole(
  { left, top, width, height }: Hole,
  across: number,
  each: (inBox: number, inPicture: number) => void,
): void {
  for (let row = 0, i = 0; row < height; row++)
    for (let col = 0; col < width; col++, i++) each(i, (top + row) * across + left + col);
}
