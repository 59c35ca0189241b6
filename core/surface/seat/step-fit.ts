import { clamp } from '../../base/geometry/clamp.ts';

/** A step found in a profile. */
export interface StepFit {
  /** Where its middle lies, px in the profile's own coordinates. */
  readonly place: number;
  /** Light outside minus light inside. */
  readonly contrast: number;
  /** Standard deviation of the place by what the step's model leaves over, px. */
  readonly deviation: number;
  /** Sum of squares left over. */
  readonly cost: number;
}

/** Places that are tried, px apart. */
const TRIAL = 0.1;
/** Every so many are tried first. */
const COARSE = 4;
/** Slopes on both sides count against the fit like so many squared px of light: flat sides unless the profile insists. */
const SLOPE_RIDGE = 0.02;
/** Unknowns of the straight parts: levels and slopes. */
const LINEAR = 4;

interface Basis {
  readonly place: number;
  /** Orthonormal columns of the model, `LINEAR` times (samples + 2), the last two rows the ridge's. */
  readonly columns: Float64Array;
}

/**
 * Finds a blurred step in profiles of one length and step. The step is the error function of spread `sigma`, with a level and a
 * slope of its own on either side. For every trial place the straight parts are a projection that is made once, so that a profile
 * costs a few hundred multiplications.
 *
 * Source: edge location by fitting the edge-spread function, S. Hagara, P. Kulla, Edge detection with sub-pixel accuracy based on
 * approximation of edge with Erf function, Radioengineering 20(2), 2011; the projection: G. Golub, V. Pereyra, The differentiation
 * of pseudo-inverses and nonlinear least squares problems whose variables separate, SIAM J. Numer. Anal. 10(2), 1973.
 */
export class StepFitter {
  private readonly bases: Basis[] = [];
  private readonly rows: number;

  /** `places` of a profile's values, px; steps are looked for between `from` and `to`. */
  constructor(
    private readonly places: readonly number[],
    readonly sigma: number,
    from: number,
    to: number,
  ) {
    this.rows = places.length + 2;
    for (let place = from; place <= to + 1e-9; place += TRIAL) this.bases.push({ place, columns: this.basisAt(place) });
  }

  /** Null where the profile is not whole, or the best place lies at the end of the range. */
  fit(values: ArrayLike<number>, at = 0): StepFit | null {
    const n = this.places.length;
    let energy = 0;
    for (let i = 0; i < n; i++) energy += values[at + i]! ** 2;
    if (!Number.isFinite(energy)) return null;
    const costAt = (i: number) => energy - this.explained(this.bases[i]!.columns, values, at);
    const last = this.bases.length - 1;
    // Costs change slowly against the trials: every few first, then all about the best of those.
    let best = 0;
    let least = Infinity;
    const look = (i: number) => {
      const cost = costAt(i);
      if (cost < least) [best, least] = [i, cost];
    };
    for (let i = 0; i <= last; i += COARSE) look(i);
    for (let from = Math.max(0, best - COARSE + 1), to = Math.min(last, best + COARSE - 1), i = from; i <= to; i++)
      if (i % COARSE !== 0) look(i);
    if (best === 0 || best === last) return null;
    const [before, here, after] = [costAt(best - 1), least, costAt(best + 1)];
    const bend = before - 2 * here + after;
    const place = this.bases[best]!.place + (bend > 0 ? clamp((before - after) / (2 * bend), -0.5, 0.5) * TRIAL : 0);
    // Half the second derivative of the cost over the variance of what is left over: the information on the place.
    const variance = Math.max(0, here) / Math.max(1, n - LINEAR - 1);
    const information = bend / (TRIAL * TRIAL) / 2;
    return {
      place,
      contrast: this.contrastAt(place, values, at),
      deviation: information > 0 ? Math.sqrt(variance / information) : Infinity,
      cost: Math.max(0, here),
    };
  }

  private explained(columns: Float64Array, values: ArrayLike<number>, at: number): number {
    const n = this.places.length;
    let sum = 0;
    for (let c = 0; c < LINEAR; c++) {
      const base = c * this.rows;
      let dot = 0;
      for (let i = 0; i < n; i++) dot += columns[base + i]! * values[at + i]!;
      sum += dot * dot;
    }
    return sum;
  }

  /** Gram–Schmidt on [1, E, s−p, (s−p)·E] with the ridge rows beneath. */
  private basisAt(place: number): Float64Array {
    const n = this.places.length;
    const out = new Float64Array(LINEAR * this.rows);
    this.places.forEach((s, i) => {
      const e = normalIntegral((s - place) / this.sigma);
      const along = s - place;
      out[i] = 1;
      out[this.rows + i] = e;
      out[2 * this.rows + i] = along * (1 - e);
      out[3 * this.rows + i] = along * e;
    });
    const ridge = Math.sqrt(SLOPE_RIDGE * n);
    out[2 * this.rows + n] = ridge;
    out[3 * this.rows + n + 1] = ridge;
    for (let c = 0; c < LINEAR; c++) {
      const column = out.subarray(c * this.rows, (c + 1) * this.rows);
      for (let b = 0; b < c; b++) {
        const other = out.subarray(b * this.rows, (b + 1) * this.rows);
        const dot = column.reduce((sum, v, i) => sum + v * other[i]!, 0);
        for (let i = 0; i < this.rows; i++) column[i]! -= dot * other[i]!;
      }
      const length = Math.sqrt(column.reduce((sum, v) => sum + v * v, 0)) || 1;
      for (let i = 0; i < this.rows; i++) column[i]! /= length;
    }
    return out;
  }

  /** Difference of the mean light beyond the blur on either side. */
  private contrastAt(place: number, values: ArrayLike<number>, at: number): number {
    let inside = 0;
    let outside = 0;
    let nIn = 0;
    let nOut = 0;
    this.places.forEach((s, i) => {
      if (s < place - this.sigma) [inside, nIn] = [inside + values[at + i]!, nIn + 1];
      else if (s > place + this.sigma) [outside, nOut] = [outside + values[at + i]!, nOut + 1];
    });
    return nIn > 0 && nOut > 0 ? outside / nOut - inside / nIn : 0;
  }
}

/**
 * The integral of the standard normal distribution, to 1.5e-7.
 * Source: M. Abramowitz, I. Stegun, Handbook of Mathematical Functions, 1964, 7.1.26.
 */
export function normalIntegral(z: number): number {
  const x = Math.abs(z) / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * x);
  const erf =
    1 -
    ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-x * x);
  return z >= 0 ? (1 + erf) / 2 : (1 - erf) / 2;
}
