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

/**
 * Finds how the frames of two versions of a plate belong together, whatever was done to their colour: the
 * pictures are compared by correlation, after what stands still in each plate (its mean picture) has been taken
 * off, so that only movement counts. Null when one of them has no frames.
 */
export function findOffset(old: Thumbnails, fresh: Thumbnails): OffsetFound | null {
  if (old.length === 0 || fresh.length === 0) return null;
  const a = normalised(old), b = normalised(fresh);
  const scores = new Map<number, number>();
  const least = Math.min(old.length, fresh.length, Math.max(3, Math.ceil(0.25 * Math.min(old.length, fresh.length))));
  for (let offset = least - old.length; offset <= fresh.length - least; offset++) {
    const from = Math.max(0, -offset), to = Math.min(old.length, fresh.length - offset);
    const step = Math.max(1, Math.floor((to - from) / 48));
    let sum = 0, count = 0;
    for (let f = from; f < to; f += step, count++) sum += dot(a[f]!, b[f + offset]!);
    scores.set(offset, sum / count);
  }
  let best = 0, score = -Infinity;
  for (const [offset, value] of scores) {
    // Where offsets tie, as on a locked-off shot, the smallest shift stands.
    if (value > score + 1e-9 || (value > score - 1e-9 && Math.abs(offset) < Math.abs(best))) [best, score] = [offset, value];
  }
  const others = [...scores].filter(([offset]) => offset !== best).map(([, value]) => value);
  return { offset: best, score, distinct: score > 0.5 && (others.length === 0 || score - Math.max(...others) > BEST_BY) };
}

/** Without the mean picture, each of unit length; pictures without movement become zero. */
function normalised(pictures: Thumbnails): Float32Array[] {
  const size = pictures[0]!.length;
  const mean = new Float64Array(size);
  for (const p of pictures) for (let i = 0; i < size; i++) mean[i]! += p[i]! / pictures.length;
  return pictures.map((p) => {
    const own = pictures.length > 2 ? p.map((v, i) => v - mean[i]!) : p.slice();
    let average = 0;
    for (const v of own) average += v / size;
    let squares = 0;
    for (let i = 0; i < size; i++) {
      own[i]! -= average;
      squares += own[i]! ** 2;
    }
    const length = Math.sqrt(squares);
    return length > 1e-3 ? own.map((v) => v / length) : own.fill(0);
  });
}

function dot(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}
