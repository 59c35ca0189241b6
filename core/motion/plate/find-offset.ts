/** Small luma pictures of one size, one a frame, 0…255. */
export type Thumbnails = readonly Float32Array[];

export interface OffsetFound {
  /** Frame f of the old plate is frame f + offset of the new one. */
  offset: number;
  /** Mean correlation at that offset, −1…1. */
  score: number;
  /** True when no other offset fits nearly as well. */
  distinct: boolean;
}

/** Offsets within which the score must fall off for the best to count as found. */
const BEST_BY = 0.02;

/** So many frames are compared at each offset, spread over what the two have in common. */
const COMPARED = 48;
/** Share of the pictures' contrast that must move. */
const LEAST_MOVEMENT = 1e-5;

/**
 * Finds how the frames of two versions of a plate belong together, whatever was done to their colour: the
 * pictures are compared by correlation, after what stands still (a mean picture) has been taken off, so that only
 * movement counts: the mean of each plate by itself, which any grade leaves alike, and the mean of both over the frames in common, which
 * a long handle does not disturb. The one that tells better counts. Null when one of them has no frames.
 */
export function findOffset(old: Thumbnails, fresh: Thumbnails): OffsetFound | null {
  if (old.length === 0 || fresh.length === 0) return null;
  const a = normalised(old);
  const b = normalised(fresh);
  const apart = bestOffset(old.length, fresh.length, (from, to, step, offset) => {
    let sum = 0;
    let count = 0;
    for (let f = from; f < to; f += step, count++) sum += dot(a[f]!, b[f + offset]!);
    return sum / count;
  });
  const c = old.map(centred);
  const d = fresh.map(centred);
  const together = bestOffset(old.length, fresh.length, (from, to, step, offset) =>
    likenessTogether(c, d, from, to, step, offset),
  );
  if (together.distinct !== apart.distinct) return together.distinct ? together : apart;
  return together.score > apart.score ? together : apart;
}

function bestOffset(
  oldLength: number,
  freshLength: number,
  scoreAt: (from: number, to: number, step: number, offset: number) => number,
): OffsetFound {
  const scores = new Map<number, number>();
  const least = Math.min(oldLength, freshLength, Math.max(3, Math.ceil(0.25 * Math.min(oldLength, freshLength))));
  for (let offset = least - oldLength; offset <= freshLength - least; offset++) {
    const from = Math.max(0, -offset);
    const to = Math.min(oldLength, freshLength - offset);
    scores.set(offset, scoreAt(from, to, Math.max(1, Math.floor((to - from) / COMPARED)), offset));
  }
  let best = 0;
  let score = -Infinity;
  for (const [offset, value] of scores) {
    // Where offsets tie, as on a locked-off shot, the smallest shift stands.
    if (value > score + 1e-9 || (value > score - 1e-9 && Math.abs(offset) < Math.abs(best)))
      [best, score] = [offset, value];
  }
  const others = [...scores].filter(([offset]) => offset !== best).map(([, value]) => value);
  return {
    offset: best,
    score,
    distinct: score > 0.5 && (others.length === 0 || score - Math.max(...others) > BEST_BY),
  };
}

/** A picture without its mean code: lighter or darker as a whole is no movement. */
function centred(picture: Float32Array): Float32Array {
  let mean = 0;
  for (const v of picture) mean += v / picture.length;
  return picture.map((v) => v - mean);
}

/** Correlation, over pixels and frames at once, of two plates of equal contrast from which their common mean picture is taken off. */
function likenessTogether(
  a: Thumbnails,
  b: Thumbnails,
  from: number,
  to: number,
  step: number,
  offset: number,
): number {
  const size = a[0]!.length;
  const sumA = new Float64Array(size);
  const sumB = new Float64Array(size);
  let count = 0;
  let product = 0;
  let squaresA = 0;
  let squaresB = 0;
  for (let f = from; f < to; f += step, count++) {
    const p = a[f]!;
    const q = b[f + offset]!;
    for (let i = 0; i < size; i++) {
      const u = p[i]!;
      const v = q[i]!;
      product += u * v;
      squaresA += u * u;
      squaresB += v * v;
      sumA[i]! += u;
      sumB[i]! += v;
    }
  }
  const spreadA = Math.sqrt(squaresA);
  const spreadB = Math.sqrt(squaresB);
  if (!(spreadA > 0 && spreadB > 0)) return 0;
  let covariance = product / (spreadA * spreadB);
  let varianceA = 1;
  let varianceB = 1;
  for (let i = 0; i < size; i++) {
    const u = sumA[i]! / spreadA;
    const v = sumB[i]! / spreadB;
    const both = (u + v) ** 2 / (4 * count);
    covariance -= both;
    varianceA += both - (u * (u + v)) / count;
    varianceB += both - (v * (u + v)) / count;
  }
  return Math.min(varianceA, varianceB) > LEAST_MOVEMENT ? covariance / Math.sqrt(varianceA * varianceB) : 0;
}

/** Without the mean picture, each of unit length; pictures without movement become zero. */
function normalised(pictures: Thumbnails): Float32Array[] {
  const size = pictures[0]!.length;
  const mean = new Float64Array(size);
  for (const p of pictures) for (let i = 0; i < size; i++) mean[i]! += p[i]! / pictures.length;
  return pictures.map((p) => {
    const own = centred(pictures.length > 2 ? p.map((v, i) => v - mean[i]!) : p);
    const length = Math.sqrt(dot(own, own));
    return length > 1e-3 ? own.map((v) => v / length) : own.fill(0);
  });
}

function dot(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}
