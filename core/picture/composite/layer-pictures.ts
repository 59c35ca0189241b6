import { clamp } from '../../base/geometry/clamp.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { bounds, distance, type Quad } from '../../base/geometry/quad.ts';
import { createCodes, type CodedPicture, type LightPicture } from '../../base/image/picture.ts';
import { lightOfPicture, lightWriter, type PlateColour } from '../../base/image/plate-colour.ts';
import { primariesMatrix } from '../../base/image/primaries.ts';
import { boxWithin, lightOfRegion } from '../../base/image/light-region.ts';
import type { Lens } from '../../motion/lens/lens.ts';
import { flattenSurface } from '../pin/flatten-surface.ts';

/** A coded picture as premultiplied light of BT.709 primaries, opaque. */
export function lightLayer(picture: CodedPicture, colour: PlateColour): LightPicture {
  const { width, height } = picture;
  const light = lightOfPicture(picture, colour);
  const data = new Float32Array(4 * width * height);
  for (let i = 0, at = 0; i < light.length; i += 3, at += 4) {
    data[at] = light[i]!;
    data[at + 1] = light[i + 1]!;
    data[at + 2] = light[i + 2]!;
    data[at + 3] = 1;
  }
  return { width, height, data };
}

/**
 * The insert alone, premultiplied light of BT.709 primaries: laid over the plate's light it gives the finished picture wherever it covers any of it
 * (T. Porter, T. Duff, Compositing digital images, 1984: over, solved for what lies over). Grain may take dark places a little below 0. `matte`: how much of each pixel it covers.
 */
export function insertLayer(
  plate: CodedPicture,
  full: CodedPicture,
  matte: Float32Array,
  colour: PlateColour,
): LightPicture {
  const { width, height } = plate;
  const below = lightOfPicture(plate, colour);
  const above = lightOfPicture(full, colour);
  const data = new Float32Array(4 * width * height);
  for (let i = 0; i < matte.length; i++) {
    const alpha = matte[i]!;
    if (alpha <= 0) continue;
    for (let c = 0; c < 3; c++) data[4 * i + c] = above[3 * i + c]! - (1 - alpha) * below[3 * i + c]!;
    data[4 * i + 3] = alpha;
  }
  return { width, height, data };
}

/** By how much each code of the finished picture differs from the plate's. */
export function changeLayer(plate: CodedPicture, full: CodedPicture): CodedPicture {
  const data = createCodes(plate.peak, plate.data.length);
  for (let i = 0; i < data.length; i++) data[i] = Math.abs(full.data[i]! - plate.data[i]!);
  return { ...plate, data };
}

/** The size of a flattened surface: what its sides measure on the reference frame. */
export function flatSize(reference: Quad): { width: number; height: number } {
  const side = (a: number, b: number, c: number, d: number) =>
    clamp(
      Math.round(Math.max(distance(reference[a]!, reference[b]!), distance(reference[c]!, reference[d]!))),
      16,
      4096,
    );
  return { width: side(0, 1, 3, 2), height: side(0, 3, 1, 2) };
}

/** The surface as the plate shows it, flattened, in codes of the plate's kind; black where the plate does not show it. */
export function flatLayer(
  plate: CodedPicture,
  quad: Quad | null,
  size: { width: number; height: number },
  colour: PlateColour,
  lens?: Lens,
): CodedPicture {
  const box =
    quad &&
    homographyBetweenQuads(
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ],
      quad,
    ) &&
    boxWithin(bounds(quad), 2, plate);
  const flat = box && flattenSurface(lightOfRegion(plate, box, colour), quad, size, lens);
  return {
    ...size,
    data: flat ? codesOfLight(flat.data, 4, colour, plate.peak) : createCodes(plate.peak, 3 * size.width * size.height),
    peak: plate.peak,
  };
}

/** Light of BT.709 primaries, `channels` values a pixel of which three are colours, as three codes a pixel. */
export function codesOfLight(
  light: Float32Array,
  channels: 3 | 4,
  { transfer, primaries }: PlateColour,
  peak: CodedPicture['peak'],
): ReturnType<typeof createCodes> {
  const write = lightWriter(transfer, peak);
  const m = primariesMatrix('bt709', primaries) ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const out = createCodes(peak, (light.length / channels) * 3);
  for (let i = 0, at = 0; i < light.length; i += channels, at += 3) {
    for (let c = 0; c < 3; c++)
      out[at + c] = write(m[3 * c]! * light[i]! + m[3 * c + 1]! * light[i + 1]! + m[3 * c + 2]! * light[i + 2]!);
  }
  return out;
}
