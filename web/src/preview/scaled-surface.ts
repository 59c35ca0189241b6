import type { QuadMotion } from '../../../core/picture/pin/shutter-path.ts';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import type { Lens } from '../../../core/motion/lens/lens.ts';

/** A lens's unit is its focal length: in a smaller picture that is shorter. */
export function scaledLens(lens: Lens | undefined, scale: number): Lens | undefined {
  return lens && { ...lens, centre: [lens.centre[0] * scale, lens.centre[1] * scale], focal: lens.focal * scale };
}

/** Corners on a plate picture that is smaller than the plate. */
export function scaledQuad<Q extends Quad | null>(quad: Q, scale: number): Q {
  return quad && (quad.map(([x, y]) => [x * scale, y * scale]) as unknown as Q);
}
export function scaledMotion({ before, now, after, beyond = [] }: QuadMotion, scale: number): QuadMotion {
  return {
    before: scaledQuad(before, scale),
    now: scaledQuad(now, scale),
    after: scaledQuad(after, scale),
    beyond: beyond.map(({ time, quad }) => ({ time, quad: scaledQuad(quad, scale) })),
  };
}
