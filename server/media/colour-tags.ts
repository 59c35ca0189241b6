import type { PlateColour } from '../../core/base/image/plate-colour.ts';
import type { PrimariesName } from '../../core/base/image/primaries.ts';
import type { TransferName } from '../../core/base/image/transfer-curves.ts';
import type { YcbcrCoding } from '../../core/base/image/ycbcr.ts';
import type { Corrections } from './facts.ts';

/** The colour tags of a stream, as ffprobe names them. */
export interface ColourTags {
  pix_fmt?: string;
  color_range?: string;
  color_space?: string;
  color_transfer?: string;
  color_primaries?: string;
}

/**
 * Tags of ITU-T H.273 tables 2 to 4. Camera curves for television (BT.709, BT.601, BT.2020 for SDR) are taken as
 * the codes that a display shows, which is how such films are made and judged.
 */
const TRANSFER_TAGS: Readonly<Record<string, TransferName>> = {
  bt709: 'srgb',
  smpte170m: 'srgb',
  smpte240m: 'srgb',
  'bt2020-10': 'srgb',
  'bt2020-12': 'srgb',
  'iec61966-2-1': 'srgb',
  'iec61966-2-4': 'srgb',
  bt1361e: 'srgb',
  bt470m: 'gamma22',
  bt470bg: 'gamma28',
  smpte428: 'gamma26',
  linear: 'linear',
  smpte2084: 'pq',
  'arib-std-b67': 'hlg',
  log: 'log100',
  log100: 'log100',
  log_sqrt: 'log316',
  log316: 'log316',
};
const PRIMARIES_TAGS: Readonly<Record<string, PrimariesName>> = {
  bt709: 'bt709',
  bt2020: 'bt2020',
  smpte432: 'p3',
  smpte170m: 'smpte170m',
  smpte240m: 'smpte170m',
  bt470bg: 'bt470bg',
};

/** What the codes mean: corrected, tagged, or assumed with a sentence that says so. */
export function colourOf(tags: ColourTags, corrections: Corrections, assumed: string[]): PlateColour {
  const linear = /f(16|32)/.test(tags.pix_fmt ?? '');
  return {
    transfer: corrections.transfer ?? transferOf(tags.color_transfer, linear, assumed),
    primaries: corrections.primaries ?? primariesOf(tags.color_primaries, assumed),
  };
}

function transferOf(tag: string | undefined, linear: boolean, assumed: string[]): TransferName {
  const known = TRANSFER_TAGS[tag ?? ''];
  if (known) return known;
  if (linear) {
    assumed.push('no transfer tag: floating point is taken as linear light');
    return 'linear';
  }
  assumed.push(
    tag === undefined || tag === 'unknown'
      ? 'no transfer tag: codes are taken as they would be shown on a display'
      : `the transfer tag ${tag} is not known: codes are taken as they would be shown on a display`,
  );
  return 'srgb';
}

function primariesOf(tag: string | undefined, assumed: string[]): PrimariesName {
  const known = PRIMARIES_TAGS[tag ?? ''];
  if (known) return known;
  if (tag !== undefined && tag !== 'unknown') assumed.push(`the primaries tag ${tag} is not known: BT.709 assumed`);
  // Nearly every file without a tag has these, and saying so each time would bury what matters.
  return 'bt709';
}

/** How luma and colour differences are coded; says what had to be assumed. Colour without a luma plane needs neither. */
export function codingOf(
  tags: ColourTags,
  size: { width: number; height: number },
  corrections: Corrections,
  assumed: string[],
): Pick<YcbcrCoding, 'matrix' | 'range'> {
  if (/^(rgb|bgr|gbr|gray|argb|abgr|pal8|ya|mono|x2|0rgb|0bgr|rgba|bgra)/.test(tags.pix_fmt ?? ''))
    return { matrix: 'bt709', range: 'full' };
  return {
    matrix: corrections.matrix ?? matrixOf(tags, size, assumed),
    range: corrections.range ?? rangeOf(tags, assumed),
  };
}

function matrixOf(
  tags: ColourTags,
  { width, height }: { width: number; height: number },
  assumed: string[],
): YcbcrCoding['matrix'] {
  switch (tags.color_space) {
    case 'bt709':
      return 'bt709';
    case 'bt470bg':
    case 'smpte170m':
    case 'fcc':
      return 'bt601';
    case 'bt2020nc':
      return 'bt2020';
    default: {
      const matrix = width >= 1280 || height >= 720 ? 'bt709' : 'bt601';
      assumed.push(`no colour matrix tag: ${matrix === 'bt709' ? 'BT.709' : 'BT.601'} assumed from the size`);
      return matrix;
    }
  }
}

function rangeOf(tags: ColourTags, assumed: string[]): YcbcrCoding['range'] {
  if (tags.color_range === 'pc' || tags.pix_fmt?.startsWith('yuvj')) return 'full';
  if (tags.color_range !== 'tv') assumed.push('no range tag: limited range assumed');
  return 'limited';
}
