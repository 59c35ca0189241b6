import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { Homography } from '../../base/geometry/homography.ts';
import { speedOfCorners, UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { motionAbout, type QuadMotion } from './shutter-path.ts';

/** A plate with a tracked surface: what is known before its pictures are looked at. */
export interface MeasuredShot {
  /** The surface's corners on the frames where it is seen. */
  readonly quads: ReadonlyMap<number, Quad>;
  readonly width: number;
  readonly height: number;
  /** The surface's width over its height. */
  readonly ratio: number;
  readonly colour: PlateColour;
  readonly referenceFrame: number;
  readonly perSecond: number;
}

export function motionAt({ quads }: MeasuredShot, frame: number): QuadMotion {
  return motionAbout((f) => quads.get(f), frame)!;
}

/** How far the corners go from the frame before to the one after, px a frame; the farthest of them. 0 where no neighbour is known. */
export function speedAt(shot: MeasuredShot, frame: number): number {
  const { before, now, after } = motionAt(shot, frame);
  return speedOfCorners(before, now, after);
}

/** The unit square to the picture; null where the surface is seen edge on. */
export function unitToPicture(quad: Quad): Homography | null {
  return homographyBetweenQuads(UNIT_SQUARE, quad);
}

/** The frame that others are compared with: the reference where it is known, else the known frame nearest to it. */
export function homeFrame({ quads, referenceFrame }: MeasuredShot): number {
  return [...quads.keys()].reduce((a, b) => (Math.abs(b - referenceFrame) < Math.abs(a - referenceFrame) ? b : a));
}
