import type { Point } from '../../base/geometry/homography.ts';
import type { FontSet } from './fonts.ts';

export interface TextStyle {
  readonly size: number;
  /** Line height over size. */
  readonly leading: number;
  /** Added between letters, shares of the size. */
  readonly tracking: number;
  readonly align: 'left' | 'middle' | 'right';
  /** Lines are broken to be no wider, px; not at all when null. */
  readonly width: number | null;
}

export interface TextLayout {
  /** Contours of all letters, px from the upper left corner of the text. */
  readonly contours: Point[][];
  readonly width: number;
  readonly height: number;
  /** Letters that the font does not have. */
  readonly missing: readonly string[];
}

export const TEXT_DEFAULTS = {
  size: 48,
  leading: 1.25,
  tracking: 0,
  align: 'left',
  weight: 400,
  font: 'Archivo',
} as const;

/** Sets text in lines: broken at spaces where it would be wider than told, in the middle of a word that alone is wider. */
export function layOutText(text: string, font: FontSet, style: TextStyle): TextLayout {
  const { size, leading, align, width: limit } = style;
  const lines = text.split('\n').flatMap((line) => brokenLines(line, font, style));
  const widths = lines.map((line) => lineWidth(line, font, style));
  const width = limit ?? Math.max(0, ...widths);
  const contours: Point[][] = [];
  const missing = new Set<string>();
  lines.forEach((line, i) => {
    let x = align === 'left' ? 0 : align === 'right' ? width - widths[i]! : (width - widths[i]!) / 2;
    const baseline = size * (leading * i + (leading + font.ascent - font.descent) / 2);
    const letters = [...line];
    letters.forEach((letter, k) => {
      const glyph = font.glyph(letter);
      if (!glyph.known) missing.add(letter);
      for (const path of glyph.path)
        contours.push(path.map(([px, py]): Point => [x + size * px, baseline + size * py]));
      x += size * step(letters, k, font, style);
    });
  });
  return { contours, width, height: size * leading * Math.max(1, lines.length), missing: [...missing] };
}

/** How far the letter after this one is set on, shares of the size. */
function step(letters: readonly string[], k: number, font: FontSet, { tracking }: TextStyle): number {
  return (
    font.glyph(letters[k]!).advance +
    (k < letters.length - 1 ? tracking + font.kerning(letters[k]!, letters[k + 1]!) : 0)
  );
}

function lineWidth(line: string, font: FontSet, style: TextStyle): number {
  const letters = [...line];
  return style.size * letters.reduce((sum, _, k) => sum + step(letters, k, font, style), 0);
}

function brokenLines(line: string, font: FontSet, style: TextStyle): string[] {
  const { width } = style;
  if (width === null || lineWidth(line, font, style) <= width) return [line];
  const out: string[] = [];
  let now = '';
  for (const word of line.split(' ')) {
    const longer = now === '' ? word : `${now} ${word}`;
    if (lineWidth(longer, font, style) <= width) {
      now = longer;
      continue;
    }
    if (now !== '') out.push(now);
    now = word;
    while (lineWidth(now, font, style) > width && [...now].length > 1) {
      const letters = [...now];
      let n = letters.length - 1;
      while (n > 1 && lineWidth(letters.slice(0, n).join(''), font, style) > width) n--;
      out.push(letters.slice(0, n).join(''));
      now = letters.slice(n).join('');
    }
  }
  return [...out, now];
}
