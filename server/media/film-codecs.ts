import { DISPLAY_COLOUR, type PlateColour } from '../../core/base/image/plate-colour.ts';
import type { DeliverySettings } from '../../core/base/schemas/types.ts';
import { FILM_ENDINGS, type FilmFormat } from '../../core/handoff/send/file-pattern.ts';

/** Ways of coding a film. */
export const FILM_FORMATS = Object.keys(FILM_ENDINGS) as FilmFormat[];

/** Constant rate factors: common practice, no source; each coder has a scale of its own. */
const RATE_FACTORS = {
  h264: { small: 23, good: 15, best: 8 },
  hevc: { small: 26, good: 18, best: 10 },
  vp9: { small: 36, good: 24, best: 12 },
  av1: { small: 42, good: 28, best: 14 },
} as const;

/** Tags of ITU-T H.273, as ffmpeg names them, for what codes mean; curves without a tag are left unsaid. */
const TRANSFER_TAG: Partial<Record<PlateColour['transfer'], string>> = {
  srgb: 'bt709',
  bt709: 'bt709',
  bt1886: 'bt709',
  gamma22: 'gamma22',
  gamma28: 'gamma28',
  linear: 'linear',
  pq: 'smpte2084',
  hlg: 'arib-std-b67',
  log100: 'log',
  log316: 'log_sqrt',
};
const PRIMARIES_TAG: Partial<Record<PlateColour['primaries'], string>> = {
  bt709: 'bt709',
  bt2020: 'bt2020',
  p3: 'smpte432',
  smpte170m: 'smpte170m',
  bt470bg: 'bt470bg',
};

function colourTags({ transfer, primaries }: PlateColour): string[] {
  const trc = TRANSFER_TAG[transfer];
  const set = PRIMARIES_TAG[primaries];
  return [...(set ? ['-color_primaries', set] : []), ...(trc ? ['-color_trc', trc] : [])];
}

/** How a film's codes are to be read, and the width of a pixel over its height. */
export interface FilmLook {
  readonly colour?: PlateColour | undefined;
  readonly pixelAspect?: readonly [number, number] | undefined;
  /** Codes have 16 bits, of which lossy coders keep 10 where the format is made for it. */
  readonly deep?: boolean | undefined;
}

/** What ffmpeg is told to code a film: luma and colour differences of BT.709 (BT.2020 for its primaries) in limited range, or the codes themselves without loss. */
export function filmArguments(
  format: FilmFormat,
  { colour = DISPLAY_COLOUR, pixelAspect = [1, 1], deep = false }: FilmLook,
  { quality = 'good', crf }: Pick<DeliverySettings, 'quality' | 'crf'> = {},
): string[] {
  if (format === 'ffv1')
    return [
      '-vf',
      `setsar=${pixelAspect.join('/')}`,
      '-c:v',
      'ffv1',
      '-level',
      '3',
      '-slices',
      '4',
      '-g',
      '1',
      '-pix_fmt',
      deep ? 'gbrp16le' : 'bgr0',
      ...colourTags(colour),
      '-color_range',
      'pc',
    ];
  const [matrix, space] =
    colour.primaries === 'bt2020' ? (['bt2020', 'bt2020nc'] as const) : (['bt709', 'bt709'] as const);
  const ten = deep && format !== 'h264';
  const rate = String(crf ?? RATE_FACTORS[format][quality]);
  const shape = [
    '-vf',
    `pad=ceil(iw/2)*2:ceil(ih/2)*2,scale=out_color_matrix=${matrix}:out_range=tv:flags=accurate_rnd+full_chroma_int+bicubic,setsar=${pixelAspect.join('/')}`,
    '-pix_fmt',
    ten ? 'yuv420p10le' : 'yuv420p',
  ];
  const tags = ['-colorspace', space, ...colourTags(colour), '-color_range', 'tv'];
  switch (format) {
    case 'h264':
      return [...shape, '-c:v', 'libx264', '-preset', 'medium', '-crf', rate, ...tags, '-movflags', '+faststart'];
    case 'hevc':
      return [
        ...shape,
        '-c:v',
        'libx265',
        '-preset',
        'medium',
        '-crf',
        rate,
        '-x265-params',
        'log-level=error',
        '-tag:v',
        'hvc1',
        ...tags,
        '-movflags',
        '+faststart',
      ];
    case 'vp9':
      return [
        ...shape,
        '-c:v',
        'libvpx-vp9',
        '-b:v',
        '0',
        '-crf',
        rate,
        '-deadline',
        'good',
        '-cpu-used',
        '3',
        '-row-mt',
        '1',
        ...tags,
      ];
    case 'av1':
      return [...shape, '-c:v', 'libsvtav1', '-preset', '8', '-crf', rate, ...tags, '-movflags', '+faststart'];
  }
}

/** How sound is coded beside a film. */
export const SOUND_ARGUMENTS: Readonly<Record<FilmFormat, readonly string[]>> = {
  h264: ['-c:a', 'aac', '-b:a', '256k'],
  hevc: ['-c:a', 'aac', '-b:a', '256k'],
  av1: ['-c:a', 'aac', '-b:a', '256k'],
  vp9: ['-c:a', 'libopus', '-b:a', '192k'],
  ffv1: ['-c:a', 'flac'],
};
