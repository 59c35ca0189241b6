import { compose, translation, type Homography } from '../geometry/homography.ts';
import type { PictureLevel, LevelScratch } from './align-level.ts';
import type { TemplateLevel } from './template.ts';

/** Zero-mean normalised cross-correlation of the smeared template with the picture under `h`, 0 when too little is inside. */
export function correlationAt(level: TemplateLevel, picture: PictureLevel, h: Homography, s: LevelScratch): number {
  const { width, height, value } = picture.plane;
  const [h0, h1, h2, h3, h4, h5, h6, h7, h8] = h as [number, number, number, number, number, number, number, number, number];
  let n = 0, st = 0, sp = 0, stt = 0, spp = 0, stp = 0;
  for (let i = 0; i < level.count; i++) {
    if (s.blurred.complete[i] === 0) continue;
    const x = level.xs[i]!, y = level.ys[i]!;
    const w = h6 * x + h7 * y + h8;
    const u = Math.round((h0 * x + h1 * y + h2) / w), v = Math.round((h3 * x + h4 * y + h5) / w);
    if (!(u >= 0 && v >= 0 && u < width && v < height)) continue;
    const p = value[v * width + u]!, t = s.blurred.value[i]!;
    n++;
    st += t;
    sp += p;
    stt += t * t;
    spp += p * p;
    stp += t * p;
  }
  if (n < 0.3 * level.count || n < 20) return 0;
  const spread = Math.sqrt(Math.max(0, stt / n - (st / n) ** 2) * Math.max(0, spp / n - (sp / n) ** 2));
  return spread > 1e-9 ? (stp / n - (st / n) * (sp / n)) / spread : 0;
}

/**
 * Tries every whole-sample shift of the picture position within ± `reach` samples of the level around
 * `start`; returns the best with its correlation.
 */
export function searchTranslation(
  level: TemplateLevel, picture: PictureLevel, start: Homography, reach: number, s: LevelScratch,
): { homography: Homography; correlation: number } {
  let best = { homography: start, correlation: -1 };
  for (let dy = -reach; dy <= reach; dy++) {
    for (let dx = -reach; dx <= reach; dx++) {
      const candidate = compose(translation(dx, dy), start);
      const correlation = correlationAt(level, picture, candidate, s);
      if (correlation > best.correlation) best = { homography: candidate, correlation };
    }
  }
  return best;
}
