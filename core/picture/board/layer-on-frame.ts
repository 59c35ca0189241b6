import { clamp } from '../../base/geometry/clamp.ts';
import { numberAt, numbersAt, type Keyed } from '../../base/time/keyframes.ts';
import { applyToPoints, compose, translation, scaling, type Homography } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { BoardLayer } from '../../base/schemas/types.ts';

type Pair = readonly [number, number];
type Sides = readonly [number, number, number, number];

/** What a layer is on a frame. */
export interface LayerOnFrame {
  /** From the layer's own pixels to the board's. */
  readonly toBoard: Homography;
  readonly opacity: number;
  /** What is cut off its left, top, right and bottom, its own pixels. */
  readonly crop: Sides;
}

/** A layer on a frame, or null where it is not seen. Keys lie on the plate's frames. */
export function layerOnFrame(layer: BoardLayer, frame: number): LayerOnFrame | null {
  if (layer.off || frame < (layer.from ?? -Infinity) || frame > (layer.to ?? Infinity)) return null;
  const opacity = clamp(numberAt(layer.opacity ?? 1, frame), 0, 1);
  if (opacity <= 0) return null;
  const [x, y] = numbersAt((layer.position ?? [0, 0]) as Keyed<Pair>, frame);
  const [ax, ay] = numbersAt((layer.anchor ?? [0, 0]) as Keyed<Pair>, frame);
  const [sx, sy] = numbersAt((layer.scale ?? [1, 1]) as Keyed<Pair>, frame);
  if (sx === 0 || sy === 0) return null;
  const turn = (numberAt(layer.rotation ?? 0, frame) * Math.PI) / 180;
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  return {
    toBoard: compose(translation(x, y), [cos, -sin, 0, sin, cos, 0, 0, 0, 1], scaling(sx, sy), translation(-ax, -ay)),
    opacity,
    crop: numbersAt((layer.crop ?? [0, 0, 0, 0]) as Keyed<Sides>, frame),
  };
}

/** The corners of what is left of a layer of a size, on the board; null where nothing is. */
export function layerCorners(
  { toBoard, crop: [left, top, right, bottom] }: LayerOnFrame,
  size: { width: number; height: number },
): Quad | null {
  const r = size.width - right;
  const b = size.height - bottom;
  return r > left && b > top
    ? applyToPoints(toBoard, [
        [left, top],
        [r, top],
        [r, b],
        [left, b],
      ])
    : null;
}
