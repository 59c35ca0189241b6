import { clamp } from '../../core/base/geometry/clamp.ts';
import sharp, { type OverlayOptions } from 'sharp';
import { layOutText } from '../../core/picture/board/text-layout.ts';
import { fontSet } from '../media/fonts.ts';

/** A picture of a contact sheet with its name; null where there is none yet. */
export interface SheetPicture {
  readonly name: string;
  readonly picture: Buffer | null;
}

/** Pictures side by side at most, the width of each and the gap between, px. */
const ACROSS = 4;
const CELL = 420;
const GAP = 16;
const LETTERS = 18;
const LINE = 34;

/** All variants on one sheet, named, as JPEG. `aspect` is a picture's width over its height. */
export async function contactSheet(title: string, pictures: readonly SheetPicture[], aspect: number): Promise<Buffer> {
  const across = clamp(pictures.length, 1, ACROSS);
  const rows = Math.ceil(pictures.length / across);
  const high = Math.round(CELL / aspect);
  const width = GAP + across * (CELL + GAP);
  const height = LINE + GAP + rows * (high + LINE + GAP);
  const parts: OverlayOptions[] = [await words(title, width - 2 * GAP, GAP, GAP / 2)];
  for (const [i, { name, picture }] of pictures.entries()) {
    const left = GAP + (i % across) * (CELL + GAP);
    const top = LINE + GAP + Math.floor(i / across) * (high + LINE + GAP);
    if (picture) parts.push({ input: await sharp(picture).resize(CELL, high, { fit: 'fill' }).toBuffer(), left, top });
    else
      parts.push({ input: { create: { width: CELL, height: high, channels: 3, background: '#c9cac6' } }, left, top });
    parts.push(await words(picture ? name : `${name} (not rendered)`, CELL, left, top + high + 6));
  }
  return sharp({ create: { width, height, channels: 3, background: '#ecede9' } })
    .composite(parts)
    .jpeg({ quality: 90, chromaSubsampling: '4:4:4' })
    .toBuffer();
}

/** A line of text, shortened to what fits. */
async function words(text: string, most: number, left: number, top: number): Promise<OverlayOptions> {
  const font = await fontSet('Archivo', 600);
  const lay = (line: string) =>
    layOutText(line, font, { size: LETTERS, leading: 1, tracking: 0, align: 'left', width: null });
  let line = text;
  let laid = lay(line);
  while (laid.width > most - 4 && line.length > 1) {
    line = line.slice(0, -1);
    laid = lay(`${line}…`);
  }
  const path = laid.contours.map((c) => `M${c.map(([x, y]) => `${x.toFixed(2)} ${y.toFixed(2)}`).join('L')}Z`).join('');
  return {
    input: Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${Math.round(most)}" height="${LETTERS + 8}"><path fill="#23262b" d="${path}"/></svg>`,
    ),
    left: Math.round(left),
    top: Math.round(top),
  };
}
