import type { Point } from '../../base/geometry/homography.ts';
import { distance } from '../../base/geometry/quad.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import { meanCoverage } from './coverage.ts';

/** A moment for so many px of smear. */
const STEP = 2;

/** The outline at evenly spaced moments of the open shutter, from its first to its last, each point going straight from one to the next; null where it moves by less than `least`, px, or its points do not correspond. */
export function outlinesSwept(
  outlines: readonly (readonly Point[])[],
  least: number,
  mostMoments: number,
): Point[][] | null {
  const first = outlines[0]!;
  const last = outlines.at(-1)!;
  if (outlines.some((outline) => outline.length !== first.length)) return null;
  const smear = Math.max(...first.map((p, i) => distance(p, last[i]!)));
  if (!(smear >= least) || outlines.length < 2) return null;
  const moments = Math.max(2, Math.min(mostMoments, Math.ceil(smear / STEP)));
  return Array.from({ length: moments }, (_, k) => {
    const place = ((k + 0.5) / moments) * (outlines.length - 1);
    const from = Math.min(outlines.length - 2, Math.floor(place));
    const t = place - from;
    return first.map((_, i): Point => {
      const a = outlines[from]![i]!;
      const b = outlines[from + 1]![i]!;
      return [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
    });
  });
}

/** How much of each pixel an outline covers in the mean while the shutter is open; null where it hardly moves, as above. */
export function sweptCover(
  outlines: readonly (readonly Point[])[],
  box: PixelBox,
  least: number,
  mostMoments: number,
): Float32Array | null {
  const seen = outlinesSwept(outlines, least, mostMoments);
  return seen && meanCoverage(seen, box).data;
}
