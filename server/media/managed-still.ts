import sharp from 'sharp';
import { Problem } from '../../core/base/problem/problem.ts';
import { layoutOf } from './layout.ts';
import type { MediaFacts } from './facts.ts';
import type { MediaSource } from './source.ts';

/** Stands for a decoder's format where a still's own colours are first turned into those of a display. */
export const MANAGED = 'srgb';

type Still = MediaSource & { kind: 'still' };

/** What a still of inks or with a profile of its own is called: both are turned into sRGB; null for others. */
export async function managedColours(source: MediaSource): Promise<string | null> {
  if (source.kind !== 'still' || source.format === 'exr') return null;
  try {
    const { space, icc, depth } = await sharp(source.file, { limitInputPixels: false }).metadata();
    if (space === 'cmyk') return 'CMYK';
    // Profiles name themselves in their description; those that are what a display shows need nothing.
    if (!icc || depth !== 'uchar') return null;
    const words = icc.toString('latin1').replaceAll('\0', '');
    return /sRGB|IEC ?61966-?2/i.test(words) || space === 'b-w' ? null : 'a colour profile of its own';
  } catch {
    // What cannot be read here is judged by the decoder.
    return null;
  }
}

/** The facts of a still whose colours are turned into sRGB. */
export function managedFacts(facts: MediaFacts, what: string): MediaFacts {
  const { layout } = layoutOf('rgba', facts.width, facts.height, { matrix: 'bt709', range: 'full' }, true);
  return {
    ...facts,
    layout,
    rawFormat: MANAGED,
    colour: { transfer: 'srgb', primaries: 'bt709' },
    notes: [...facts.notes, `its colours (${what}) are turned into sRGB`],
  };
}

/** The one frame of such a still: red, green, blue, alpha. */
export async function decodeManaged({ file }: Still, { rotation }: MediaFacts, label: string): Promise<Uint8Array> {
  try {
    return await sharp(file, { limitInputPixels: false })
      .rotate(rotation)
      .toColourspace('srgb')
      .ensureAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer();
  } catch (error) {
    throw new Problem('damaged-media', { file: label, why: (error as Error).message }, { cause: error });
  }
}
