import { gaussianKernel } from '../../base/filters/gaussian.ts';

export interface EdgeModel {
  /**
   * The light of an edge at distances across it, from 0 to 1 about 0, and the integral of that: what a slope that begins at the edge
   * becomes. For all at once: a fit asks for thousands.
   */
  sample(distances: Float64Array, edges: Float64Array, ramps: Float64Array): void;
}

export type SpreadKind = 'gaussian' | 'disc';

/** Error function, to 1.5·10⁻⁷. Source: M. Abramowitz, I. Stegun, Handbook of Mathematical Functions, 7.1.26. */
export function erf(x: number): number {
  const t = 1 / (1 + 0.3275911 * Math.abs(x));
  const y =
    1 -
    ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-x * x);
  return x < 0 ? -y : y;
}

/** Edge-spread function of a gaussian of standard deviation σ: from 0 to 1 about 0. */
export const gaussianEdge = (d: number, sigma: number): number => 0.5 * (1 + erf(d / (Math.SQRT2 * sigma)));

/** Edge-spread function of an evenly lit disc of radius r (the integral of its chords): from 0 to 1 within ±r. */
export function discEdge(d: number, radius: number): number {
  if (d <= -radius) return 0;
  if (d >= radius) return 1;
  const q = d / radius;
  return 0.5 + (q * Math.sqrt(1 - q * q) + Math.asin(q)) / Math.PI;
}

function discRamp(d: number, radius: number): number {
  if (d <= -radius) return 0;
  if (d >= radius) return d;
  const q = d / radius;
  const s = Math.sqrt(1 - q * q);
  return radius * (q / 2 + (q * Math.asin(q) + s - s ** 3 / 3) / Math.PI);
}

/** Modulation transfer of a gaussian at a frequency, cycles a pixel: the magnitude of its Fourier transform, e^(−2π²σ²f²). */
export const gaussianTransfer = (frequency: number, sigma: number): number =>
  Math.exp(-2 * Math.PI * Math.PI * sigma * sigma * frequency * frequency);

/** A pixel's square aperture spreads an edge as a gaussian of this standard deviation does, whatever the edge's direction. */
export const PIXEL_SPREAD = Math.sqrt(1 / 12);

/** Up to this softness, px, the few weights of its kernel shape an edge; beyond it is a gaussian's. */
const FEW_WEIGHTS = 1.3;

/**
 * How an edge comes out that pixels average over their squares and a lens then softens, as the compositor does it: `softness` is the standard
 * deviation of its gaussian, or the radius of its disc, px; `normal` the unit vector across the edge.
 */
export function edgeModel(kind: SpreadKind, softness: number, normal: readonly [number, number]): EdgeModel {
  if (kind === 'disc') {
    // The pixel's own spread as the mean over three places.
    return {
      sample: (distances, edges, ramps) =>
        distances.forEach((d, i) => {
          edges[i] = (discEdge(d - 1 / 3, softness) + discEdge(d, softness) + discEdge(d + 1 / 3, softness)) / 3;
          ramps[i] = (discRamp(d - 1 / 3, softness) + discRamp(d, softness) + discRamp(d + 1 / 3, softness)) / 3;
        }),
    };
  }
  if (softness <= FEW_WEIGHTS) return betweenTables(Math.max(LEAST_SOFT, softness), normal);
  const whole = Math.hypot(softness, PIXEL_SPREAD);
  return {
    sample: (distances, edges, ramps) =>
      distances.forEach((d, i) => {
        edges[i] = gaussianEdge(d, whole);
        ramps[i] = d * edges[i] + (whole * Math.exp((-d * d) / (2 * whole * whole))) / Math.sqrt(2 * Math.PI);
      }),
  };
}

/** An edge and its ramp as tables, from -reach to reach in steps of 1/FINE px. */
interface EdgeTable {
  readonly reach: number;
  readonly edge: Float64Array;
  readonly ramp: Float64Array;
}

