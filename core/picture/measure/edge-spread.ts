import { clamp } from '../../base/geometry/clamp.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { dampDiagonal, Damping } from '../../base/geometry/damped-least-squares.ts';
import { solveCholesky } from '../../base/geometry/linear-solve.ts';
import { edgeModel, type SpreadKind } from './edge-model.ts';

/** Pixels about an edge: distance along it and across it from where it is thought to be, px, and light. */
export interface EdgePixels {
  readonly along: Float64Array;
  readonly across: Float64Array;
  readonly light: Float64Array;
  readonly count: number;
  /** The unit vector across the edge. */
  readonly normal: readonly [number, number];
}

export interface EdgeFit {
  /** Standard deviation of the gaussian, or radius of the disc, px; the pixel's own spread is beside it. */
  readonly spread: number;
  /** How far off that may be, px. */
  readonly off: number;
  /** Where the edge is, px from where it was thought to be. */
  readonly place: number;
  /** Step of light across the edge, and the root mean square of what the fit leaves, in steps. */
  readonly step: number;
  readonly left: number;
}

const ROUNDS = 14;
const LINEAR = 4;
/** How strongly slopes beside an edge are held to none: what makes one of a twentieth of a step in a pixel cost as much as a residual of a fifth. */
const HELD = 16;
/**
 * Fits an edge-spread function to pixels: a step between two levels, each with a slope of its own, over a straight edge whose place and turn are found too. The
 * slanted-edge method (ISO 12233:2017, annex D) by least squares in place of a derivative: the edge's slant gives samples between
 * pixels. Null where there is no edge.
 */
export function fitEdge(
  pixels: EdgePixels,
  kind: SpreadKind,
  start: number,
  slopes: 'held' | 'free' = 'held',
): EdgeFit | null {
  const { along, across, light, count } = pixels;
  const longest = along.reduce((m, v, i) => (i < count ? Math.max(m, Math.abs(v)) : m), 1);
  // Place, turn (px at the far end of the segment) and the logarithm of the spread.
  let at: readonly [number, number, number] = [0, 0, Math.log(start)];
  let here = solveLevels(at);
  const damping = new Damping({ begin: 1e-3, grow: 8, fall: 8, least: 0, attempts: 5 });
  const damped = new Float64Array(9);
  function solveLevels([place, turn, logSpread]: readonly [number, number, number]): {
    cost: number;
    residuals: Float64Array;
    levels: Float64Array;
  } | null {
    const model = edgeModel(kind, Math.exp(logSpread), pixels.normal);
    const edges = new Float64Array(count);
    const offs = new Float64Array(count);
    const ramps = new Float64Array(count);
    // The normal equations of four unknowns, term by term: this is where a measured look spends its time.
    let sumE = 0;
    let sumR = 0;
    let sumS = 0;
    let sumEE = 0;
    let sumER = 0;
    let sumES = 0;
    let sumRR = 0;
    let sumRS = 0;
    let sumSS = 0;
    let sumL = 0;
    let sumEL = 0;
    let sumRL = 0;
    let sumSL = 0;
    for (let i = 0; i < count; i++) offs[i] = across[i]! - place - (turn * along[i]!) / longest;
    // Slopes that begin or end at the edge, spread as it is: the integral of its function.
    model.sample(offs, edges, ramps);
    for (let i = 0; i < count; i++) {
      const e = edges[i]!;
      const r = ramps[i]!;
      const s = offs[i]! - r;
      const l = light[i]!;
      sumE += e;
      sumR += r;
      sumS += s;
      sumEE += e * e;
      sumER += e * r;
      sumES += e * s;
      sumRR += r * r;
      sumRS += r * s;
      sumSS += s * s;
      sumL += l;
      sumEL += e * l;
      sumRL += r * l;
      sumSL += s * l;
    }
    const normal = Float64Array.of(
      ...[count, sumE, sumR, sumS],
      ...[sumE, sumEE, sumER, sumES],
      ...[sumR, sumER, sumRR, sumRS],
      ...[sumS, sumES, sumRS, sumSS],
    );
    const right = Float64Array.of(sumL, sumEL, sumRL, sumSL);
    for (let a = 0; a < LINEAR; a++) normal[a * LINEAR + a]! *= 1 + 1e-9;
    if (slopes === 'held') for (const a of [2, 3]) normal[a * LINEAR + a]! += count * HELD;
    const levels = new Float64Array(LINEAR);
    if (!solveCholesky(normal, right, levels, LINEAR)) return null;
    const residuals = new Float64Array(count);
    let cost = 0;
    for (let i = 0; i < count; i++) {
      const e = edges[i]!;
      const d = offs[i]!;
      const ramp = ramps[i]!;
      const r = levels[0]! + levels[1]! * e + levels[2]! * ramp + levels[3]! * (d - ramp) - light[i]!;
      residuals[i] = r;
      cost += r * r;
    }
    return { cost, residuals, levels };
  }
  let lastNormal: Float64Array | null = null;
  for (let round = 0; round < ROUNDS && here; round++) {
    const steps = [0.02, 0.02, 0.02] as const;
    const slopes = steps.map((h, k) => {
      const there = solveLevels(mapTuple(at, (v, i) => (i === k ? v + h : v)));
      return there && there.residuals.map((r, i) => (r - here!.residuals[i]!) / h);
    });
    if (slopes.some((s) => !s)) return null;
    const normal = new Float64Array(9);
    const right = new Float64Array(3);
    for (let i = 0; i < count; i++) {
      for (let a = 0; a < 3; a++) {
        right[a]! -= slopes[a]![i]! * here.residuals[i]!;
        for (let b = 0; b < 3; b++) normal[a * 3 + b]! += slopes[a]![i]! * slopes[b]![i]!;
      }
    }
    lastNormal = normal;
    let moved = 0;
    damping.untilBetter((share) => {
      dampDiagonal(normal, damped, 3, share, 1e-12);
      const step = new Float64Array(3);
      if (!solveCholesky(damped, right.slice(), step, 3)) return false;
      const next = mapTuple(at, (v, i) => v + clamp(step[i]!, -1, 1));
      const there = next[2] > -3 && next[2] < 4 && Math.abs(next[0]) < 6 ? solveLevels(next) : null;
      if (!there || there.cost >= here!.cost) return false;
      [at, here, moved] = [next, there, Math.max(...step.map(Math.abs))];
      return true;
    });
    if (moved < 1e-4) break;
  }
  if (!here || !lastNormal) return null;
  const variance = here.cost / Math.max(1, count - LINEAR - 3);
  const step = Math.abs(here.levels[1]!);
  const unit = new Float64Array(3);
  const covariance = new Float64Array(3);
  unit[2] = 1;
  if (
    step <= 0 ||
    !solveCholesky(
      lastNormal.map((v, i) => (i % 4 === 0 ? v + 1e-15 : v)),
      unit,
      covariance,
      3,
    )
  )
    return null;
  const spread = Math.exp(at[2]);
  const seen = rangeOf(light, count);
  // A step larger than what is seen, or a spread wider than the window, is a slope and no edge.
  if (step > 1.25 * seen || spread > 0.6 * rangeOf(across, count)) return null;
  return {
    spread,
    off: spread * Math.sqrt(Math.max(0, covariance[2]! * variance)),
    place: at[0],
    step,
    left: Math.sqrt(variance) / step,
  };
}

function rangeOf(values: Float64Array, count: number): number {
  let least = Infinity;
  let most = -Infinity;
  for (let i = 0; i < count; i++) {
    least = Math.min(least, values[i]!);
    most = Math.max(most, values[i]!);
  }
  return most - least;
}
