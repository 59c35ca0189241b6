import { join } from 'node:path';
import type { MediaFacts } from './probe.ts';

/**
 * Output arguments that make a decoding run write a light JPEG of every frame too. JPEG is BT.601, full
 * range (ITU-T T.871 §7), whatever the source. Files appear under their names only when whole.
 */
export function proxyArguments(facts: MediaFacts, folder: string): string[] {
  const { layout } = facts;
  const matrix = { bt709: 'bt709', bt601: 'bt601', bt2020: 'bt2020' } as const;
  const from = layout.kind === 'ycbcr' ? `in_color_matrix=${matrix[layout.coding.matrix]}:in_range=${layout.coding.range}:` : '';
  const filters = [
    ...(facts.variableRate ? [`fps=${facts.rate.join('/')}`] : []),
    `scale=${from}out_color_matrix=bt601:out_range=full:flags=bilinear+accurate_rnd+full_chroma_int`, 'format=yuvj444p',
  ];
  return ['-map', '0:V:0', '-fps_mode', 'passthrough', '-vf', filters.join(','), '-c:v', 'mjpeg', '-q:v', '3', '-f', 'image2', '-atomic_writing', '1', '-start_number', '0',
    join(folder.replaceAll('%', '%%'), '%06d.jpg')];
}
