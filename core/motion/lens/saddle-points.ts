import type { Point } from '../../base/geometry/homography.ts';
import { blurPlane } from '../../base/filters/gaussian.ts';
import type { Plane } from '../../base/image/plane.ts';
import { sampleBilinear } from '../../base/image/sampling.ts';

/** A place where two dark and two light squares meet. */
export interface SaddlePoint {
  readonly at: Point;
  readonly strength: number;
  /** Directions of the two lines that cross there, radians; from the first to the second, turning as x turns to y, it is light where `lightFirst`. */
  readonly lines: readonly [number, number];
  readonly lightFirst: boolean;
}

/** The picture is smoothed by so much first, px; places weaker than this share of the strongest one are none; nearer than this to a stronger one, px. */
const SMOOTH = 1.4;
const LEAST = 0.015;
const APART = 3;
/** Light around a place is read on a ring, px, at so many places; a ring with less contrast than this (of white) is no crossing. */
const RING = 5;
const PLACES = 40;
const CONTRAST = 0.06;
/** Widest and narrowest piece of the ring that one square takes, and how far two ends of a line may be from opposite, radians. */
const WIDEST = 0.85 * Math.PI;
const NARROWEST = 0.12 * Math.PI;
const BENT = 0.5;
const MOST = 20_000;

/**
 * Where squares of a chessboard meet, to about a pixel: saddles of the light, i.e. places where the determinant of its second derivatives is most negative, around which light and dark
 * take turns twice on a ring.
 * Source: L. Lucchese, S. Mitra, Using saddle points for subpixel feature detection in camera calibration targets, 2002 (the measure); the ring is our own.
 */
export function saddlePoints(picture: Plane): SaddlePoint[] {
  const { width, height } = picture;
  const smooth = blurPlane(picture, SMOOTH);
  const strength = saddleStrength(smooth);
  const rows: { i: number; j: number; s: number }[] = [];
  let most = 0;
  for (let k = 0; k < strength.length; k++) if (strength[k]! > most) most = strength[k]!;
  const edge = RING + 2;
  for (let j = edge; j < height - edge; j++) {
    for (let i = edge; i < width - edge; i++) {
      const s = strength[j * width + i]!;
      if (s > LEAST * most && isPeak(strength, width, i, j)) rows.push({ i, j, s });
    }
  }
  rows.sort((a, b) => b.s - a.s);
  return rows.slice(0, MOST).flatMap(({ i, j, s }): SaddlePoint[] => {
    const lines = crossing(smooth, i, j);
    return lines ? [{ at: [i + 0.5, j + 0.5], strength: s, ...lines }] : [];
  });
}

function saddleStrength({ data, width, height }: Plane): Float32Array {
  const out = new Float32Array(data.length);
  for (let j = 1; j < height - 1; j++) {
    for (let k = j * width + 1, end = (j + 1) * width - 1; k < end; k++) {
      const twice = 2 * data[k]!;
      const xx = data[k - 1]! + data[k + 1]! - twice;
      const yy = data[k - width]! + data[k + width]! - twice;
      const xy = 0.25 * (data[k - width - 1]! + data[k + width + 1]! - data[k - width + 1]! - data[k + width - 1]!);
      out[k] = Math.max(0, xy * xy - xx * yy);
    }
  }
  return out;
}

function isPeak(s: Float32Array, width: number, i: number, j: number): boolean {
  const here = s[j * width + i]!;
  for (let dj = -APART; dj <= APART; dj++) {
    for (let di = -APART; di <= APART; di++) {
      const there = s[(j + dj) * width + i + di]!;
      // Of two alike the first stands.
      if (there > here || (there === here && (dj < 0 || (dj === 0 && di < 0)))) return false;
    }
  }
  return true;
}

function crossing(smooth: Plane, i: number, j: number): { lines: [number, number]; lightFirst: boolean } | null {
  const light = Array.from({ length: PLACES }, (_, k) => {
    const angle = (2 * Math.PI * k) / PLACES;
    return sampleBilinear(smooth, i + RING * Math.cos(angle), j + RING * Math.sin(angle));
  });
  const low = Math.min(...light);
  const high = Math.max(...light);
  const middle = (low + high) / 2;
  if (!(high - low > CONTRAST)) return null;
  const turns: { angle: number; toLight: boolean }[] = [];
  light.forEach((here, k) => {
    const next = light[(k + 1) % PLACES]!;
    if (here < middle !== next < middle)
      turns.push({ angle: (2 * Math.PI * (k + (middle - here) / (next - here))) / PLACES, toLight: next > here });
  });
  if (turns.length !== 4) return null;
  const wide = turns.map(({ angle }, k) => turns[(k + 1) % 4]!.angle - angle + (k === 3 ? 2 * Math.PI : 0));
  if (wide.some((w) => w < NARROWEST || w > WIDEST)) return null;
  const [a, b, c, d] = turns as [(typeof turns)[0], (typeof turns)[0], (typeof turns)[0], (typeof turns)[0]];
  const across = [c.angle - a.angle - Math.PI, d.angle - b.angle - Math.PI] as const;
  if (across.some((off) => Math.abs(off) > BENT)) return null;
  return { lines: [a.angle + across[0] / 2, b.angle + across[1] / 2], lightFirst: a.toLight };
}
