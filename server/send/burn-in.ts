import sharp from 'sharp';
import { layOutText } from '../../core/picture/board/text-layout.ts';
import { fontSet } from '../media/fonts.ts';
import type { IntegerPicture } from '../media/write-integers.ts';

/** Height of the letters over the picture's, and of the strip's margin over the letters. */
const LETTERS = 1 / 32;
const MARGIN = 0.45;
/** How much of the picture the strip lets through. */
const STRIP = 0.35;

/** Writes a line of text on a dark strip into the lower left corner. The picture's own data are changed. */
export async function burnIn(picture: IntegerPicture, text: string): Promise<void> {
  const { width, height, channels, peak, data } = picture;
  const size = Math.max(10, height * LETTERS);
  const margin = Math.round(size * MARGIN);
  const {
    contours,
    width: wide,
    height: high,
  } = layOutText(text, await fontSet('JetBrains Mono', 600), {
    size,
    leading: 1,
    tracking: 0,
    align: 'left',
    width: null,
  });
  const across = Math.min(width, Math.ceil(wide) + 2 * margin);
  const down = Math.min(height, Math.ceil(high) + 2 * margin);
  const path = contours
    .map((c) => `M${c.map(([x, y]) => `${(x + margin).toFixed(2)} ${(y + margin).toFixed(2)}`).join('L')}Z`)
    .join('');
  const letters = await sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${across}" height="${down}"><path fill="#fff" d="${path}"/></svg>`,
    ),
  )
    .ensureAlpha()
    .raw()
    .toBuffer();
  for (let row = 0; row < down; row++) {
    for (let col = 0; col < across; col++) {
      const cover = letters[4 * (row * across + col) + 3]! / 255;
      const at = channels * ((height - down + row) * width + col);
      for (let c = 0; c < channels; c++)
        data[at + c] = c === 3 ? peak : data[at + c]! * STRIP * (1 - cover) + 0.92 * peak * cover;
    }
  }
}
