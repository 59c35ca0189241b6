import { numberAt } from '../../base/time/keyframes.ts';
import { applyToPoint, type Homography, type Point } from '../../base/geometry/homography.ts';
import { shapeOutline, type ShapeSetting } from '../matte/roto-shapes.ts';
import type { CleanFix, FillMethod } from '../look/clean-fix.ts';

/** A fix as it lies on one frame. */
export interface FixOnFrame {
  /** In shares of the surface; empty where it is not seen. */
  readonly outline: readonly Point[];
  readonly method: FillMethod;
  readonly from: Point | undefined;
  readonly soft: number | undefined;
  /** How much of it counts, 0…1. */
  readonly opacity: number;
}

/** Where a fix lies: `place` leads from shares to where the picture shows them, `back` from the picture to shares by the corners alone. */
export interface FixSetting {
  readonly shapes: ShapeSetting;
  readonly place: (u: number, v: number) => Point;
  readonly back: Homography;
}

/** A fix on a frame; its outline in the shares that the corners of the frame make of the picture. */
export function fixOnFrame(
  { outline = [], shape, method, from, soft }: CleanFix,
  { shapes, place, back }: FixSetting,
): FixOnFrame {
  const seen = shape ? (shapeOutline(shape, shapes)?.points ?? []) : outline.map(([u, v]) => place(u, v));
  return {
    outline: seen.map((p) => applyToPoint(back, p)),
    method,
    from,
    soft: soft ?? (shape?.soft ? shape.soft[1] : undefined),
    opacity: shape?.opacity === undefined ? 1 : numberAt(shape.opacity, shapes.frame),
  };
}
