import type { Quad } from '../geometry/quad.ts';
import { convolveSeparable, gaussianKernel } from '../image/gaussian.ts';
import type { CodedPicture, LightPicture } from '../image/picture.ts';
import { DISPLAY_COLOUR, type PlateColour } from '../image/plate-colour.ts';
import type { PixelBox } from '../image/pixel-box.ts';
import { blendOver } from './blend-over.ts';
import type { ContentPyramid } from './content-pyramid.ts';
import { surfaceToContent } from '../content/place.ts';
import type { ResolvedLook } from './look.ts';
import { renderPin, touchedPixels } from './pin-layer.ts';
import { quadAt, shutterTimes, type QuadMotion } from './shutter-path.ts';

/** `final` takes as many sub-frames as the smear needs, `quick` a few. Nothing else differs. */
export type Quality = 'final' | 'quick';

const QUICK_STEPS = 6;

/** The insert before it is laid over the plate: premultiplied light over `box`. */
export interface InsertLayer {
  layer: LightPicture;
  box: PixelBox;
}

/**
 * Content pinned to a surface on one frame, with motion blur and softness, levels already in the
 * pyramid. Null when it does not touch the picture.
 * Order of operations: levels → placement → shutter → feathered edge → softness.
 */
export function renderInsert(
  content: ContentPyramid, motion: QuadMotion, surfaceRatio: number, look: ResolvedLook, size: { width: number; height: number }, quality: Quality,
): InsertLayer | null {
  const quads: Quad[] = shutterTimes(motion, look.motionBlur, quality === 'quick' ? QUICK_STEPS : undefined).map((time) => quadAt(motion, time));
  const reach = Math.ceil(4 * look.soften) + 1;
  const box = touchedPixels(quads, reach, { left: -reach, top: -reach, right: size.width + reach, bottom: size.height + reach });
  if (!box) return null;
  const placement = surfaceToContent(look.fit, {}, surfaceRatio, content)!;
  const layer = renderPin(content, placement, quads, look.feather, box);
  if (look.soften < 0.05) return { layer, box };
  const data = convolveSeparable(layer.data, layer.width, layer.height, 4, gaussianKernel(look.soften), 'empty');
  return { layer: { ...layer, data }, box };
}

/** The finished frame: the plate with the insert over it, in the plate's own codes. The plate itself is not changed. */
export function composeFrame(
  plate: CodedPicture, content: ContentPyramid, motion: QuadMotion, surfaceRatio: number, look: ResolvedLook, quality: Quality,
  colour: PlateColour = DISPLAY_COLOUR,
): CodedPicture {
  const out: CodedPicture = { ...plate, data: plate.data.slice() };
  if (look.opacity <= 0) return out;
  const insert = renderInsert(content, motion, surfaceRatio, look, plate, quality);
  if (insert) blendOver(insert.layer, insert.box, look.opacity, plate, out, colour);
  return out;
}
