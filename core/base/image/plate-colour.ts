import { clamp } from '../geometry/clamp.ts';
import { createCodes, type CodedPicture, type Peak } from './picture.ts';
import { primariesMatrix, type PrimariesName } from './primaries.ts';
import { codeToLight, encodeLight, lightTable } from './transfer.ts';
import { TRANSFERS, type TransferName } from './transfer-curves.ts';
import type { CubeLut } from './cube-lut.ts';

/** What a picture's codes mean. */
export interface PlateColour {
  readonly transfer: TransferName;
  readonly primaries: PrimariesName;
}

/** Codes as an ordinary display shows them: those of content, previews and 8-bit plates. */
export const DISPLAY_COLOUR: PlateColour = { transfer: 'srgb', primaries: 'bt709' };

export function isDisplayColour({ transfer, primaries }: PlateColour): boolean {
  return transfer === 'srgb' && primaries === 'bt709';
}

const tables = new Map<string, Float32Array>();

/** A function from codes of a picture to light. Integer codes go through a table. */
export function lightReader(transfer: TransferName, peak: Peak): (code: number) => number {
  if (peak === 1) return TRANSFERS[transfer].toLight;
  const table = integerTable(transfer, peak);
  return (code) => table[code]!;
}

/** Light of every integer code 0…peak. */
export function integerTable(transfer: TransferName, peak: 255 | 65535): Float32Array {
  if (transfer === 'srgb') return lightTable(peak);
  const key = `${transfer}/${peak}`;
  let table = tables.get(key);
  if (!table) {
    table = new Float32Array(peak + 1);
    for (let code = 0; code <= peak; code++) table[code] = TRANSFERS[transfer].toLight(code / peak);
    tables.set(key, table);
  }
  return table;
}

/** A function from light to codes: integers rounded and kept within 0…peak, floats as they come. */
export function lightWriter(transfer: TransferName, peak: Peak): (light: number) => number {
  const { toCode } = TRANSFERS[transfer];
  if (peak === 1) return toCode;
  if (transfer === 'srgb') return (light) => (encodeLight(light) * peak + 0.5) | 0;
  return (light) => {
    const code = toCode(light) * peak + 0.5;
    return code > 0 ? (code < peak + 1 ? code | 0 : peak) : 0;
  };
}

/** Linear light, three floats a pixel, in BT.709 primaries. */
export function lightOfPicture(picture: CodedPicture, colour: PlateColour): Float32Array {
  const read = lightReader(colour.transfer, picture.peak);
  const out = new Float32Array(picture.data.length);
  for (let i = 0; i < out.length; i++) out[i] = read(picture.data[i]!);
  const matrix = primariesMatrix(colour.primaries, 'bt709');
  if (matrix) {
    for (let i = 0; i < out.length; i += 3) {
      const r = out[i]!;
      const g = out[i + 1]!;
      const b = out[i + 2]!;
      out[i] = matrix[0] * r + matrix[1] * g + matrix[2] * b;
      out[i + 1] = matrix[3] * r + matrix[4] * g + matrix[5] * b;
      out[i + 2] = matrix[6] * r + matrix[7] * g + matrix[8] * b;
    }
  }
  return out;
}

/**
 * The picture as 8-bit codes for an ordinary display. Codes that are display codes already are only
 * rounded; others go through light, or, when a person chose one, through a table over the codes. `stops` brighten
 * for looking at what 8 bits would swallow.
 */
export function displayPicture(
  picture: CodedPicture,
  colour: PlateColour,
  lut: CubeLut | null = null,
  stops = 0,
): CodedPicture {
  const gain = 2 ** stops;
  const { width, height } = picture;
  const data = createCodes(255, picture.data.length);
  if (lut) {
    const rgb: [number, number, number] = [0, 0, 0];
    for (let i = 0; i < data.length; i += 3) {
      lut.apply(
        picture.data[i]! / picture.peak,
        picture.data[i + 1]! / picture.peak,
        picture.data[i + 2]! / picture.peak,
        rgb,
      );
      for (let c = 0; c < 3; c++)
        data[i + c] = (gain === 1 ? clamp(rgb[c]!, 0, 1) : encodeLight(codeToLight(rgb[c]!) * gain)) * 255 + 0.5;
    }
  } else if (isDisplayColour(colour) && picture.peak !== 1 && gain === 1) {
    if (picture.peak === 255) return picture;
    for (let i = 0; i < data.length; i++) data[i] = (picture.data[i]! + 128) / 257;
  } else {
    const light = lightOfPicture(picture, colour);
    for (let i = 0; i < data.length; i++) data[i] = encodeLight(light[i]! * gain) * 255 + 0.5;
  }
  return { width, height, data, peak: 255 };
}
