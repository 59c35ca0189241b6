import { join } from 'node:path';
import { isDisplayColour } from '../../core/base/image/plate-colour.ts';
import { peakOf } from '../../core/base/image/raw-frame.ts';
import { frameFilters, isPlain } from './decode.ts';
import type { MediaFacts } from './facts.ts';

/** Light pictures for scrubbing are at most this wide or high. */
export const PROXY_SIDE = 960;

/** The size of a medium's light pictures. */
export function proxySize({ width, height }: { width: number; height: number }): { width: number; height: number } {
  const scale = Math.min(1, PROXY_SIDE / Math.max(width, height));
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/** True when the decoding run itself can write the light pictures: one for one, in display codes, without a table. */
export function decoderMakesProxies(facts: MediaFacts, hasLut: boolean): boolean {
  return (
    isPlain(facts) &&
    isDisplayColour(facts.colour) &&
    !hasLut &&
    peakOf(facts.layout) !== 1 &&
    !(facts.layout.kind === 'rgb' && facts.layout.alpha)
  );
}

/**
 * Output arguments that make a decoding run write a light JPEG of every frame too. JPEG is BT.601, full
 * range (ITU-T T.871 §7), whatever the source. Files appear under their names only when whole.
 */
export function proxyArguments(facts: MediaFacts, folder: string): string[] {
  const { layout } = facts;
  const size = proxySize(facts);
  const from =
    layout.kind === 'ycbcr' ? `in_color_matrix=${layout.coding.matrix}:in_range=${layout.coding.range}:` : '';
  const filters = [
    ...frameFilters(facts),
    `scale=${size.width}:${size.height}:${from}out_color_matrix=bt601:out_range=full:flags=bilinear+accurate_rnd+full_chroma_int`,
    'format=yuvj444p',
  ];
  return [
    '-map',
    '0:V:0',
    '-fps_mode',
    'passthrough',
    '-vf',
    filters.join(','),
    '-c:v',
    'mjpeg',
    '-q:v',
    '3',
    '-f',
    'image2',
    '-atomic_writing',
    '1',
    '-start_number',
    '0',
    join(folder.replaceAll('%', '%%'), '%06d.jpg'),
  ];
}
