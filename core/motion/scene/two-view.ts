import {
  essentialsOfFive,
  meet,
  posesOfEssential,
  sampson,
  type Essential,
  type Ray,
  type RelativePose,
} from './essential-matrix.ts';

export interface TwoView extends RelativePose {
  /** By pair: its place in the first camera's axes, null where it does not fit. */
  readonly points: readonly ([number, number, number] | null)[];
  readonly holds: number;
}

/** Sets of five that are tried at most; fewer where nearly all pairs agree. */
const MOST_TRIES = 300;
const SURE = 0.9999;

/**
 * How a second camera stands to a first one, from pairs of rays of which many may be wrong: sets of five drawn at random, the one that most pairs
 * agree with (M. Fischler, R. Bolles, Random sample consensus, CACM 24(6), 1981; counted as in P. Torr, A. Zisserman, MLESAC, 2000). `off` is what a
 * pair is usually off, in focal lengths. Null where fewer than eight agree.
 */
export function relativePose(
  first: readonly Ray[],
  second: readonly Ray[],
  off: number,
  random: () => number,
): TwoView | null {
  const n = first.length;
  const limit = (2.5 * off) ** 2;
  if (n < 8) return null;
  let best: Essential | null = null;
  let least = Infinity;
  let tries = MOST_TRIES;
  for (let k = 0; k < tries; k++) {
    const five = drawFive(n, random);
    for (const e of essentialsOfFive(
      five.map((i) => first[i]!),
      five.map((i) => second[i]!),
    )) {
      let cost = 0;
      let agree = 0;
      for (let i = 0; i < n && cost < least; i++) {
        const d = sampson(e, first[i]!, second[i]!);
        cost += Math.min(d, limit);
        if (d < limit) agree++;
      }
      if (cost >= least) continue;
      [best, least] = [e, cost];
      tries = Math.min(
        MOST_TRIES,
        Math.ceil(Math.log(1 - SURE) / Math.log(1 - Math.min(0.999, (agree / n) ** 5))) + 10,
      );
    }
  }
  if (!best) return null;
  const chosen = best;
  const found = posesOfEssential(chosen)
    .map((pose) => {
      const points = first.map((a, i) => (sampson(chosen, a, second[i]!) < limit ? meet(pose, a, second[i]!) : null));
      return { ...pose, points, holds: points.filter(Boolean).length };
    })
    .reduce((a, b) => (b.holds > a.holds ? b : a));
  return found.holds >= 8 ? found : null;
}

function drawFive(n: number, random: () => number): number[] {
  const chosen = new Set<number>();
  while (chosen.size < 5) chosen.add(Math.floor(random() * n));
  return [...chosen];
}
