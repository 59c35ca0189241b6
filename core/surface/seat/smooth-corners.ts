import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Quad } from '../../base/geometry/quad.ts';

/** Time constant of the smoothing at amount 1, frames. */
const LONGEST = 4;
/** What is taken away is at most about so many bounds: more is the device's own jerk. */
const JERK = 1;

/**
 * A first-order low-pass run forward and backward, so that nothing is late: y[n] = a·x[n] + (1 − a)·y[n−1] with a = 1 − exp(−1/τ), then the
 * same from the end. The ends are continued by their odd reflection, which keeps straight ways straight. τ = 0 gives the input itself.
 *
 * Source: zero-phase filtering, A. Oppenheim, R. Schafer, Discrete-Time Signal Processing, 3rd ed. 2010, problem 5.64 and §5.1.2 (|H|² in
 * magnitude, no phase); the ends: F. Gustafsson, Determining the initial states in forward-backward filtering, IEEE Trans. Signal
 * Processing 44(4), 1996. The impulse response is a/(2 − a)·(1 − a)^|n|.
 */
export function smoothZeroPhase(values: readonly number[], tau: number): number[] {
  const n = values.length;
  if (!(tau > 0) || n < 3) return [...values];
  const a = 1 - Math.exp(-1 / tau);
  const pad = Math.min(n - 1, Math.ceil(8 * tau));
  const long = [
    ...Array.from({ length: pad }, (_, i) => 2 * values[0]! - values[pad - i]!),
    ...values,
    ...Array.from({ length: pad }, (_, i) => 2 * values[n - 1]! - values[n - 2 - i]!),
  ];
  const run = (from: readonly number[]) => {
    let y = from[0]!;
    return from.map((x) => (y += a * (x - y)));
  };
  return run(run(long).reverse())
    .reverse()
    .slice(pad, pad + n);
}

export interface CornerPath {
  readonly frame: number;
  readonly corners: Quad;
  /** 95 % bound of each corner, px; what is within it may be noise. */
  readonly bounds: readonly number[];
}

/**
 * Corner paths without their noise: each coordinate is smoothed without lag, and what that takes away is given back the more, the further it is
 * over the stated bound: a real jerk stays. `amount` is 0 (exactly the input) to 1. Frames that do not follow each other are smoothed apart.
 */
export function smoothCorners(path: readonly CornerPath[], amount: number): Map<number, Quad> {
  const out = new Map<number, Quad>();
  for (const run of runsOf(path)) {
    const tau = LONGEST * amount;
    const smooth = Array.from({ length: 8 }, (_, k) =>
      smoothZeroPhase(
        run.map((p) => p.corners[k >> 1]![k % 2]!),
        tau,
      ),
    );
    run.forEach((p, i) =>
      out.set(
        p.frame,
        mapTuple(p.corners, ([x, y], c) => {
          if (!(amount > 0)) return [x, y];
          const dx = smooth[2 * c]![i]! - x;
          const dy = smooth[2 * c + 1]![i]! - y;
          const share = 1 / (1 + (Math.hypot(dx, dy) / Math.max(1e-6, JERK * p.bounds[c]!)) ** 4);
          return [x + share * dx, y + share * dy];
        }),
      ),
    );
  }
  return out;
}

function runsOf(path: readonly CornerPath[]): CornerPath[][] {
  const runs: CornerPath[][] = [];
  for (const p of [...path].sort((a, b) => a.frame - b.frame)) {
    const last = runs.at(-1);
    if (last && last.at(-1)!.frame === p.frame - 1) last.push(p);
    else runs.push([p]);
  }
  return runs;
}
