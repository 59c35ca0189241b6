import { FONT_PARTS, fontFile, FontSet, type FontFamily, type FontWeight } from '../../../core/picture/board/fonts.ts';

/** Addresses of the shipped font files, by their place below node_modules. */
const files = import.meta.glob<string>(
  [
    '../../../node_modules/@fontsource/archivo/files/archivo-latin*-[467]00-normal.woff',
    '../../../node_modules/@fontsource/source-serif-4/files/source-serif-4-latin*-[467]00-normal.woff',
    '../../../node_modules/@fontsource/jetbrains-mono/files/jetbrains-mono-latin*-[467]00-normal.woff',
  ],
  { query: '?url', import: 'default', eager: true },
);
const kept = new Map<string, Promise<FontSet>>();

/** A shipped font, fetched once. */
export function shippedFont(family: FontFamily, weight: FontWeight): Promise<FontSet> {
  const key = `${family} ${weight}`;
  const there = kept.get(key);
  if (there) return there;
  const font = Promise.all(
    FONT_PARTS.map(async (part) => {
      const response = await fetch(files[`../../../node_modules/${fontFile(family, weight, part)}`]!);
      if (!response.ok) throw new Error(`The font cannot be fetched (status ${response.status}).`);
      return response.arrayBuffer();
    }),
  ).then((bytes) => new FontSet(bytes));
  kept.set(key, font);
  return font;
}
