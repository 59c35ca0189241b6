/** A rectangle of samples: right and bottom are the first ones not in it. */
export interface SampleRect {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/**
 * A picture prepared for sampling: for each sample four numbers [value, ∂/∂x, ∂/∂y, permission], the derivatives
 * per sample, permission 1 where the sample may be looked at.
 */
export interface TexelPlane {
  readonly width: number;
  readonly height: number;
  readonly texels: Float32Array;
}

/**
 * Points of a template, and what is known of each, as planes of `count` entries. `count` is a multiple of four; points
 * that only fill up have a prior of 0.
 */
export interface PointSet {
  readonly count: number;
  /** Sample indices in the reference. */
  readonly xs: Float32Array;
  readonly ys: Float32Array;
  /** How much each point is listened to before its residual is seen, 0…1. */
  readonly prior: Float32Array;
}

/** What `accumulate` needs besides the planes. */
export interface EquationSettings {
  /** x in unit coordinates = scaleX · index + offsetX, likewise y. */
  readonly scaleX: number;
  readonly offsetX: number;
  readonly scaleY: number;
  readonly offsetY: number;
  readonly gain: number;
  /** How far pieces of the surface may be off the common motion, samples: where the template is steep, residuals may be larger by as much. */
  readonly tolerance: number;
  /** Robust standard deviation of the residuals. */
  readonly scale: number;
  /** The picture's share in the derivatives, the rest being the template's. */
  readonly mix: number;
  /** Tukey's weights when true, Huber's when not. */
  readonly redescending: boolean;
}

/** Most taps of a smear. */
export const MOST_TAPS = 256;
/** Unknowns of the normal equations: eight of the perspective motion, then gain and offset. */
export const UNKNOWNS = 10;
/** Entries of `accumulate`'s result: the lower triangle row by row, the right-hand side, Σ weight, Σ weight·residual². */
export const EQUATION_ENTRIES = (UNKNOWNS * (UNKNOWNS + 1)) / 2 + UNKNOWNS + 2;
/** Residual magnitudes are counted in bins of this width; larger ones fall into the last. */
export const RESIDUAL_BIN = 1 / 4096;
export const RESIDUAL_BINS = 1024;
/** A second histogram of as many bins follows: residuals over slope where the template is steep, samples. */
export const OFFSET_BIN = 1 / 256;

/**
 * The hot loops of following behind one signature, with the memory they work in. The plain set is the reference, the
 * compiled one takes its place where it is available; a test holds the two equal.
 */
export interface KernelSet {
  readonly name: string;
  /** Memory that the set reaches without copying; zero at first, kept until the set is cleared. */
  floats(length: number): Float32Array;
  bytes(length: number): Uint8Array;
  /** Takes back everything that was given out: none of it may be used any more. */
  clear(): void;
  ints(length: number): Int32Array;
  doubles(length: number): Float64Array;

  /** Looks luma codes up in `table` and smooths by 1-2-1 in both directions, the border repeated. */
  signal(codes: Uint8Array | Uint16Array, width: number, height: number, table: Float32Array, out: Float32Array): void;

  /** Half the size: smoothed by 1-4-6-4-1 (borders reflected, the outermost not repeated) at even samples. */
  pyramidDown(from: Float32Array, width: number, height: number, to: Float32Array): void;

  /**
   * Fills a rectangle of texels: central differences, one-sided at the border; permission from `mask` (a byte a pixel of
   * the full picture, `maskWidth` wide, of which this is pyramid level `level`), or 1 everywhere.
   */
  texels(
    value: Float32Array,
    width: number,
    height: number,
    mask: Uint8Array | null,
    maskWidth: number,
    level: number,
    rect: SampleRect,
    out: Float32Array,
  ): void;

  /**
   * The template averaged in light over taps [t, x, y, weight], weights summing to 1: what lay at p + v·t + q·t² + (x, y), t in
   * frames towards the past, with the velocity v, and where both sides are known the acceleration 2q, of p. Planes [value, ∂/∂x, ∂/∂y, 1 where all taps were permitted]. `back` and `ahead`
   * take a reference point to what its pixel saw a frame earlier, and later. s̄ = √(mean s²), ∇s̄ = mean(s·∇s)/s̄.
   */
  blurTemplate(
    from: TexelPlane,
    points: PointSet,
    back: ArrayLike<number> | null,
    ahead: ArrayLike<number> | null,
    taps: Float32Array,
    tapCount: number,
    out: Float32Array,
  ): void;

  /**
   * Samples the picture bilinearly at H·points and forms picture − (gain·template + offset): planes [residual, ∂/∂x,
   * ∂/∂y, 1 where usable]; the derivatives are carried back to the reference's coordinates. Counts residual magnitudes
   * into `histogram`, and residual over slope where the template's slope is `steep` or more; returns how many points are
   * usable.
   */
  residuals(
    picture: TexelPlane,
    points: PointSet,
    blurred: Float32Array,
    h: ArrayLike<number>,
    gain: number,
    offset: number,
    steep: number,
    histogram: Uint32Array,
    sampled: Float32Array,
  ): number;

  /**
   * Weighted normal equations of each piece of the points, from one of `starts` (multiples of four) to the next, for rows
   * [J, −T, −1], right-hand side −residual; J from a mixture of the template's and the picture's derivatives.
   * EQUATION_ENTRIES numbers for each into `out`.
   */
  accumulate(
    points: PointSet,
    starts: Int32Array,
    blurred: Float32Array,
    sampled: Float32Array,
    settings: EquationSettings,
    out: Float64Array,
  ): void;

