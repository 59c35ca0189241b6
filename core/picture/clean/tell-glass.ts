import type { Point } from '../../base/geometry/homography.ts';
import { fillPolygon } from '../../base/geometry/polygon.ts';
import { bounds } from '../../base/geometry/quad.ts';
import type { LightPicture } from '../../base/image/picture.ts';
import { median } from '../../base/image/statistics.ts';
import { isSeen, luminanceAt } from './find-spots.ts';

/** Around a mark so much of its size is looked at, at least so many px. */
const AROUND = 0.5;
const LEAST_AROUND = 3;
/** A mark is seen where its contrast is within these factors of the usual; its light has changed by this, linear light, and this share of its contrast. */
const SEEN = [0.5, 1.5] as const;
const CHANGED = 0.004;
const CHANGED_SHARE = 0.05;
/** From so many such changes on it is believed; of each change so much must be the mark's, too: all of it where glass lies over both, in part where it is lit, none where it is stuck onto the glass. */
const FEWEST = 8;
const BOTH_ALIKE = [0.7, 1.4] as const;

/**
 * Whether marks of a surface lie under something that mirrors: what is added to the light around them is added to theirs. `flat`: frames of the surface, laid flat, in light; outlines in
 * shares of it. False where the light does not change enough to tell.
 */
export function lieUnderGlass(flat: readonly LightPicture[], outlines: readonly (readonly Point[])[]): boolean {
  const first = flat[0];
  if (!first) return false;
  const { width, height } = first;
  const marked = new Uint8Array(width * height);
  const there = outlines.map((outline) => outline.map(([u, v]): Point => [u * width, v * height]));
  for (const outline of there) fillPolygon(marked, width, height, outline, 1);
  let changes = 0;
  let squares = 0;
  let products = 0;
  for (const outline of there) {
    const own = new Uint8Array(width * height);
    const { left, top, right, bottom } = bounds(outline);
    const x = Math.max(LEAST_AROUND, AROUND * (right - left));
    const y = Math.max(LEAST_AROUND, AROUND * (bottom - top));
    const inside: number[] = [];
    const around: number[] = [];
    fillPolygon(own, width, height, outline, 1);
    for (let row = Math.max(0, Math.floor(top - y)); row < Math.min(height, bottom + y); row++)
      for (let col = Math.max(0, Math.floor(left - x)); col < Math.min(width, right + x); col++) {
        const i = row * width + col;
        if (own[i] === 1) inside.push(i);
        else if (marked[i] === 0) around.push(i);
      }
    const rows = flat
      .map((one) => [meanOf(one, around), meanOf(one, inside)] as const)
      .filter(([a, b]) => Number.isFinite(a) && Number.isFinite(b));
    const contrasts = rows.map(([a, b]) => a - b);
    const usual = median(contrasts);
    const light = median(rows.map(([a]) => a));
    const mark = median(rows.map(([, b]) => b));
    rows.forEach(([a, b], k) => {
      const contrast = contrasts[k]! / usual;
      const change = a - light;
      if (
        !(contrast > SEEN[0] && contrast < SEEN[1]) ||
        Math.abs(change) < Math.max(CHANGED, CHANGED_SHARE * Math.abs(usual))
      )
        return;
      changes++;
      squares += change * change;
      products += change * (b - mark);
    });
  }
  return changes >= FEWEST && products > BOTH_ALIKE[0] * squares && products < BOTH_ALIKE[1] * squares;
}

/** Mean luminance of some places that are wholly seen; NaN where less than half are. */
function meanOf(flat: LightPicture, places: readonly number[]): number {
  let sum = 0;
  let n = 0;
  for (const i of places)
    if (isSeen(flat, i)) {
      sum += luminanceAt(flat, i);
      n++;
    }
  return n > places.length / 2 ? sum / n : NaN;
}
