import { bounds } from '../geometry/quad.ts';

/** A rectangle of pixels, right and bottom exclusive. */
export interface PixelBox {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** The pixels that points can touch, grown by a margin and cut to `limit`; null when there are none. */
export function touchedPixels(
  points: readonly (readonly [number, number])[],
  margin: number,
  limit: PixelBox,
): PixelBox | null {
  const all = bounds(points);
  const box = {
    left: Math.max(limit.left, Math.floor(all.left - margin)),
    top: Math.max(limit.top, Math.floor(all.top - margin)),
    right: Math.min(limit.right, Math.ceil(all.right + margin)),
    bottom: Math.min(limit.bottom, Math.ceil(all.bottom + margin)),
  };
  return box.right > box.left && box.bottom > box.top ? box : null;
}
