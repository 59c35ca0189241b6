import type { ContentPicture, LightPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR, isDisplayColour, lightReader, type PlateColour } from '../../base/image/plate-colour.ts';
import { primariesMatrix } from '../../base/image/primaries.ts';
import { codeToLight, lightToCode } from '../../base/image/transfer.ts';
import { halveLight } from './halve-light.ts';
import { colourMatrix } from './colour-matrix.ts';
import { applyLevels, type LevelsNow } from '../look/look.ts';

/** Content in linear light, premultiplied, at full size and halved until one pixel is left; a level is made when it is first asked for. */
export class ContentPyramid {
  readonly width: number;
  readonly height: number;
  /** Halvings until one pixel is left. */
  readonly coarsest: number;
  private readonly made: LightPicture[];

  /** `black` is the linear light of the content's black, which fills what content leaves free. */
  constructor(
    base: LightPicture,
    readonly black: number,
  ) {
    this.width = base.width;
    this.height = base.height;
    this.coarsest = Math.ceil(Math.log2(Math.max(base.width, base.height, 1)));
    this.made = [base];
  }

  /** x on level l is x / 2^l. */
  level(l: number): LightPicture {
    while (this.made.length <= l) this.made.push(halveLight(this.made.at(-1)!));
    return this.made[l]!;
  }
}

/** Levels are applied to display-referred values, then everything is light: there its colours are changed. */
export function buildContentPyramid(
  picture: ContentPicture,
  levels: LevelsNow,
  colour: PlateColour = DISPLAY_COLOUR,
): ContentPyramid {
  const data =
    isDisplayColour(colour) && picture.peak !== 1
      ? fromDisplayCodes(picture, picture.peak, levels)
      : fromLight(picture, levels, colour);
  const matrix = colourMatrix(levels.saturation, levels.hue, levels.tint);
  if (matrix) {
    for (let i = 0; i < data.length; i += 4) {
      const r = data[i]!;
      const g = data[i + 1]!;
      const b = data[i + 2]!;
      for (let c = 0; c < 3; c++)
        data[i + c] = Math.max(0, matrix[3 * c]! * r + matrix[3 * c + 1]! * g + matrix[3 * c + 2]! * b);
    }
  }
  return new ContentPyramid({ width: picture.width, height: picture.height, data }, codeToLight(levels.black));
}

/** Levels of one channel, whose black may be tinted. */
const channelLevels = (levels: LevelsNow, c: number) =>
  levels.blackTint[c] === 0 ? levels : { ...levels, black: levels.black + levels.blackTint[c]! };

function fromDisplayCodes(picture: ContentPicture, peak: 255 | 65535, levels: LevelsNow): Float32Array {
  const tableOf = (c: number) => {
    const table = new Float32Array(peak + 1);
    const own = channelLevels(levels, c);
    for (let code = 0; code <= peak; code++) table[code] = codeToLight(applyLevels(own, code / peak));
    return table;
  };
  const red = tableOf(0);
  const tinted = levels.blackTint.some((t) => t !== 0);
  const green = tinted ? tableOf(1) : red;
  const blue = tinted ? tableOf(2) : red;
  const base = new Float32Array(picture.width * picture.height * 4);
  const { data } = picture;
  for (let i = 0; i < base.length; i += 4) {
    const code = data[i + 3]!;
    const alpha = code === peak ? 1 : code / peak;
    base[i] = red[data[i]!]! * alpha;
    base[i + 1] = green[data[i + 1]!]! * alpha;
    base[i + 2] = blue[data[i + 2]!]! * alpha;
    base[i + 3] = alpha;
  }
  return base;
}

/** Content of another coding: to light of BT.709 primaries first, then levels on the display codes of that. */
function fromLight(picture: ContentPicture, levels: LevelsNow, colour: PlateColour): Float32Array {
  const own = [0, 1, 2].map((c) => channelLevels(levels, c));
  const read = lightReader(colour.transfer, picture.peak);
  const matrix = primariesMatrix(colour.primaries, 'bt709') ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const base = new Float32Array(picture.width * picture.height * 4);
  for (let i = 0; i < base.length; i += 4) {
    const alpha = picture.data[i + 3]! / picture.peak;
    if (alpha <= 0) continue;
    // Floats come premultiplied: the colour itself is had by dividing.
    const share = picture.peak === 1 ? 1 / alpha : 1;
    const r = read(picture.data[i]! * share);
    const g = read(picture.data[i + 1]! * share);
    const b = read(picture.data[i + 2]! * share);
    for (let c = 0; c < 3; c++) {
      const code = lightToCode(Math.max(0, matrix[c * 3]! * r + matrix[c * 3 + 1]! * g + matrix[c * 3 + 2]! * b));
      base[i + c] = codeToLight(applyLevels(own[c]!, code)) * alpha;
    }
    base[i + 3] = alpha;
  }
  return base;
}
