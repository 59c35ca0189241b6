import type { LevelScratch, Light } from './align-level.ts';
import { scaleFromHistogram, tukeyWeight } from './robust-weights.ts';
import type { TemplateLevel } from './template.ts';

/**
 * The light that explains a frame better than the one its residuals in `s` were formed under: the robust straight line of
 * the picture over the template, one step of iteratively reweighted least squares. The same light where too little is seen.
 */
export function betterLight(
  { count }: TemplateLevel,
  s: LevelScratch,
  { gain, offset }: Light,
  visible: number,
): Light {
  const { blurred, sampled } = s;
  const scale = scaleFromHistogram(s.histogram, visible);
  let n = 0;
  let st = 0;
  let sp = 0;
  let stt = 0;
  let stp = 0;
  for (let i = 0; i < count; i++) {
    if (sampled[i + 3 * count] === 0) continue;
    const w = tukeyWeight(sampled[i]!, scale);
    const t = blurred[i]!;
    const p = sampled[i]! + gain * t + offset;
    n += w;
    st += w * t;
    sp += w * p;
    stt += w * t * t;
    stp += w * t * p;
  }
  const spread = stt - (st * st) / n;
  const slope = (stp - (st * sp) / n) / spread;
  return spread > 1e-6 * n && slope > 0 ? { gain: slope, offset: (sp - slope * st) / n } : { gain, offset };
}
