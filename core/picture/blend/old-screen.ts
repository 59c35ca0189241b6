import { ContentPyramid } from '../pin/content-pyramid.ts';
import { NEUTRAL_LOOK } from '../look/look.ts';
import type { InsertLayer } from '../pin/pin-layer.ts';
import type { PictureSize, PinnedSurface } from '../pin/pinned-surface.ts';
import { renderInsert, type Quality } from '../pin/render-insert.ts';
import { coarseFill } from '../matte/coarse-fill.ts';
import type { LightRegion } from '../../base/image/light-region.ts';

type Planes = [Float32Array, Float32Array, Float32Array];

/** From this share of screen on a pixel tells what the screen mirrors. */
const SOLID = 0.97;
const BLOCK = 2;

/** The screen as it was filmed, laid as the content is: what of each pixel is screen (alpha), and its light. Null where nothing tells it. */
export function oldScreen(surface: PinnedSurface, size: PictureSize, quality: Quality): InsertLayer | null {
  const { look, clean } = surface;
  const black = look.reflections?.from === 'dark' ? look.reflections.black : undefined;
  const pyramid = black
    ? new ContentPyramid({ width: 1, height: 1, data: Float32Array.of(...black, 1) }, 0)
    : clean?.pyramid;
  if (!pyramid) return null;
  const { mesh, motionBlur, soften, disc, radius, exposure } = look;
  return renderInsert(
    {
      ...surface,
      contents: [{ pyramid }],
      look: { ...NEUTRAL_LOOK, mesh, motionBlur, soften, disc, radius, exposure },
    },
    size,
    quality,
  );
}

/**
 * Takes the filmed screen's light off the pixels that show it in part, so that they are what of the frame around it is seen there, as if it covered
 * them whole: laid over, content then replaces the screen's share exactly, smeared or soft. With `mirrored` what the screen mirrors is given
 * besides: the plate's light within less the screen's own, grown outward under its border. `front` is how much of each pixel stands before the
 * screen, which shows that much less of it. `region` (the plate's light) is changed.
 */
export function takeOldScreenOff(
  region: LightRegion,
  { layer, box }: InsertLayer,
  mirrored: boolean,
  front: Float32Array | null = null,
): Planes | null {
  const { width, height, planes } = region;
  const n = width * height;
  const share = new Float32Array(n);
  const light: Planes = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  const left = Math.max(box.left, region.box.left);
  const right = Math.min(box.right, region.box.right);
  for (let row = Math.max(box.top, region.box.top); row < Math.min(box.bottom, region.box.bottom); row++) {
    for (
      let col = left,
        at = ((row - box.top) * layer.width + left - box.left) * 4,
        i = (row - region.box.top) * width + left - region.box.left;
      col < right;
      col++, at += 4, i++
    ) {
      const seen = front ? 1 - front[i]! : 1;
      share[i] = seen * layer.data[at + 3]!;
      for (let c = 0; c < 3; c++) light[c]![i] = seen * layer.data[at + c]!;
    }
  }
  const reflected = mirrored ? mirroredLight(planes, light, share, width, height) : null;
  for (let i = 0; i < n; i++) {
    const m = share[i]!;
    if (m <= 0 || m >= SOLID) continue;
    for (let c = 0; c < 3; c++)
      planes[c as 0 | 1 | 2][i] =
        Math.max(0, planes[c as 0 | 1 | 2][i]! - light[c]![i]! - (reflected ? m * reflected[c]![i]! : 0)) / (1 - m);
  }
  return reflected;
}

/** What is left of the plate without the screen's own light, of a pixel that is all screen; it may be less than nothing by the plate's noise. */
function mirroredLight(
  planes: LightRegion['planes'],
  light: Planes,
  share: Float32Array,
  width: number,
  height: number,
): Planes {
  const solid = share.map((m) => (m >= SOLID ? 1 : 0));
  const out = planes.map((plane, c) =>
    plane.map((v, i) => (solid[i] === 1 ? (v - light[c]![i]!) / share[i]! : 0)),
  ) as Planes;
  const grown = coarseFill(out, solid, width, height, BLOCK);
  for (let c = 0; c < 3; c++)
    for (let i = 0; i < share.length; i++) if (solid[i] === 0 && share[i]! > 0) out[c]![i] = grown[c]![i]!;
  return out;
}

/** Whether a look asks for the filmed screen's light at all. */
export function needsOldScreen({ look }: PinnedSurface): boolean {
  return look.oldScreen === 'edges' || look.reflections?.from === 'dark';
}
