import type { CodedPicture, LightPicture } from '../../base/image/picture.ts';
import {
  DISPLAY_COLOUR,
  isDisplayColour,
  lightReader,
  lightWriter,
  type PlateColour,
} from '../../base/image/plate-colour.ts';
import { primariesMatrix } from '../../base/image/primaries.ts';
import { lightTable } from '../../base/image/transfer.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import { codeWriter } from '../../base/image/code-writer.ts';
import type { InsertLayer } from '../pin/pin-layer.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';

/**
 * Premultiplied source-over of one pixel: co = cs + cb·(1 − αs).
 * Source: W3C, Compositing and Blending Level 1, §5.1 and §9.1.4.
 */
export function over(
  source: readonly [number, number, number, number],
  backdrop: readonly [number, number, number, number],
): [number, number, number, number] {
  const rest = 1 - source[3];
  return [
    source[0] + backdrop[0] * rest,
    source[1] + backdrop[1] * rest,
    source[2] + backdrop[2] * rest,
    source[3] + backdrop[3] * rest,
  ];
}

/**
 * Lays a layer of premultiplied light over an opaque plate, in light, and writes codes into `out`.
 * Where the layer is empty the plate's own codes stay untouched. The layer has BT.709 primaries; `colour`
 * says what the plate's codes mean.
 */
export function blendOver(
  layer: LightPicture,
  box: PixelBox,
  opacity: number,
  plate: CodedPicture,
  out: CodedPicture,
  colour: PlateColour = DISPLAY_COLOUR,
): void {
  if (plate.peak === 255 && out.peak === 255 && isDisplayColour(colour)) {
    overDisplayCodes(layer, box, opacity, plate, out);
    return;
  }
  const toLight = lightReader(colour.transfer, plate.peak);
  const toCode = lightWriter(colour.transfer, plate.peak);
  const matrix = primariesMatrix('bt709', colour.primaries);
  const light = [0, 0, 0];
  const left = Math.max(0, box.left);
  const right = Math.min(plate.width, box.right);
  for (let row = Math.max(0, box.top); row < Math.min(plate.height, box.bottom); row++) {
    for (let col = left; col < right; col++) {
      const source = ((row - box.top) * layer.width + col - box.left) * 4;
      const alpha = layer.data[source + 3]! * opacity;
      if (alpha <= 0) continue;
      const at = (row * plate.width + col) * 3;
      const r = layer.data[source]!;
      const g = layer.data[source + 1]!;
      const b = layer.data[source + 2]!;
      for (let c = 0; c < 3; c++)
        light[c] = matrix
          ? matrix[c * 3]! * r + matrix[c * 3 + 1]! * g + matrix[c * 3 + 2]! * b
          : c === 0
            ? r
            : c === 1
              ? g
              : b;
      for (let c = 0; c < 3; c++)
        out.data[at + c] = toCode(light[c]! * opacity + toLight(plate.data[at + c]!) * (1 - alpha));
    }
  }
}

/** The same for 8-bit display codes, as most pictures have. */
function overDisplayCodes(
  { data, width }: LightPicture,
  box: PixelBox,
  opacity: number,
  plate: CodedPicture,
  out: CodedPicture,
): void {
  const codes = plate.data as Uint8Array;
  const light = lightTable(255);
  const left = Math.max(0, box.left);
  const right = Math.min(plate.width, box.right);
  const write = codeWriter(out, DISPLAY_COLOUR);
  for (let row = Math.max(0, box.top); row < Math.min(plate.height, box.bottom); row++) {
    for (
      let col = left, from = ((row - box.top) * width + left - box.left) * 4, at = (row * plate.width + left) * 3;
      col < right;
      col++, from += 4, at += 3
    ) {
      const alpha = data[from + 3]! * opacity;
      const rest = 1 - alpha;
      if (alpha > 0)
        write(
          at,
          data[from]! * opacity + light[codes[at]!]! * rest,
          data[from + 1]! * opacity + light[codes[at + 1]!]! * rest,
          data[from + 2]! * opacity + light[codes[at + 2]!]! * rest,
        );
    }
  }
}

/** As blendOver, over the plate's light told in `region`; the plate's own codes stay where the layer is empty or beyond the region. */
export function blendOverLight(
  { layer, box }: InsertLayer,
  opacity: number,
  region: LightRegion,
  out: CodedPicture,
  colour: PlateColour,
): void {
  const left = Math.max(box.left, region.box.left);
  const right = Math.min(box.right, region.box.right);
  const [red, green, blue] = region.planes;
  const write = codeWriter(out, colour);
  for (let row = Math.max(box.top, region.box.top); row < Math.min(box.bottom, region.box.bottom); row++) {
    for (
      let col = left,
        at = ((row - box.top) * layer.width + left - box.left) * 4,
        i = (row - region.box.top) * region.width + left - region.box.left;
      col < right;
      col++, at += 4, i++
    ) {
      const alpha = layer.data[at + 3]! * opacity;
      const rest = 1 - alpha;
      if (alpha <= 0) continue;
      write(
        (row * out.width + col) * 3,
        layer.data[at]! * opacity + rest * red[i]!,
        layer.data[at + 1]! * opacity + rest * green[i]!,
        layer.data[at + 2]! * opacity + rest * blue[i]!,
      );
    }
  }
}
