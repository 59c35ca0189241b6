import { distance, type Quad } from '../../../core/base/geometry/quad.ts';
import type { ResolvedLook } from '../../../core/picture/look/look.ts';

/** A picture in haste is made no larger than it is shown, in steps, so that zooming a little does not decode it again. */
const STEP = 64;
/** Content in haste is taken so many times finer than it is seen, no more. */
const FINER = 1.5;

/** The most pixels across for a picture of the plate that takes so many of the screen's. */
export function quickWidth(onScreen: number): number {
  return Math.max(STEP, Math.ceil(onScreen / STEP) * STEP);
}

/** The most pixels across for content on a surface at `quad`. A crop is given in the content's own pixels: it is taken whole then. */
export function quickContent(
  width: number,
  height: number,
  quad: Quad,
  { place }: Pick<ResolvedLook, 'place'>,
): number {
  if (place.crop) return width;
  const [sx, sy] = (place.scale ?? [1, 1]).map((s) => Math.max(1, Math.abs(s)));
  const across = Math.max(distance(quad[0], quad[1]), distance(quad[3], quad[2]));
  const down = Math.max(distance(quad[0], quad[3]), distance(quad[1], quad[2]));
  const turned = place.turn || (place.quarters ?? 0) % 2 !== 0;
  const [a, d] = turned ? [Math.max(across, down), Math.max(across, down)] : [across, down];
  const share = FINER * Math.max((a * sx!) / width, (d * sy!) / height);
  // In steps, so that one picture of it serves several frames.
  return Math.min(width, Math.ceil(width * 2 ** (Math.ceil(4 * Math.log2(Math.max(share, 1 / width))) / 4)));
}