const FINE = 16;
/** Tables are made for every so many parts of a softness and degrees of direction, and read between them: a fit asks for thousands. */
const SOFT_STEP = 0.03;
const DEGREES = 3;
const LEAST_SOFT = 0.12;
const MOST_TABLES = 4000;
const tables = new Map<number, EdgeTable>();

function betweenTables(sigma: number, [nx, ny]: readonly [number, number]): EdgeModel {
  const x = Math.log(sigma) / SOFT_STEP;
  const low = Math.floor(x);
  const share = x - low;
  const degrees = (Math.atan2(Math.abs(ny), Math.abs(nx)) * 180) / Math.PI;
  const angle = Math.round(Math.min(degrees, 90 - degrees) / DEGREES);
  const a = tableAt(low, angle);
  const b = tableAt(low + 1, angle);
  return {
    sample(distances, edges, ramps) {
      for (let i = 0; i < distances.length; i++) {
        const d = distances[i]!;
        const edge = edgeIn(a, d);
        const ramp = rampIn(a, d);
        edges[i] = edge + share * (edgeIn(b, d) - edge);
        ramps[i] = ramp + share * (rampIn(b, d) - ramp);
      }
    },
  };
}

function edgeIn({ reach, edge }: EdgeTable, d: number): number {
  return d <= -reach ? 0 : d >= reach ? 1 : read(edge, (d + reach) * FINE);
}

function rampIn({ reach, ramp }: EdgeTable, d: number): number {
  return d <= -reach ? 0 : d >= reach ? ramp[ramp.length - 1]! + d - reach : read(ramp, (d + reach) * FINE);
}

function tableAt(step: number, angle: number): EdgeTable {
  const key = step * 64 + angle;
  const there = tables.get(key);
  if (there) return there;
  if (tables.size > MOST_TABLES) tables.clear();
  const radians = (angle * DEGREES * Math.PI) / 180;
  const made = weightedEdge(Math.exp(step * SOFT_STEP), [Math.cos(radians), Math.sin(radians)]);
  tables.set(key, made);
  return made;
}

/** The sum over the kernel's weights of a pixel's own edge, each moved by where its weight is, as a table. */
function weightedEdge(sigma: number, [nx, ny]: readonly [number, number]): EdgeTable {
  const weights = gaussianKernel(sigma);
  const r = (weights.length - 1) / 2;
  const c = Math.abs(nx);
  const s = Math.abs(ny);
  const reach = Math.ceil((r + 1) * (c + s)) + 1;
  const count = 2 * reach * FINE + 1;
  const alongX = new Float64Array(count);
  const table = new Float64Array(count);
  const ramp = new Float64Array(count);
  const at = (k: number) => k / FINE - reach;
  for (let i = -r; i <= r; i++)
    for (let k = 0; k < count; k++) alongX[k]! += weights[i + r]! * pixelEdge(at(k) - i * c, c, s);
  // Moving a table by j·s reads it between its entries.
  for (let j = -r; j <= r; j++)
    for (let k = 0; k < count; k++) table[k]! += weights[j + r]! * read(alongX, k - j * s * FINE);
  for (let k = 1; k < count; k++) ramp[k] = ramp[k - 1]! + (table[k - 1]! + table[k]!) / (2 * FINE);
  return { reach, edge: table, ramp };
}

function read(table: Float64Array, k: number): number {
  if (k <= 0) return table[0]!;
  if (k >= table.length - 1) return table[table.length - 1]!;
  const i = k | 0;
  return table[i]! + (k - i) * (table[i + 1]! - table[i]!);
}

/** What a pixel's square sees of an edge d away from its middle: the integral of a trapezoid whose sides are the square's two extents across the edge. */
function pixelEdge(d: number, c: number, s: number): number {
  const long = Math.max(c, s);
  const short = Math.max(1e-6, Math.min(c, s));
  const cube = (x: number) => (x > 0 ? x * x : 0);
  return (
    (cube(d + (long + short) / 2) -
      cube(d + (long - short) / 2) -
      cube(d - (long - short) / 2) +
      cube(d - (long + short) / 2)) /
    (2 * long * short)
  );
}
