import type { Point } from '../../base/geometry/homography.ts';
import { distance } from '../../base/geometry/quad.ts';
import { luminanceOfLight } from '../../base/image/primaries.ts';
import { mean } from '../../base/image/statistics.ts';
import type { LightRegion } from '../../base/image/light-region.ts';

/** A straight border across, from its dark side to its bright one. */
export interface EdgeProfile {
  /** Places across it, px, 0 where it is half as bright. */
  readonly places: readonly number[];
  /** Light there, 0 at the dark end and 1 at the bright one. */
  readonly values: readonly number[];
  /** From a tenth to nine tenths of the step, px. */
  readonly width: number;
}

/** Looked at so far to both sides, px, in steps of a quarter; the ends that tell dark and bright begin here. */
const REACH = 8;
const STEP = 0.25;
const END = 5.5;
/** Steps of light smaller than this are no border. */
const LEAST = 0.01;

/**
 * The edge-spread function of a straight border between two points: every pixel's light goes to the step that it lies from the line, so that the border's slant
 * fills the steps between pixels. Null where it is too short or too faint.
 *
 * Source: ISO 12233, the slanted-edge method (projection along the edge and binning in quarters of a pixel).
 */
export function edgeProfile(
  { box, width, height, planes: [r, g, b] }: LightRegion,
  from: Point,
  to: Point,
): EdgeProfile | null {
  const length = distance(from, to);
  const along: Point = [(to[0] - from[0]) / length, (to[1] - from[1]) / length];
  const count = Math.round((2 * REACH) / STEP);
  const sums = new Float64Array(count);
  const seen = new Float64Array(count);
  if (!(length > 4)) return null;
  const left = Math.max(0, Math.floor(Math.min(from[0], to[0]) - REACH - box.left));
  const right = Math.min(width, Math.ceil(Math.max(from[0], to[0]) + REACH - box.left));
  const top = Math.max(0, Math.floor(Math.min(from[1], to[1]) - REACH - box.top));
  const bottom = Math.min(height, Math.ceil(Math.max(from[1], to[1]) + REACH - box.top));
  for (let row = top; row < bottom; row++) {
    for (let col = left; col < right; col++) {
      const x = col + 0.5 + box.left - from[0];
      const y = row + 0.5 + box.top - from[1];
      const on = x * along[0] + y * along[1];
      const bin = Math.floor((-x * along[1] + y * along[0] + REACH) / STEP);
      if (on < 0 || on > length || bin < 0 || bin >= count) continue;
      const i = row * width + col;
      sums[bin]! += luminanceOfLight([r[i]!, g[i]!, b[i]!]);
      seen[bin]!++;
    }
  }
  let places = Array.from({ length: count }, (_, k) => -REACH + (k + 0.5) * STEP).filter((_, k) => seen[k]! > 0);
  let light = places.map((p) => sums[Math.floor((p + REACH) / STEP)]! / seen[Math.floor((p + REACH) / STEP)]!);
  const far = (side: -1 | 1) => light.filter((_, k) => side * places[k]! > END);
  const one = far(-1);
  const other = far(1);
  if (one.length < 3 || other.length < 3) return null;
  const dark = mean(one);
  const bright = mean(other);
  if (Math.abs(bright - dark) < LEAST) return null;
  if (bright < dark) [places, light] = [places.map((p) => -p).reverse(), light.reverse()];
  const low = Math.min(dark, bright);
  const step = Math.abs(bright - dark);
  const values = light.map((v) => (v - low) / step);
  const middle = crossing(places, values, 0.5);
  return {
    places: places.map((p) => p - middle),
    values,
    width: crossing(places, values, 0.9) - crossing(places, values, 0.1),
  };
}

/** Where a rising profile goes through a value for good: the last crossing that lies within the step, not in the noise of its ends; 0 where there is none. */
function crossing(places: readonly number[], values: readonly number[], at: number): number {
  for (let k = values.length - 1; k > 0; k--) {
    if (values[k]! < at || values[k - 1]! >= at || Math.abs(places[k]!) > END) continue;
    return places[k - 1]! + ((at - values[k - 1]!) / (values[k]! - values[k - 1]!)) * (places[k]! - places[k - 1]!);
  }
  return 0;
}
