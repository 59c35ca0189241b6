import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { FONT_PARTS, fontFile, FontSet, type FontFamily, type FontWeight } from '../../core/picture/board/fonts.ts';

const modules = join(import.meta.dirname, '../../node_modules');
const kept = new Map<string, FontSet>();

/** A shipped font, read once. */
export function fontSet(family: FontFamily, weight: FontWeight): Promise<FontSet> {
  const key = `${family} ${weight}`;
  let font = kept.get(key);
  if (!font) {
    font = new FontSet(
      FONT_PARTS.map((part) => {
        const bytes = readFileSync(join(modules, fontFile(family, weight, part)));
        return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength);
      }),
    );
    kept.set(key, font);
  }
  return Promise.resolve(font);
}
