import { bounds, distance } from '../../base/geometry/quad.ts';
import { quadAt, type QuadMotion } from '../pin/shutter-path.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import type { Lens } from '../../motion/lens/lens.ts';
import { placesOnSurface } from '../../motion/lens/lens-surface.ts';
import type { ScreenMarkers } from '../../base/schemas/types.ts';
import { coverageOf } from './coverage.ts';
import { grownOutline } from '../../base/geometry/grow-outline.ts';

/** Pixels by which a marker's place is grown, for the softness of its edge. */
const EDGE = 2;

/** Half of the frame: common practice, no source. */
const USUAL = { shutter: 180, phase: 0 } as const;
/** Smeared farther than this, px, a marker is so faint that only the middle of its way is grown over. */
const FAINT = 16;

/**
 * Where markers are seen in a box, 0 or 1: their places over the open shutter (degrees of the frame, with its phase), grown by the softness of their edges.
 * Null where there are none. Where no smear is asked for the plate may be smeared all the same: then half of the frame is taken.
 */
export function markerPixels(
  markers: ScreenMarkers,
  motion: QuadMotion,
  box: PixelBox,
  { shutter, phase }: { readonly shutter: number; readonly phase: number } = USUAL,
  lens?: Lens,
): Float32Array | null {
  if (markers.length === 0) return null;
  const ends = (open: number): [number, number] => [(phase - open / 2) / 360, (phase + open / 2) / 360];
  const [from, to] = ends(shutter || USUAL.shutter);
  const smear = Math.max(...quadAt(motion, from).map((p, i) => distance(p, quadAt(motion, to)[i]!)));
  const [begin, end] = smear > FAINT ? ends(USUAL.shutter) : [from, to];
  const maps = [begin, (begin + end) / 2, end]
    .map((time) => placesOnSurface(quadAt(motion, time), lens))
    .filter((place) => place !== null);
  const out = new Float32Array((box.right - box.left) * (box.bottom - box.top));
  for (const [u, v, ru, rv] of markers) {
    for (const place of maps) {
      const outline = [place(u - ru, v - rv), place(u + ru, v - rv), place(u + ru, v + rv), place(u - ru, v + rv)];
      const grown = grownOutline(outline, EDGE);
      const own = bounds(grown);
      const part = {
        left: Math.max(box.left, Math.floor(own.left)),
        top: Math.max(box.top, Math.floor(own.top)),
        right: Math.min(box.right, Math.ceil(own.right)),
        bottom: Math.min(box.bottom, Math.ceil(own.bottom)),
      };
      if (part.right <= part.left || part.bottom <= part.top) continue;
      const { data } = coverageOf([grown], part);
      const across = part.right - part.left;
      const width = box.right - box.left;
      for (let i = 0; i < data.length; i++)
        if (data[i]! > 0)
          out[(part.top - box.top + Math.floor(i / across)) * width + part.left - box.left + (i % across)] = 1;
    }
  }
  return out;
}
