import type { CodedPicture, LightPicture } from '../image/picture.ts';
import { DISPLAY_COLOUR, lightReader, lightWriter, type PlateColour } from '../image/plate-colour.ts';
import { primariesMatrix } from '../image/primaries.ts';
import type { PixelBox } from '../image/pixel-box.ts';

/**
 * Premultiplied source-over of one pixel: co = cs + cb·(1 − αs).
 * Source: W3C, Compositing and Blending Level 1, §5.1 and §9.1.4.
 */
export function over(source: readonly [number, number, number, number], backdrop: readonly [number, number, number, number]): [number, number, number, number] {
  const rest = 1 - source[3];
  return [source[0] + backdrop[0] * rest, source[1] + backdrop[1] * rest, source[2] + backdrop[2] * rest, source[3] + backdrop[3] * rest];
}

/**
 * Lays a layer of premultiplied light over an opaque plate, in light, and writes codes into `out`.
 * Where the layer is empty the plate's own codes stay untouched. The layer has BT.709 primaries; `colour`
 * says what the plate's codes mean.
 */
export function blendOver(layer: LightPicture, box: PixelBox, opacity: number, plate: CodedPicture, out: CodedPicture, colour: PlateColour = DISPLAY_COLOUR): void {
  const toLight = lightReader(colour.transfer, plate.peak), toCode = lightWriter(colour.transfer, plate.peak);
  const matrix = primariesMatrix('bt709', colour.primaries);
  const light = [0, 0, 0];
  const left = Math.max(0, box.left), right = Math.min(plate.width, box.right);
  for (let row = Math.max(0, box.top); row < Math.min(plate.height, box.bottom); row++) {
    for (let col = left; col < right; col++) {
      const source = ((row - box.top) * layer.width + col - box.left) * 4;
      const alpha = layer.data[source + 3]! * opacity;
      if (alpha <= 0) continue;
      const at = (row * plate.width + col) * 3;
      const r = layer.data[source]!, g = layer.data[source + 1]!, b = layer.data[source + 2]!;
      for (let c = 0; c < 3; c++) light[c] = matrix ? matrix[c * 3]! * r + matrix[c * 3 + 1]! * g + matrix[c * 3 + 2]! * b : c === 0 ? r : c === 1 ? g : b;
      for (let c = 0; c < 3; c++) out.data[at + c] = toCode(light[c]! * opacity + toLight(plate.data[at + c]!) * (1 - alpha));
    }
  }
}
