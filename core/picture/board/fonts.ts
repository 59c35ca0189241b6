import { parse, type Font } from 'opentype.js';
import type { Point } from '../../base/geometry/homography.ts';

/** Families that ship with the project, each in these weights. */
export const FONT_FAMILIES = ['Archivo', 'Source Serif 4', 'JetBrains Mono'] as const;
export type FontFamily = (typeof FONT_FAMILIES)[number];
export const FONT_WEIGHTS = [400, 600, 700] as const;
export type FontWeight = (typeof FONT_WEIGHTS)[number];

/** Parts of a family's alphabet, each a file of its own; what is looked up first comes first. */
export const FONT_PARTS = ['latin', 'latin-ext'] as const;

/** A font file's place below node_modules. */
export function fontFile(family: FontFamily, weight: FontWeight, part: (typeof FONT_PARTS)[number]): string {
  const name = family.toLowerCase().replaceAll(' ', '-');
  return `@fontsource/${name}/files/${name}-${part}-${weight}-normal.woff`;
}

/** One piece of a glyph's outline, in shares of the size, y downward. */
export type GlyphPath = readonly (readonly Point[])[];

export interface Glyph {
  /** Closed contours, flattened. */
  readonly path: GlyphPath;
  /** How far the next glyph is set on, shares of the size. */
  readonly advance: number;
  /** Whether the font has it; otherwise an empty box stands for it. */
  readonly known: boolean;
}

/** Pieces of a glyph's curve. */
const CURVE_PIECES = 6;

/** A family in one weight, read from its files. */
export class FontSet {
  private readonly fonts: readonly Font[];
  private readonly glyphs = new Map<string, Glyph>();

  /** `files`: the bytes of its parts. */
  constructor(files: readonly ArrayBuffer[]) {
    this.fonts = files.map((bytes) => parse(bytes));
  }

  /** Shares of the size from the baseline up and down. */
  get ascent(): number {
    return this.fonts[0]!.ascender / this.fonts[0]!.unitsPerEm;
  }
  get descent(): number {
    return -this.fonts[0]!.descender / this.fonts[0]!.unitsPerEm;
  }

  glyph(letter: string): Glyph {
    let glyph = this.glyphs.get(letter);
    if (!glyph) this.glyphs.set(letter, (glyph = this.read(letter)));
    return glyph;
  }

  /** How much nearer two letters stand than their advances say, shares of the size (negative is nearer). */
  kerning(left: string, right: string): number {
    const font = this.fonts.find((f) => f.charToGlyphIndex(left) > 0 && f.charToGlyphIndex(right) > 0);
    return font ? font.getKerningValue(font.charToGlyph(left), font.charToGlyph(right)) / font.unitsPerEm : 0;
  }

  private read(letter: string): Glyph {
    const font = this.fonts.find((f) => f.charToGlyphIndex(letter) > 0);
    if (!font)
      return /\s/.test(letter)
        ? { path: [], advance: 0.3, known: true }
        : {
            path: [
              [
                [0.08, -0.7],
                [0.52, -0.7],
                [0.52, 0],
                [0.08, 0],
              ],
              [
                [0.13, -0.65],
                [0.13, -0.05],
                [0.47, -0.05],
                [0.47, -0.65],
              ],
            ],
            advance: 0.6,
            known: false,
          };
    const { advanceWidth } = font.charToGlyph(letter);
    return {
      path: contours(font.charToGlyph(letter).getPath(0, 0, 1)),
      advance: (advanceWidth ?? 0) / font.unitsPerEm,
      known: true,
    };
  }
}

function contours(path: {
  commands: readonly { type: string; x?: number; y?: number; x1?: number; y1?: number; x2?: number; y2?: number }[];
}): Point[][] {
  const out: Point[][] = [];
  let open: Point[] = [];
  let at: Point = [0, 0];
  for (const { type, x = 0, y = 0, x1 = 0, y1 = 0, x2 = 0, y2 = 0 } of path.commands) {
    const from = at;
    switch (type) {
      case 'M':
        if (open.length > 2) out.push(open);
        open = [[x, y]];
        break;
      case 'L':
        open.push([x, y]);
        break;
      case 'Q':
        for (let k = 1; k <= CURVE_PIECES; k++) {
          const t = k / CURVE_PIECES;
          const s = 1 - t;
          open.push([s * s * from[0] + 2 * s * t * x1 + t * t * x, s * s * from[1] + 2 * s * t * y1 + t * t * y]);
        }
        break;
      case 'C':
        for (let k = 1; k <= CURVE_PIECES; k++) {
          const t = k / CURVE_PIECES;
          const s = 1 - t;
          const w = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t] as const;
          open.push([
            w[0] * from[0] + w[1] * x1 + w[2] * x2 + w[3] * x,
            w[0] * from[1] + w[1] * y1 + w[2] * y2 + w[3] * y,
          ]);
        }
        break;
      default:
    }
    if (type !== 'Z') at = [x, y];
  }
  if (open.length > 2) out.push(open);
  return out;
}
