import { layOver } from '../pin/pin-layer.ts';
import { createLightPicture } from '../../base/image/picture.ts';
import { encodeLight } from '../../base/image/transfer.ts';
import type { BoardPart } from './render-board.ts';

/** A drawn board by itself, all depths one over the other: straight 8-bit display codes, four a pixel. */
export function flatBoard(parts: readonly BoardPart[]): {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
} {
  const { width, height } = parts[0]!.pyramid;
  const rgba = new Uint8ClampedArray(width * height * 4);
  const whole = createLightPicture(width, height);
  for (const { pyramid } of parts) layOver(pyramid.level(0), whole);
  for (let i = 0; i < rgba.length; i += 4) {
    const alpha = whole.data[i + 3]!;
    for (let c = 0; c < 3; c++) rgba[i + c] = alpha > 0 ? 255 * encodeLight(whole.data[i + c]! / alpha) : 0;
    rgba[i + 3] = 255 * alpha;
  }
  return { width, height, rgba };
}
