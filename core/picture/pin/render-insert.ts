import { shadeInsert } from './shade-insert.ts';
import { discBlur } from '../../base/image/disc-blur.ts';
import { convolveSeparable, gaussianKernel } from '../../base/filters/gaussian.ts';
import { touchedPixels } from '../../base/image/pixel-box.ts';
import { lookNow } from '../look/look.ts';
import { layOver, renderPin, type InsertLayer } from './pin-layer.ts';
import { FINE_STEPS, QUICK_STEPS } from './shutter-path.ts';
import { laidContents, type PictureSize, type PinnedSurface } from './pinned-surface.ts';

/** `final` takes as many sub-frames as the smear needs and the stated kernel, `quick` a few and a simpler one. Nothing else differs. */
export type Quality = 'final' | 'quick';

/** Softer than this, px, is distinguished from not soft at all. */
const LEAST_SOFT = 0.05;
const LEAST_DISC = 0.3;

/**
 * Content pinned to a surface on one frame, with motion blur, softness and the light of this frame, levels already in the
 * pyramid. Null when it does not touch the picture. `outset` moves the surface's outline outward, px.
 * Order of operations: levels → placement → shutter → cropped, round, feathered edge → softness → light and pattern of the screen.
 */
export function renderInsert(
  surface: PinnedSurface,
  size: PictureSize,
  quality: Quality,
  outset = 0,
): InsertLayer | null {
  const now = lookNow(surface.look, surface.frame);
  const { soften } = now;
  const disc = now.disc < LEAST_DISC ? 0 : now.disc;
  const reach = Math.ceil(4 * soften + disc) + 1;
  const wider = outset + Math.max(0, ...now.crop.map((c) => -c));
  const all = laidContents(surface, size, quality === 'quick' ? QUICK_STEPS : FINE_STEPS, outset);
  const box = touchedPixels(
    all.flatMap((one) => one.laid.flatMap((laid) => [...one.reach(laid)])),
    reach + wider,
    { left: -reach, top: -reach, right: size.width + reach, bottom: size.height + reach },
  );
  if (!box) return null;
  const cover = new Float32Array((box.right - box.left) * (box.bottom - box.top));
  const main = Math.max(
    0,
    surface.contents.findIndex((one) => !one.depth),
  );
  const kernel = soften < LEAST_SOFT ? undefined : gaussianKernel(soften);
  const alone = all.length === 1;
  const [first, ...others] = all.map((one, i) =>
    renderPin(
      quality === 'quick' ? { ...one, quick: true } : one,
      box,
      i === main ? cover : undefined,
      alone ? kernel : undefined,
    ),
  );
  for (const other of others) layOver(other, first!);
  let layer = first!;
  let covered: Float32Array = cover;
  const { width, height } = layer;
  const soften4 = (blur: (data: Float32Array, channels: number) => Float32Array) => {
    layer = { width, height, data: blur(layer.data, 4) };
    covered = blur(covered, 1);
  };
  if (kernel && !alone) soften4((data, channels) => convolveSeparable(data, width, height, channels, kernel, 'empty'));
  if (disc > 0) soften4((data, channels) => discBlur(data, width, height, channels, disc));
  const insert = { layer, box, cover: covered };
  shadeInsert(insert, surface, now, size);
  return insert;
}
