import { applyToPoint, compose, translation, type Homography, type Point } from '../../base/geometry/homography.ts';
import type { LevelScratch } from './align-level.ts';
import type { PictureLevels } from './image-pyramid.ts';
import type { TemplateLevel } from './template.ts';

/** A place where the region may be, in sample indices of the level that was searched. */
export interface Candidate {
  readonly homography: Homography;
  readonly correlation: number;
}

/** Points of a template that a search looks at. */
const SEARCH_POINTS = 160;
const AROUND = [-1, 0, 1].flatMap((dy) => [-1, 0, 1].map((dx) => [dx, dy] as const));

const sums = new Float64Array(6);

/** Zero-mean normalised cross-correlation of the smeared template in `s` with the picture under `h`; 0 when too little is inside. */
export function correlationAt(
  level: TemplateLevel,
  picture: PictureLevels,
  h: Homography,
  s: LevelScratch,
  step = 1,
  leastShare = 0.3,
): number {
  const { value, width, height } = picture.levels[level.level]!;
  picture.set.correlate(value, width, height, level, s.blurred, h, step, sums);
  const [n = 0, st = 0, sp = 0, stt = 0, spp = 0, stp = 0] = sums;
  if (n < (leastShare * level.chosen) / step || n < 20) return 0;
  const spread = Math.sqrt(Math.max(0, stt / n - (st / n) ** 2) * Math.max(0, spp / n - (sp / n) ** 2));
  return spread > 1e-9 ? (stp / n - (st / n) * (sp / n)) / spread : 0;
}

export interface SearchRange {
  /** Whole-sample shifts ± this many samples; the whole picture when infinite. */
  readonly reach: number;
  /** Turns about the region's middle, radians. */
  readonly turns: readonly number[];
  readonly scales: readonly number[];
}

/**
 * Tries every combination of shift, turn and scale about `start`, and gives the best few that lie apart from each other,
 * the best first.
 */
export function searchRegion(
  level: TemplateLevel,
  picture: PictureLevels,
  start: Homography,
  range: SearchRange,
  most: number,
  s: LevelScratch,
): Candidate[] {
  const { width, height } = picture.levels[level.level]!;
  const step = oddStep(level.count / SEARCH_POINTS);
  const centre = applyToPoint(level.fromUnit, [0, 0]);
  const [cx, cy] = applyToPoint(start, centre);
  const whole = !Number.isFinite(range.reach);
  const left = whole ? Math.ceil(-cx) : -range.reach;
  const right = whole ? Math.floor(width - cx) : range.reach;
  const top = whole ? Math.ceil(-cy) : -range.reach;
  const bottom = whole ? Math.floor(height - cy) : range.reach;
  const found: (Candidate & { at: Point; turn: number })[] = [];
  // A peak is two or three samples wide: wide searches skip every other place, and look around what they found.
  const stride = range.turns.length > 1 && right - left > 12 ? 2 : right - left > 120 ? 2 : 1;
  for (const turn of range.turns) {
    for (const scale of range.scales) {
      const a = scale * Math.cos(turn);
      const b = scale * Math.sin(turn);
      const turned = compose([a, -b, cx - a * cx + b * cy, b, a, cy - b * cx - a * cy, 0, 0, 1], start);
      for (let dy = top; dy <= bottom; dy += stride) {
        for (let dx = left; dx <= right; dx += stride) {
          const homography = compose(translation(dx, dy), turned);
          const correlation = correlationAt(level, picture, homography, s, step, 0.25);
          if (correlation > 0.25)
            keep(found, { homography, correlation, at: [cx + dx, cy + dy], turn }, 3 * most, level);
        }
      }
    }
  }
  // The sparse sample ranks only roughly.
  const around = stride === 1 ? ([[0, 0]] as const) : AROUND;
  return found
    .map(({ homography }) =>
      around
        .map(([dx, dy]) => compose(translation(dx, dy), homography))
        .map((h) => ({ homography: h, correlation: correlationAt(level, picture, h, s, 1, 0.25) }))
        .reduce((a, b) => (b.correlation > a.correlation ? b : a)),
    )
    .sort((x, y) => y.correlation - x.correlation)
    .slice(0, most);
}

/** Keeps the best candidates of each neighbourhood. */
function keep<T extends Candidate & { at: Point; turn: number }>(
  found: T[],
  candidate: T,
  most: number,
  level: TemplateLevel,
): void {
  if (found.length >= most && candidate.correlation <= found.at(-1)!.correlation) return;
  const near = 0.2 / level.toUnit[0]!;
  const rival = found.findIndex(
    (f) =>
      Math.hypot(f.at[0] - candidate.at[0], f.at[1] - candidate.at[1]) < near &&
      Math.abs(f.turn - candidate.turn) < 0.2,
  );
  if (rival >= 0) {
    if (found[rival]!.correlation >= candidate.correlation) return;
    found.splice(rival, 1);
  }
  const place = found.findIndex((f) => f.correlation < candidate.correlation);
  found.splice(place < 0 ? found.length : place, 0, candidate);
  if (found.length > most) found.pop();
}

/** An odd stride, so that it does not fall in step with pieces that are filled up to fours. */
function oddStep(ratio: number): number {
  const step = Math.max(1, Math.floor(ratio));
  return step % 2 === 0 ? step - 1 : step;
}
