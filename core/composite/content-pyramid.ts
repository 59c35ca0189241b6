import type { ContentPicture } from '../image/picture.ts';
import { DISPLAY_COLOUR, isDisplayColour, lightReader, type PlateColour } from '../image/plate-colour.ts';
import { primariesMatrix } from '../image/primaries.ts';
import { codeToLight, lightToCode } from '../image/transfer.ts';
import { applyLevels, type ResolvedLook } from './look.ts';

/** Content in linear light, premultiplied, at full size and halved until one pixel is left. */
export interface ContentPyramid {
  readonly width: number;
  readonly height: number;
  readonly levels: readonly { width: number; height: number; data: Float32Array }[];
  /** The linear light of the content's black, which fills what content leaves free. */
  readonly black: number;
}

/**
 * Levels are applied to display-referred values, then everything is light. Each level's pixels are
 * means of 2×2 of the one before (a lone last row or column is repeated), so x on level l is x / 2^l.
 */
export function buildContentPyramid(picture: ContentPicture, levels: ResolvedLook['levels'], colour: PlateColour = DISPLAY_COLOUR): ContentPyramid {
  const base = isDisplayColour(colour) && picture.peak !== 1 ? fromDisplayCodes(picture, picture.peak, levels) : fromLight(picture, levels, colour);
  const out = [{ width: picture.width, height: picture.height, data: base }];
  for (let last = out[0]!; last.width > 1 || last.height > 1; last = out.at(-1)!) out.push(halve(last));
  return { width: picture.width, height: picture.height, levels: out, black: codeToLight(levels.black) };
}

function fromDisplayCodes(picture: ContentPicture, peak: 255 | 65535, levels: ResolvedLook['levels']): Float32Array {
  const table = new Float32Array(peak + 1);
  for (let code = 0; code <= peak; code++) table[code] = codeToLight(applyLevels(levels, code / peak));
  const base = new Float32Array(picture.width * picture.height * 4);
  for (let i = 0; i < base.length; i += 4) {
    const alpha = picture.data[i + 3]! / peak;
    base[i] = table[picture.data[i]!]! * alpha;
    base[i + 1] = table[picture.data[i + 1]!]! * alpha;
    base[i + 2] = table[picture.data[i + 2]!]! * alpha;
    base[i + 3] = alpha;
  }
  return base;
}

/** Content of another coding: to light of BT.709 primaries first, then levels on the display codes of that. */
function fromLight(picture: ContentPicture, levels: ResolvedLook['levels'], colour: PlateColour): Float32Array {
  const read = lightReader(colour.transfer, picture.peak);
  const matrix = primariesMatrix(colour.primaries, 'bt709') ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const base = new Float32Array(picture.width * picture.height * 4);
  for (let i = 0; i < base.length; i += 4) {
    const alpha = picture.data[i + 3]! / picture.peak;
    if (alpha <= 0) continue;
    // Floats come premultiplied: the colour itself is had by dividing.
    const share = picture.peak === 1 ? 1 / alpha : 1;
    const r = read(picture.data[i]! * share), g = read(picture.data[i + 1]! * share), b = read(picture.data[i + 2]! * share);
    for (let c = 0; c < 3; c++) {
      const code = lightToCode(Math.max(0, matrix[c * 3]! * r + matrix[c * 3 + 1]! * g + matrix[c * 3 + 2]! * b));
      base[i + c] = codeToLight(applyLevels(levels, code)) * alpha;
    }
    base[i + 3] = alpha;
  }
  return base;
}

function halve(from: { width: number; height: number; data: Float32Array }) {
  const width = (from.width + 1) >> 1, height = (from.height + 1) >> 1;
  const data = new Float32Array(width * height * 4);
  for (let row = 0; row < height; row++) {
    const upper = 2 * row * from.width, lower = Math.min(from.height - 1, 2 * row + 1) * from.width;
    for (let col = 0; col < width; col++) {
      const left = 2 * col, right = Math.min(from.width - 1, 2 * col + 1);
      const a = (upper + left) * 4, b = (upper + right) * 4, c = (lower + left) * 4, d = (lower + right) * 4;
      const at = (row * width + col) * 4;
      for (let k = 0; k < 4; k++) data[at + k] = (from.data[a + k]! + from.data[b + k]! + from.data[c + k]! + from.data[d + k]!) * 0.25;
    }
  }
  return { width, height, data };
}
