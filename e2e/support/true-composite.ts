import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';

/** Where they are kept; `npm run golden` draws them. */
export const COMPOSITES = join(import.meta.dirname, 'composites');

/** The frames of demo shots that journeys compare with. */
export const COMPOSED: readonly (readonly [name: string, frame: number])[] = [
  ['orders-laptop', 4],
  ['orders-laptop', 8],
  ['orders-laptop', 12],
  ['held-phone', 8],
];

export const compositeFile = (name: string, frame: number): string =>
  join(COMPOSITES, `${name}.${String(frame).padStart(4, '0')}.png`);

/** A frame of a demo shot as it would have been filmed had the device shown the content, half as large as the clip: 8-bit RGB. */
export async function trueComposite(name: string, frame: number): Promise<Uint8Array> {
  return sharp(await readFile(compositeFile(name, frame)))
    .raw()
    .toBuffer();
}
