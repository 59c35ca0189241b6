import { numberAt } from '../../base/time/keyframes.ts';
import type { InsertLayer } from '../pin/pin-layer.ts';
import { convolveSeparable, gaussianKernel } from '../../base/filters/gaussian.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import type { Reflections } from '../../base/schemas/types.ts';

/** Light that a surface mirrors, over a box of the picture. */
export interface MirroredLight {
  readonly box: PixelBox;
  readonly planes: readonly Float32Array[];
}

/** Adds what the surface mirrors to an insert, as much as the insert covers; relit and softened first where that is asked for. In place. */
export function layReflection(
  { layer, box }: InsertLayer,
  { box: from, planes }: MirroredLight,
  { gain = 1, tint = [1, 1, 1], blur = 0 }: Reflections,
  frame: number,
): void {
  const width = from.right - from.left;
  const height = from.bottom - from.top;
  const soft = numberAt(blur, frame);
  const strength = numberAt(gain, frame);
  const light =
    soft > 0.1
      ? planes.map((plane) => convolveSeparable(plane, width, height, 1, gaussianKernel(soft), 'repeat'))
      : planes;
  const left = Math.max(box.left, from.left);
  const right = Math.min(box.right, from.right);
  for (let row = Math.max(box.top, from.top); row < Math.min(box.bottom, from.bottom); row++) {
    for (
      let col = left,
        at = ((row - box.top) * layer.width + left - box.left) * 4,
        i = (row - from.top) * width + left - from.left;
      col < right;
      col++, at += 4, i++
    ) {
      const alpha = layer.data[at + 3]!;
      if (alpha <= 0) continue;
      for (let c = 0; c < 3; c++)
        layer.data[at + c] = Math.max(0, layer.data[at + c]! + alpha * strength * tint[c]! * light[c]![i]!);
    }
  }
}
