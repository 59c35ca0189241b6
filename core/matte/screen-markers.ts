import { applyToPoint } from '../geometry/homography.ts';
import { homographyBetweenQuads } from '../geometry/estimate-homography.ts';
import { bounds, UNIT_SQUARE } from '../geometry/quad.ts';
import { quadAt, type QuadMotion } from '../composite/shutter-path.ts';
import type { PixelBox } from '../image/pixel-box.ts';
import type { ScreenMarkers } from '../schemas/types.ts';
import { coverageOf } from './coverage.ts';
import { grownOutline } from '../geometry/grow-outline.ts';

/** Pixels by which a marker's place is grown, for the softness of its edge. */
const EDGE = 2;

/**
 * Where markers are seen in a box, 0 or 1: their places over the open shutter, grown by the softness of their edges. Null where there are none.
 * How long the shutter was open is not asked: half of the time between frames is taken, common practice.
 */
export function markerPixels(markers: ScreenMarkers, motion: QuadMotion, box: PixelBox): Float32Array | null {
  if (markers.length === 0) return null;
  const maps = [-0.25, 0, 0.25].map((time) => homographyBetweenQuads(UNIT_SQUARE, quadAt(motion, time))).filter((h) => h !== null);
  const out = new Float32Array((box.right - box.left) * (box.bottom - box.top));
  for (const [u, v, ru, rv] of markers) {
    for (const h of maps) {
      const outline = [[u - ru, v - rv], [u + ru, v - rv], [u + ru, v + rv], [u - ru, v + rv]].map((p) => applyToPoint(h, p as [number, number]));
      const grown = grownOutline(outline, EDGE), own = bounds(grown), part = {
        left: Math.max(box.left, Math.floor(own.left)), top: Math.max(box.top, Math.floor(own.top)), right: Math.min(box.right, Math.ceil(own.right)), bottom: Math.min(box.bottom, Math.ceil(own.bottom)),
      };
      if (part.right <= part.left || part.bottom <= part.top) continue;
      const { data } = coverageOf([grown], part), across = part.right - part.left, width = box.right - box.left;
      for (let i = 0; i < data.length; i++) if (data[i]! > 0) out[(part.top - box.top + Math.floor(i / across)) * width + part.left - box.left + (i % across)] = 1;
    }
  }
  return out;
}
