import { clamp } from '../../base/geometry/clamp.ts';

/** How far a profile has moved against a template. */
export interface ProfileShift {
  /** px, positive outward. */
  readonly shift: number;
  /** Standard deviation by what is left over, px. */
  readonly deviation: number;
  /** Mean square left over, over the template's own variance: 0 alike, 1 nothing in common. */
  readonly misfit: number;
}

const REFINEMENTS = 4;
/** Gains outside are no longer the same border in other light. */
const LEAST_GAIN = 0.05;
const MOST_GAIN = 20;

/**
 * Finds the shift, gain and offset that take a template to a profile: every value by its correlation (about `start` where that is given), then by Gauss–Newton.
 * The template is wider than the profile by `margin` values on either side, so that every shift compares the same places.
 * Both have `step` px between values. Null where nothing fits, or the best lies at the end of the range.
 *
 * Source: B. Lucas, T. Kanade, An iterative image registration technique with an application to stereo vision, IJCAI 1981, in one
 * dimension, with gain and offset eliminated by regression.
 */
export function alignProfile(
  template: ArrayLike<number>,
  profile: ArrayLike<number>,
  at: number,
  count: number,
  margin: number,
  step: number,
  start?: number,
): ProfileShift | null {
  let sumP = 0;
  let sumPP = 0;
  for (let i = 0; i < count; i++) {
    const p = profile[at + i]!;
    sumP += p;
    sumPP += p * p;
  }
  const energy = sumPP - (sumP * sumP) / count;
  if (!(energy > 0)) return null;
  const reach = margin - 2;
  const [from, to] =
    start === undefined
      ? [-reach, reach]
      : [Math.max(-reach, Math.round(start / step) - 1), Math.min(reach, Math.round(start / step) + 1)];
  let best = 0;
  let most = -Infinity;
  for (let k = from; k <= to; k++) {
    const score = correlation(template, profile, at, count, margin - k, sumP, energy);
    if (score > most) [best, most] = [k, score];
  }
  if (Math.abs(best) === reach || !(most > 0)) return null;
  let shift = best;
  let result: { gain: number; left: number; information: number } | null = null;
  for (let round = 0; round < REFINEMENTS; round++) {
    const now = regress(template, profile, at, count, margin, shift, sumP, sumPP);
    if (!now) return null;
    const move = clamp(now.move, -0.7, 0.7);
    if (Math.abs(shift + move - best) > 1.6) return null;
    result = now;
    shift += move;
    if (Math.abs(move) < 0.002) break;
  }
  if (!result || result.gain < LEAST_GAIN || result.gain > MOST_GAIN) return null;
  const variance = result.left / Math.max(1, count - 3);
  return {
    shift: shift * step,
    deviation: step * Math.sqrt(variance / result.information),
    misfit: result.left / energy,
  };
}

/** Value of the template `shift` values back from profile index i: cubic between its values. */
function templateAt(template: ArrayLike<number>, place: number): number {
  const k = Math.floor(place);
  const t = place - k;
  const a = template[k - 1]!;
  const b = template[k]!;
  const c = template[k + 1]!;
  const d = template[k + 2]!;
  return b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));
}

function correlation(
  template: ArrayLike<number>,
  profile: ArrayLike<number>,
  at: number,
  count: number,
  first: number,
  sumP: number,
  energy: number,
): number {
  let sumT = 0;
  let sumTT = 0;
  let sumTP = 0;
  for (let i = 0; i < count; i++) {
    const t = template[first + i]!;
    const p = profile[at + i]!;
    sumT += t;
    sumTT += t * t;
    sumTP += t * p;
  }
  const own = sumTT - (sumT * sumT) / count;
  return own > 0 ? (sumTP - (sumT * sumP) / count) / Math.sqrt(own * energy) : -1;
}

/** Gain, offset and the next move at a shift. */
function regress(
  template: ArrayLike<number>,
  profile: ArrayLike<number>,
  at: number,
  count: number,
  margin: number,
  shift: number,
  sumP: number,
  sumPP: number,
): { gain: number; left: number; information: number; move: number } | null {
  let sumT = 0;
  let sumTT = 0;
  let sumTP = 0;
  let sumD = 0;
  let sumDD = 0;
  let sumDT = 0;
  let sumDP = 0;
  for (let i = 0; i < count; i++) {
    const place = margin + i - shift;
    const t = templateAt(template, place);
    const d = (templateAt(template, place - 0.25) - templateAt(template, place + 0.25)) * 2;
    const p = profile[at + i]!;
    sumT += t;
    sumTT += t * t;
    sumTP += t * p;
    sumD += d;
    sumDD += d * d;
    sumDT += d * t;
    sumDP += d * p;
  }
  // Centred sums: the offset is eliminated.
  const tt = sumTT - (sumT * sumT) / count;
  const tp = sumTP - (sumT * sumP) / count;
  const dd = sumDD - (sumD * sumD) / count;
  const dt = sumDT - (sumD * sumT) / count;
  const dp = sumDP - (sumD * sumP) / count;
  const pp = sumPP - (sumP * sumP) / count;
  if (!(tt > 0)) return null;
  const gain = tp / tt;
  const free = dd - (dt * dt) / tt;
  if (!(free > 1e-12 * dd) || !(gain > 0)) return null;
  return {
    gain,
    left: Math.max(0, pp - gain * tp),
    information: gain * gain * free,
    move: (dp - (dt * tp) / tt) / (gain * free),
  };
}
