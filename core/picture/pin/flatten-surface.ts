import { clamp } from '../../base/geometry/clamp.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { applyToPoint, scaling } from '../../base/geometry/homography.ts';
import { distance, UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import type { LightPicture } from '../../base/image/picture.ts';
import { touchedPixels, type PixelBox } from '../../base/image/pixel-box.ts';
import type { Lens } from '../../motion/lens/lens.ts';
import { placesOnSurface } from '../../motion/lens/lens-surface.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import { ContentPyramid } from './content-pyramid.ts';
import { renderPin } from './pin-layer.ts';
import { unitToPicture } from './measured-shot.ts';

/** A part of the surface's plane, its unit square grown by `margin` of its width and height to each side. */
export function grownUnit(quad: Quad, margin: number): Quad | null {
  const h = unitToPicture(quad);
  return (
    h &&
    mapTuple(UNIT_SQUARE, ([u, v]) =>
      applyToPoint(h, [u + (u === 0 ? -margin : margin), v + (v === 0 ? -margin : margin)]),
    )
  );
}

/** Pixels to a side that no surface is flattened beyond. */
const MOST = 4096;

/** A surface as it is seen in a region, flattened to about as many pixels as it has there (or to `size`), premultiplied: alpha 0 where the region does not show it. */
export function flattenSurface(
  { box, width, height, planes }: LightRegion,
  quad: Quad,
  size?: { readonly width: number; readonly height: number },
  lens?: Lens,
): LightPicture | null {
  const place = placesOnSurface(quad, lens);
  const side = (a: number, b: number, c: number, d: number) =>
    clamp(Math.round(Math.max(distance(quad[a]!, quad[b]!), distance(quad[c]!, quad[d]!))), 4, MOST);
  const wide = size?.width ?? side(0, 1, 3, 2);
  const high = size?.height ?? side(0, 3, 1, 2);
  if (!place) return null;
  const data = new Float32Array(4 * wide * high);
  for (let row = 0, to = 0; row < high; row++) {
    for (let col = 0; col < wide; col++, to += 4) {
      const [x, y] = place((col + 0.5) / wide, (row + 0.5) / high);
      const px = x - 0.5 - box.left;
      const py = y - 0.5 - box.top;
      const ix = Math.floor(px);
      const iy = Math.floor(py);
      if (ix < 0 || iy < 0 || ix >= width - 1 || iy >= height - 1) continue;
      const fx = px - ix;
      const fy = py - iy;
      const at = iy * width + ix;
      for (let c = 0; c < 3; c++) {
        const p = planes[c as 0 | 1 | 2];
        data[to + c] =
          (1 - fy) * ((1 - fx) * p[at]! + fx * p[at + 1]!) + fy * ((1 - fx) * p[at + width]! + fx * p[at + width + 1]!);
      }
      data[to + 3] = 1;
    }
  }
  return { width: wide, height: high, data };
}

/** A flattened picture laid over a box of the picture at each of some moments, averaged: premultiplied light. */
export function layFlat(flat: ContentPyramid, quads: readonly Quad[], box: PixelBox): LightPicture | null {
  const laid = quads.map((quad) => ({
    quad,
    placement: scaling(flat.width, flat.height),
    feather: [0, 0, 0, 0],
    mesh: null,
  }));
  return (
    touchedPixels(quads.flat(), 1, box) &&
    renderPin({ content: flat, laid, reach: ({ quad }) => quad, sides: [false, false, false, false] }, box)
  );
}