  /** [n, Σt, Σp, Σt², Σp², Σtp] of every `step`th point with the picture's nearest samples under H. */
  correlate(
    value: Float32Array,
    width: number,
    height: number,
    points: PointSet,
    blurred: Float32Array,
    h: ArrayLike<number>,
    step: number,
    out: Float64Array,
  ): void;

  /**
   * A window sampled at points (xs + x, ys + y), sample indices, cubically; where `taps` is more than one, averaged over so many places along the way
   * `along` about each. Planes [value, ∂/∂x, ∂/∂y, share of the taps inside] of `count` entries. Source: R. Keys, Cubic convolution interpolation for
   * digital image processing, IEEE Trans. ASSP 29(6), 1981, a = −0.5, and its derivative.
   */
  sampleCubic(
    window: SampledWindow,
    xs: Float32Array,
    ys: Float32Array,
    count: number,
    x: number,
    y: number,
    along: readonly [number, number],
    taps: number,
    out: Float32Array,
  ): void;

  /**
   * Weighted normal equations of a pattern's place (two unknowns, or with turn and size four) and light (none, gain and offset, or with a field of the
   * second degree seven) from PATCH_PLANES: the lower triangle row by row, then the right-hand side. Huber's weights, or Tukey's.
   */
  patchEquations(
    planes: Float32Array,
    count: number,
    geometric: 2 | 4,
    terms: 0 | 2 | 7,
    gain: number,
    scale: number,
    redescending: boolean,
    out: Float64Array,
  ): void;

  /**
   * Zero-mean normalised correlations of a pattern (`n` values with mean 0 and their sum of squares `energy`, at `offsets` in samples) with a window, at
   * each place of a box; −1 where it is flat. The whole pattern must lie inside at each; `across` is a multiple of four.
   */
  correlateBox(
    window: SampledWindow,
    offsets: Int32Array,
    pattern: Float32Array,
    n: number,
    energy: number,
    left: number,
    top: number,
    across: number,
    down: number,
    out: Float32Array,
  ): void;

  /** The window about (x, y), sample indices, bilinearly: planes [value, ∂/∂x, ∂/∂y] of WINDOW entries, the last column 0. False where it is not wholly inside. `out` may be of any memory. */
  takeWindow(picture: SampledWindow, x: number, y: number, out: Float32Array): boolean;

  /**
   * Moves `at` [x, y, score] to where `now` looks as `before` does about (x, y), up to gain and offset; the score is the normalised correlation, −1…1.
   * False where that leaves the picture or is flat. `at` may be of any memory. Source: B. Lucas, T. Kanade, An iterative image registration technique,
   * IJCAI 1981, the slopes taken from the first picture only (S. Baker, I. Matthews, Lucas–Kanade 20 years on, IJCV 56(3), 2004, §3.2).
   */
  shiftWindow(
    before: SampledWindow,
    x: number,
    y: number,
    now: SampledWindow,
    at: Float64Array,
    rounds: number,
  ): boolean;

  /**
   * Fits a window that was held on to (planes as `takeWindow` gives them, `mean` taken off the values), bent affinely, near `fit`
   * [x, y, a, b, c, d, score]: what lay at an offset o lies at (x, y) + [a b; c d]·o. `factor`: Cholesky's, of its normal equations. False where it leaves the
   * picture or comes to nothing. Source: inverse compositional fit with linear appearance: Baker, Matthews 2004, §3.2 and part 3 (2003).
   */
  fitWindow(
    picture: SampledWindow,
    anchor: Float32Array,
    mean: number,
    factor: Float64Array,
    fit: Float64Array,
    rounds: number,
  ): boolean;
}

/** Windows of features: half their side, their side, samples in them; entries of a plane of one, a row of which is WINDOW_STRIDE long; unknowns of an anchor's fit. */
export const WINDOW_HALF = 7;
export const WINDOW_SIDE = 2 * WINDOW_HALF + 1;
export const WINDOW_AREA = WINDOW_SIDE ** 2;
export const WINDOW_STRIDE = 16;
export const WINDOW = WINDOW_SIDE * WINDOW_STRIDE;
export const ANCHOR_UNKNOWNS = 8;

/** A small picture to sample. */
export interface SampledWindow {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

/** Planes of `count` entries that `patchEquations` reads: residuals and what a change of light counts in them, the picture's slopes, 1 where used; then the pattern, its slopes, and places in it from −1 to 1. */
export const PATCH_PLANES = {
  RESIDUAL: 0,
  ROOT: 1,
  SEEN_X: 2,
  SEEN_Y: 3,
  USED: 4,
  PATTERN: 5,
  PATTERN_X: 6,
  PATTERN_Y: 7,
  U: 8,
  V: 9,
} as const;
export const PATCH_PLANE_COUNT = 10;
/** Most numbers of `patchEquations`: eleven unknowns. */
export const PATCH_ENTRIES = 66 + 11;

/** Makes sets with a memory of their own. */
export interface KernelFactory {
  readonly name: string;
  /** `bytes`: the most that will be asked for. With `shared` a second thread helps where there is one. */
  open(bytes: number, shared?: boolean): KernelSet;
}
