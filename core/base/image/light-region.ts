import type { CodedPicture } from './picture.ts';
import type { PixelBox } from './pixel-box.ts';
import { integerTable, lightReader, type PlateColour } from './plate-colour.ts';
import { primariesMatrix } from './primaries.ts';

/** A part of a picture in linear light of BT.709 primaries: one plane for each channel, row after row of its box. */
export interface LightRegion {
  readonly box: PixelBox;
  readonly width: number;
  readonly height: number;
  readonly planes: readonly [Float32Array, Float32Array, Float32Array];
}

export function emptyRegion(box: PixelBox): LightRegion {
  const width = box.right - box.left;
  const height = box.bottom - box.top;
  const plane = () => new Float32Array(width * height);
  return { box, width, height, planes: [plane(), plane(), plane()] };
}

/** The light of the part of a picture that a box is; the box must lie within the picture. */
export function lightOfRegion(picture: CodedPicture, box: PixelBox, { transfer, primaries }: PlateColour): LightRegion {
  const region = emptyRegion(box);
  const [red, green, blue] = region.planes;
  const matrix = primariesMatrix(primaries, 'bt709');
  const { data, peak } = picture;
  const table = peak === 1 ? null : integerTable(transfer, peak);
  const read = lightReader(transfer, peak);
  for (let row = 0, at = 0; row < region.height; row++) {
    for (
      let from = ((box.top + row) * picture.width + box.left) * 3, end = from + region.width * 3;
      from < end;
      from += 3, at++
    ) {
      // Looked up just here: a function for each of a million codes costs more than the table.
      red[at] = table ? table[data[from]!]! : read(data[from]!);
      green[at] = table ? table[data[from + 1]!]! : read(data[from + 1]!);
      blue[at] = table ? table[data[from + 2]!]! : read(data[from + 2]!);
    }
  }
  if (matrix) {
    for (let i = 0; i < red.length; i++) {
      const r = red[i]!;
      const g = green[i]!;
      const b = blue[i]!;
      red[i] = matrix[0] * r + matrix[1] * g + matrix[2] * b;
      green[i] = matrix[3] * r + matrix[4] * g + matrix[5] * b;
      blue[i] = matrix[6] * r + matrix[7] * g + matrix[8] * b;
    }
  }
  return region;
}

/** A box grown by whole pixels and cut to a picture; null when nothing is left. */
export function boxWithin(
  { left, top, right, bottom }: { left: number; top: number; right: number; bottom: number },
  grow: number,
  size: { width: number; height: number },
): PixelBox | null {
  const box = {
    left: Math.max(0, Math.floor(left - grow)),
    top: Math.max(0, Math.floor(top - grow)),
    right: Math.min(size.width, Math.ceil(right + grow)),
    bottom: Math.min(size.height, Math.ceil(bottom + grow)),
  };
  return box.right > box.left && box.bottom > box.top ? box : null;
}
