import { factorCholesky, substitute } from '../../base/geometry/linear-solve.ts';
import { noiseShape, type LinePower } from './line-power.ts';

/** The first bins hold what the window spills of the mean. */
const FIRST_BIN = 2;
const ROUNDS = 8;
/** Parameters: three of the parabola, and the logarithm of the noise's variance. */
const N = 4;
/** The noise level found elsewhere counts as so many bins that say the same. */
const NOISE_SAY = 4;

/**
 * How badly lines agree with a picture that was smeared evenly over `length` pixels along them: the mean square of
 * what is left of the logarithm of their power.
 *
 * Model: the picture's own power, a parabola over log f, times (sin πfL / πfL)², plus noise. Parabola and noise are
 * fitted by Gauss–Newton on the logarithms; `noise` (standard deviation) is where the fit begins and what it is held near.
 */
export function smearMisfit({ samples, angle, power }: LinePower, length: number, noise: number): number {
  const bins = power.length - FIRST_BIN;
  const logs = Array.from({ length: bins }, (_, i) => Math.log(Math.max(1e-9, power[FIRST_BIN + i]!)));
  const places = Array.from({ length: bins }, (_, i) => Math.log((FIRST_BIN + i) / samples) - Math.log(0.06));
  const smear = Array.from({ length: bins }, (_, i) => smearPower((FIRST_BIN + i) / samples, length, samples));
  const shape = Array.from({ length: bins }, (_, i) => noiseShape((FIRST_BIN + i) / samples, angle));
  // Codes are whole numbers: that is noise too.
  const known = Math.log(noise * noise + 1 / 12);
  const p = startingParabola(logs, places, smear, shape, known);

  const matrix = new Float64Array(N * N);
  const right = new Float64Array(N);
  const step = new Float64Array(N);
  const row = new Float64Array(N);
  let best = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    matrix.fill(0);
    right.fill(0);
    let sum = 0;
    for (let i = 0; i < bins; i++) {
      const x = places[i]!;
      const own = Math.exp(p[0]! + p[1]! * x + p[2]! * x * x) * smear[i]!;
      const grain = Math.exp(p[3]!) * shape[i]!;
      const share = own / (own + grain);
      const rest = logs[i]! - Math.log(own + grain);
      sum += rest * rest;
      row.set([share, share * x, share * x * x, 1 - share]);
      for (let a = 0; a < N; a++) {
        right[a]! += row[a]! * rest;
        for (let b = 0; b < N; b++) matrix[a * N + b]! += row[a]! * row[b]!;
      }
    }
    best = Math.min(best, sum / bins);
    matrix[N * N - 1]! += NOISE_SAY;
    right[N - 1]! += NOISE_SAY * (known - p[3]!);
    for (let a = 0; a < N; a++) matrix[a * N + a] = matrix[a * N + a]! * 1.001 + 1e-6;
    if (!factorCholesky(matrix, N)) break;
    substitute(matrix, right, step, N);
    const most = Math.max(...step.map(Math.abs));
    const scale = most > 2 ? 2 / most : 1;
    for (let a = 0; a < N; a++) p[a]! += scale * step[a]!;
    if (most < 1e-3) break;
  }
  return best;
}

/** A parabola through what stands clear of the noise, by least squares. */
function startingParabola(
  logs: readonly number[],
  places: readonly number[],
  smear: readonly number[],
  shape: readonly number[],
  known: number,
): Float64Array {
  const matrix = new Float64Array(9);
  const right = new Float64Array(3);
  const solution = new Float64Array(3);
  logs.forEach((log, i) => {
    const clear = Math.exp(log) - Math.exp(known) * shape[i]!;
    if (clear < 0.5 * Math.exp(log) && i > 6) return;
    const x = places[i]!;
    const y = Math.log(Math.max(clear, 0.1 * Math.exp(log))) - Math.log(smear[i]!);
    const row = [1, x, x * x];
    for (let a = 0; a < 3; a++) {
      right[a]! += smear[i]! * row[a]! * y;
      for (let b = 0; b < 3; b++) matrix[a * 3 + b]! += smear[i]! * row[a]! * row[b]!;
    }
  });
  for (let a = 0; a < 3; a++) matrix[a * 3 + a] = matrix[a * 3 + a]! * 1.0001 + 1e-6;
  if (factorCholesky(matrix, 3)) substitute(matrix, right, solution, 3);
  return Float64Array.of(...solution, known);
}

/** (sin πfL / πfL)² as a line under Hann's window shows it: notches are blunted by the neighbours. */
function smearPower(f: number, length: number, samples: number): number {
  if (length === 0) return 1;
  let sum = 2e-3;
  for (const [bins, weight] of BLUNT) {
    const x = Math.PI * Math.abs(f + bins / samples) * length;
    sum += weight * (x < 1e-6 ? 1 : (Math.sin(x) / x) ** 2);
  }
  return sum;
}
const BLUNT = [
  [-1, 1 / 6],
  [0, 4 / 6],
  [1, 1 / 6],
] as const;
