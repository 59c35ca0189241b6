import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import type { LookNow } from '../look/look.ts';

/** The corners on a frame and, where known, on its neighbours. */
export interface QuadMotion {
  readonly before: Quad | null;
  readonly now: Quad;
  readonly after: Quad | null;
  /** Frames farther away, with how far, as far as all between are known. */
  readonly beyond?: readonly { readonly time: number; readonly quad: Quad }[] | undefined;
}

/** So many frames to either side tell how a surface goes; at the end of what is known the other side has at most two more. */
const FRAMES_ASIDE = 3;
const MORE_ASIDE = 2;

/** A surface's motion about a frame, of corners by frame. */
export function motionAbout(cornersAt: (frame: number) => Quad | null | undefined, frame: number): QuadMotion | null {
  const now = cornersAt(frame);
  if (!now) return null;
  const aside = ([-1, 1] as const).map((way) => {
    const quads: Quad[] = [];
    for (let step = 1, quad; step <= FRAMES_ASIDE && (quad = cornersAt(frame + way * step)); step++) quads.push(quad);
    return quads;
  });
  const beyond = aside.flatMap((quads, side) =>
    quads
      .slice(1, aside[1 - side]!.length + MORE_ASIDE)
      .map((quad, i) => ({ time: (side === 0 ? -1 : 1) * (i + 2), quad })),
  );
  return { before: aside[0]![0] ?? null, now, after: aside[1]![0] ?? null, ...(beyond.length > 0 ? { beyond } : {}) };
}

/**
 * The corners `time` frames away from now: the polynomial through all known positions (a line through two, a parabola through three, one of the
 * sixth degree through seven), by Lagrange's formula. On a jerk of four frames the parabola is a tenth too slow in its middle, one through five a twentieth.
 */
export function quadAt({ before, now, after, beyond = [] }: QuadMotion, time: number): Quad {
  const known = [
    { time: 0, quad: now },
    ...(before ? [{ time: -1, quad: before }] : []),
    ...(after ? [{ time: 1, quad: after }] : []),
    ...beyond,
  ];
  const weights = known.map(({ time: own }) =>
    known.reduce((w, { time: other }) => (other === own ? w : (w * (time - other)) / (own - other)), 1),
  );
  const at = (corner: number, axis: 0 | 1) =>
    known.reduce((sum, { quad }, k) => sum + weights[k]! * quad[corner]![axis], 0);
  return mapTuple([0, 1, 2, 3], (corner) => [at(corner, 0), at(corner, 1)] as const);
}

/** How densely the open shutter is looked at. */
export interface ShutterSteps {
  /** Moments for each pixel of smear, of which the first few are as many as a fine look takes, and the most. */
  readonly perPixel: number;
  readonly first: number;
  readonly most: number;
}

/** Keeps the error under 1/255 for hard-edged content. */
export const FINE_STEPS: ShutterSteps = { perPixel: 2.5, first: 0, most: 128 };
/** For a picture that is replaced in a moment: a fast smear still shows no row of copies. */
export const QUICK_STEPS: ShutterSteps = { perPixel: 0.3, first: 4, most: 12 };

/** Evenly spaced moments of the open shutter, in frames relative to the frame's time. */
export function shutterTimes(
  motion: QuadMotion,
  blur: LookNow['motionBlur'],
  { perPixel, first, most } = FINE_STEPS,
): number[] {
  const open = blur.shutter / 360;
  const middle = blur.phase / 360;
  const start = quadAt(motion, middle - open / 2);
  const end = quadAt(motion, middle + open / 2);
  const smear = Math.max(...start.map((corner, i) => distance(corner, end[i]!)));
  const fine = Math.ceil(smear * FINE_STEPS.perPixel);
  const steps = Math.min(most, Math.max(1, Math.min(first, fine), Math.ceil(smear * perPixel)));
  return Array.from({ length: steps }, (_, k) => middle + open * ((k + 0.5) / steps - 0.5));
}
