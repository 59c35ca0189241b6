import { solveCholesky } from './linear-solve.ts';

const STEP = 1e-6;
const SMALLEST_GAIN = 1e-12;

/** How damping goes: it begins so, grows so many times with each step that made nothing better, and falls so many times with one that did. */
export interface DampingSchedule {
  readonly begin?: number;
  readonly grow?: number;
  readonly fall?: number;
  readonly least?: number;
  readonly most?: number;
  /** So many steps are tried in a round. */
  readonly attempts?: number;
}

/**
 * Marquardt's damping of normal equations, whatever is solved by them: steps that make nothing better are tried again, shorter.
 * Source: D. Marquardt, An algorithm for least-squares estimation of nonlinear parameters, 1963.
 */
export class Damping {
  private value: number;
  private readonly schedule: Required<DampingSchedule>;

  constructor(schedule: DampingSchedule = {}) {
    this.schedule = { begin: 1e-4, grow: 5, fall: 10, least: 1e-10, most: 1e8, attempts: 10, ...schedule };
    this.value = this.schedule.begin;
  }

  /** Takes steps, each more damped than the one before, until `step` has taken one that is better; false when none was. */
  untilBetter(step: (damping: number) => boolean): boolean {
    const { attempts, fall, grow, least, most } = this.schedule;
    for (let attempt = 0; attempt < attempts; attempt++) {
      if (step(this.value)) {
        this.value = Math.max(least, this.value / fall);
        return true;
      }
      this.value = Math.min(most, this.value * grow);
    }
    return false;
  }
}

/** A normal matrix of n × n whose diagonal is greater by a share, and by `floor` where a term is nothing; into `out`. */
export function dampDiagonal(normal: Float64Array, out: Float64Array, n: number, damping: number, floor = 0): void {
  out.set(normal);
  for (let k = 0; k < n; k++) out[k * (n + 1)] = normal[k * (n + 1)]! * (1 + damping) + floor;
}

/**
 * Unknowns at which the sum of squares of `residuals` is smallest, near `start`; slopes by differences of `STEP`, so unknowns are to be of about the size of 1. Residuals must be finite at
 * the start; where they are not, a step is tried shorter.
 */
export function dampedLeastSquares(
  residuals: (unknowns: readonly number[]) => Float64Array,
  start: readonly number[],
  rounds = 60,
): { unknowns: number[]; residuals: Float64Array } {
  const n = start.length;
  const step = new Float64Array(n);
  let unknowns = [...start];
  let here = residuals(unknowns);
  let cost = sumOfSquares(here);
  const damping = new Damping();
  const damped = new Float64Array(n * n);
  for (let round = 0; round < rounds; round++) {
    const normal = new Float64Array(n * n);
    const right = new Float64Array(n);
    const slopes = unknowns.map((_, k) => {
      const there = residuals(unknowns.map((v, i) => (i === k ? v + STEP : v)));
      return there.map((v, i) => (v - here[i]!) / STEP);
    });
    for (let r = 0; r < n; r++) {
      const row = slopes[r]!;
      for (let i = 0; i < here.length; i++) right[r]! -= row[i]! * here[i]!;
      for (let c = 0; c <= r; c++) {
        const other = slopes[c]!;
        let sum = 0;
        for (let i = 0; i < here.length; i++) sum += row[i]! * other[i]!;
        normal[r * n + c] = sum;
      }
    }
    const before = cost;
    damping.untilBetter((share) => {
      dampDiagonal(normal, damped, n, share);
      if (!solveCholesky(damped, right, step, n)) return false;
      const next = unknowns.map((v, k) => v + step[k]!);
      const there = residuals(next);
      const now = sumOfSquares(there);
      if (!(now < cost)) return false;
      [unknowns, here, cost] = [next, there, now];
      return true;
    });
    if ((before - cost) / before < SMALLEST_GAIN) break;
  }
  return { unknowns, residuals: here };
}

function sumOfSquares(values: Float64Array): number {
  const sum = values.reduce((s, v) => s + v * v, 0);
  return Number.isFinite(sum) ? sum : Infinity;
}
