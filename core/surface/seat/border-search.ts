import { IDENTITY } from '../../base/geometry/homography.ts';
import { robustDeviation } from '../../base/image/statistics.ts';
import { sampleBand, type EdgeBand } from './edge-band.ts';
import type { LightPicture } from '../../base/image/light-sampler.ts';
import type { SideLine } from './sides.ts';

/** A straight border as the vote sees it: px outward of the line that it was looked for about, at its beginning and end. */
export interface RoughBorder {
  readonly atFrom: number;
  readonly atTo: number;
  /** Share of the line along which there is an edge, about. */
  readonly support: number;
}

/** Rows of the strip are so many px apart; steps across are 1 px. */
const ROW = 3;
/** The vote's lines end so many px apart. */
const GRID = 1;
/** A vote must be so many standard deviations of what noise gives, and this share of the best. */
const SIGNIFICANT = 5;
const OF_THE_BEST = 0.3;
/** Another border is one that is at least so many px away at both ends together. */
const APART = 4;
/** Kept for a closer look. */
const MOST = 6;
/** Borders keep to the line's direction within this slope. */
const STEEPEST = 0.22;

/**
 * Straight borders in a strip about a line: every row of it has its gradient across, and every line through the strip sums what it
 * meets, signed (weak edges of one kind add up out of the noise) and unsigned (strong edges whose sense changes along them). Gradients
 * count up to twice the strip's usual one, so that length matters and not strength: a long faint border beats a short bright one.
 *
 * Source: the Hough transform in the two-offsets form, R. Duda, P. Hart, Use of the Hough transformation to detect lines and curves
 * in pictures, CACM 15(1), 1972.
 */
export function searchBorders(
  picture: LightPicture,
  line: SideLine,
  inward: number,
  outward: number,
  ends = 0.06,
): RoughBorder[] {
  const segments = Math.max(8, Math.round((line.length * (1 - 2 * ends)) / ROW));
  const margin = 3;
  const band = sampleBand(picture, IDENTITY, line, {
    from: ends,
    to: 1 - ends,
    segments,
    samples: 3,
    inner: -inward - margin,
    outer: outward + margin,
    step: 1,
  });
  const gradient = gradients(band);
  const columns = band.columns;
  const usual = robustDeviation(gradient.filter((g) => !Number.isNaN(g))) || 1e-6;
  const clipped = ridges(gradient, columns, 2 * usual);
  const rows = Array.from({ length: segments }, (_, j) => j).filter(
    (j) => !Number.isNaN(gradient[j * columns + (columns >> 1)]!),
  );
  if (rows.length < 6) return [];
  const floor = clipped.reduce((sum, v) => sum + Math.abs(v), 0) / clipped.length;
  const noise = 0.55 / Math.sqrt(rows.length);
  const places = Math.round((inward + outward) / GRID) + 1;
  const votes = new Float32Array(places * places);
  const steepest = STEEPEST * line.length;
  for (let a = 0; a < places; a++) {
    for (let b = 0; b < places; b++) {
      if (Math.abs(a - b) * GRID > steepest) continue;
      let signed = 0;
      let unsigned = 0;
      for (const j of rows) {
        const t = ends + ((1 - 2 * ends) * (j + 0.5)) / segments;
        const at = margin + (a + (b - a) * t) * GRID;
        const c = Math.round(at);
        const v = clipped[j * columns + c]!;
        signed += v;
        unsigned += v < 0 ? -v : v;
      }
      votes[a * places + b] = Math.max(
        Math.abs(signed) / rows.length,
        (unsigned / rows.length - floor) / (1 - Math.min(0.9, floor)),
      );
    }
  }
  return peaks(votes, places, noise).map(({ a, b, vote }) => ({
    atFrom: a * GRID - inward,
    atTo: b * GRID - inward,
    support: vote,
  }));
}

/** Differences across over two px, of the strip smoothed 1-2-1 along. */
function gradients({ values, segments, columns }: EdgeBand): Float32Array {
  const out = new Float32Array(values.length).fill(NaN);
  const along = (j: number, c: number) =>
    (values[Math.max(0, j - 1) * columns + c]! +
      2 * values[j * columns + c]! +
      values[Math.min(segments - 1, j + 1) * columns + c]!) /
    4;
  for (let j = 0; j < segments; j++)
    for (let c = 1; c < columns - 1; c++) out[j * columns + c] = along(j, c + 1) - along(j, c - 1);
  return out;
}

/** Gradients clipped to −1…1 in units of `full`; beside a stronger one of the same row they count half as much, so that wide edges vote for their middle. */
function ridges(gradient: Float32Array, columns: number, full: number): Float32Array {
  return gradient.map((g, i) => {
    if (Number.isNaN(g)) return 0;
    const size = Math.abs(g);
    const before = i % columns > 0 ? Math.abs(gradient[i - 1]!) : 0;
    const after = i % columns < columns - 1 ? Math.abs(gradient[i + 1]!) : 0;
    return (Math.sign(g) * Math.min(1, size / full)) / (before > size || after > size ? 2 : 1);
  });
}

function peaks(votes: Float32Array, places: number, noise: number): { a: number; b: number; vote: number }[] {
  const found: { a: number; b: number; vote: number }[] = [];
  const order = [...votes.keys()].filter((i) => votes[i]! > SIGNIFICANT * noise).sort((i, k) => votes[k]! - votes[i]!);
  for (const i of order) {
    const a = Math.floor(i / places);
    const b = i % places;
    const vote = votes[i]!;
    if (found.length === MOST || (found[0] && vote < OF_THE_BEST * found[0].vote)) break;
    // Lines that cross another found one share a part of its edge.
    if (found.some((f) => Math.abs(f.a - a) + Math.abs(f.b - b) < ((f.a - a) * (f.b - b) < 0 ? 2 : 1) * APART))
      continue;
    found.push({ a, b, vote });
  }
  return found;
}
