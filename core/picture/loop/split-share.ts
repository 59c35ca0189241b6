import { flattened } from '../matte/roto-shapes.ts';
import { shapeMatte } from '../matte/shape-matte.ts';
import { outlineAt, type KeyedOutline } from '../../base/geometry/outline.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { smooth } from './loop-times.ts';

/** A shape inside of which the second picture comes first, or a line to the right of which (seen along it) it does. */
export interface Split {
  readonly shape?: KeyedOutline | undefined;
  readonly line?:
    | {
        readonly points: readonly Point[];
        readonly keys?: readonly { readonly frame: number; readonly points: readonly Point[] }[] | undefined;
      }
    | undefined;
  /** Frame on which the points are given. */
  readonly home: number;
  /** Width of the soft edge, px, its middle on the outline. */
  readonly soft: number;
}

/** How much of each pixel is within the split on a frame, 0…1. */
export function splitMatte(
  { shape, line, home, soft }: Split,
  frame: number,
  width: number,
  height: number,
): Float32Array {
  const box = { left: 0, top: 0, right: width, bottom: height };
  const half = soft / 2;
  if (shape) {
    const outline = outlineAt(shape, home, frame);
    return shapeMatte(
      flattened(
        outline.points.map((p): Point => [p[0], p[1]]),
        outline.handles,
        () => [half, half],
        (p) => p,
      ),
      box,
    ).data;
  }
  const out = new Float32Array(width * height);
  if (!line) return out.fill(1);
  const [[ax, ay], [bx, by]] = outlineAt(
    {
      points: line.points.map((p) => [...p]),
      keys: line.keys?.map((k) => ({ frame: k.frame, points: k.points.map((p) => [...p]) })),
    },
    home,
    frame,
  ).points as [[number, number], [number, number]];
  const length = Math.hypot(bx - ax, by - ay) || 1;
  const nx = -(by - ay) / length;
  const ny = (bx - ax) / length;
  for (let row = 0, at = 0; row < height; row++)
    for (let col = 0; col < width; col++, at++)
      out[at] = smooth(((col + 0.5 - ax) * nx + (row + 0.5 - ay) * ny) / Math.max(1, soft) + 0.5);
  return out;
}

/**
 * The second picture's share of each pixel when it has gone so far, 0…1: without a split all of the picture alike; with one what lies within goes over in the first half of the time, the rest in
 * the second.
 */
export function shareWhenGone(part: number, split: Float32Array | null, size: number): Float32Array {
  if (!split) return new Float32Array(size).fill(smooth(part));
  return split.map((m) => smooth(2 * part - (1 - m)));
}
