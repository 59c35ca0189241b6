import { clamp } from '../../base/geometry/clamp.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { applyToPoint, compose, invert, jacobianAt, type Homography } from '../../base/geometry/homography.ts';
import type { TemplateLevel } from './template.ts';

/** What of a small warp in unit coordinates is a change of shape: stretch, shear, and the two of foreshortening. Place, turn and size are not. */
export type ShapeChange = readonly [stretch: number, shear: number, acrossX: number, acrossY: number];

/** How far the shape may be off what is expected: standard deviations in unit coordinates. */
export interface ShapeTolerance {
  readonly shape: number;
  readonly perspective: number;
}

export interface ShapePrior {
  /** The map that the shape is expected to be near; full pictures or a level's sample indices, as the user of it says. */
  readonly expected: Homography;
  readonly tolerance: ShapeTolerance;
  /** How far off the truth it may be, all told: the tolerance, and what was not known of the neighbours' shape either. */
  readonly unsure: ShapeTolerance;
}

/** The change of shape from one map to another, whatever turns and sizes do. Null where a map can't be undone. */
export function shapeBetween(from: Homography, to: Homography, toUnit: Homography): ShapeChange | null {
  const back = invert(from);
  const fromUnit = invert(toUnit);
  if (!back || !fromUnit) return null;
  const [w0, w1, , w3, w4, , w6, w7, w8] = compose(toUnit, back, to, fromUnit) as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  // The linear part is compared with the similarity nearest to it.
  const size = Math.max(1e-9, Math.hypot(w0 + w4, w1 - w3) / 2);
  return [(w0 - w4) / size, (w1 + w3) / size, w6 / w8, w7 / w8];
}

/** The greatest part of a change, each in units of its tolerance. */
export function sizeOfChange(change: ShapeChange, { shape, perspective }: ShapeTolerance): number {
  return Math.max(Math.hypot(change[0], change[1]) / shape, Math.hypot(change[2], change[3]) / perspective);
}

/**
 * Adds what is expected of the shape to summed normal equations: only where the picture says little does it count.
 * `prior.expected` and `h` in the level's sample indices; `scale` is the spread of the residuals.
 */
export function addShapePrior(
  total: Float64Array,
  prior: ShapePrior | null,
  h: Homography,
  level: TemplateLevel,
  scale: number,
): void {
  const change = prior && shapeBetween(prior.expected, h, level.toUnit);
  if (!prior || !change) return;
  const shape = (scale / prior.tolerance.shape) ** 2;
  const perspective = (scale / prior.tolerance.perspective) ** 2;
  const add = (a: number, b: number, value: number) => (total[(a * (a + 1)) / 2 + b]! += value);
  for (const [a, b, sign, so] of [
    [5, 2, -1, change[0]],
    [4, 3, 1, change[1]],
  ] as const) {
    add(a, a, shape);
    add(b, b, shape);
    add(a, b, sign * shape);
    total[55 + b]! -= shape * so;
    total[55 + a]! -= sign * shape * so;
  }
  for (const [a, so] of [
    [6, change[2]],
    [7, change[3]],
  ] as const) {
    add(a, a, perspective);
    total[55 + a]! -= perspective * so;
  }
}

/** Maps known about a frame. */
export interface Neighbours {
  /** Those on the side that is followed from, the nearest first. */
  readonly earlier: readonly Homography[];
  /** How many frames away the first of them is. */
  readonly gap: number;
  /** That of the next frame on the other side, when it is known. */
  readonly later?: Homography | undefined;
  /** How well the shape of the first of them is known; unless given, perfectly. */
  readonly known?: ShapeTolerance | undefined;
}

/** Where nothing has been learnt yet, or after a loss. */
const UNKNOWN: ShapeTolerance = { shape: 0.012, perspective: 0.006 };
/** Where the shape says next to nothing; and after so many frames without it. */
const ANY: ShapeTolerance = { shape: 0.3, perspective: 0.15 };
const LONG_GAP = 3;
/** However quiet a shot: a hand may set in at any frame. */
const QUIETEST: ShapeTolerance = { shape: 0.003, perspective: 0.0015 };
/** What moves or turns by one unit (half the region's longer side, a radian) may change its shape by so much more. */
const WITH_MOTION: ShapeTolerance = { shape: 0.1, perspective: 0.03 };
const MOST: ShapeTolerance = { shape: 0.04, perspective: 0.02 };
/** How fast a frame's finding replaces what was known. */
const RATE = 0.15;
/** The tolerance is this many times the root mean square of what was found. */
const WIDER = 2;
/** The trend of the shape is taken over so many frames. */
const TREND = 4;
/** What a trend makes of an error that it starts from: it carries on what the error has been growing by. */
const CARRIED = 1 + 1 / TREND;

/**
 * How a surface's shape has been changing, and so what to expect of the next frame. A shape follows its trend over some
 * frames, within what it has been seen to stray from it.
 */
export class ShapeMemory {
  private meanSquares: ShapeTolerance | null = null;

  constructor(private readonly toUnit: Homography) {}

  /** What the shape should be like near `start`. */
  expect(start: Homography, { earlier, later, gap, known: before }: Neighbours): ShapePrior {
    const nearest = earlier[0];
    const step = nearest && similarStep(nearest, start, this.toUnit);
    // After a gap it may have turned any way.
    if (!nearest || !step || gap > LONG_GAP) return { expected: start, tolerance: ANY, unsure: ANY };
    const between = later && shapeBetween(nearest, later, this.toUnit);
    const trend = between ? between.map((v) => v / 2) : this.trend(earlier).map((v) => v * Math.min(gap, 2));
    const fromUnit = invert(this.toUnit)!;
    const few = Math.min(4, gap);
    const [stretch = 0, shear = 0, acrossX = 0, acrossY = 0] = trend;
    const change: Homography = [1 + stretch / 2, shear / 2, 0, shear / 2, 1 - stretch / 2, 0, acrossX, acrossY, 1];
    const motion = Math.hypot(step[0]! - 1, step[3]!, step[2]!, step[5]!);
    const known = this.known();
    const tolerance = {
      shape: few * known.shape + WITH_MOTION.shape * motion,
      perspective: few * known.perspective + WITH_MOTION.perspective * motion,
    };
    const unsure = {
      shape: Math.hypot(tolerance.shape, CARRIED * (before?.shape ?? 0)),
      perspective: Math.hypot(tolerance.perspective, CARRIED * (before?.perspective ?? 0)),
    };
    return { expected: compose(nearest, fromUnit, step, change, this.toUnit), tolerance, unsure };
  }

  /** Learns from a frame that is sure: its map, and those of the frames before it, the nearest first. */
  learn(h: Homography, earlier: readonly Homography[]): void {
    const nearest = earlier[0];
    const found = nearest && shapeBetween(nearest, h, this.toUnit);
    if (!found) return;
    const trend = this.trend(earlier);
    const now = this.known();
    // One frame's surprise widens what is expected only so far: drift must not excuse itself.
    const shape = Math.min(2 * now.shape, Math.hypot(found[0] - trend[0], found[1] - trend[1])) ** 2;
    const perspective = Math.min(2 * now.perspective, Math.hypot(found[2] - trend[2], found[3] - trend[3])) ** 2;
    const old = this.meanSquares ?? {
      shape: (UNKNOWN.shape / WIDER) ** 2,
      perspective: (UNKNOWN.perspective / WIDER) ** 2,
    };
    this.meanSquares = {
      shape: old.shape + RATE * (shape - old.shape),
      perspective: old.perspective + RATE * (perspective - old.perspective),
    };
  }

  /** After a loss it may have gone any way. */
  forget(): void {
    this.meanSquares = null;
  }

  /** Mean squares of what strayed from the trend; null where nothing has been learnt. */
  state(): ShapeTolerance | null {
    return this.meanSquares;
  }

  restore(state: ShapeTolerance | null): void {
    this.meanSquares = state;
  }

  private known(): ShapeTolerance {
    if (!this.meanSquares) return UNKNOWN;
    const bounded = (least: number, square: number, most: number) => clamp(WIDER * Math.sqrt(square), least, most);
    return {
      shape: bounded(QUIETEST.shape, this.meanSquares.shape, MOST.shape),
      perspective: bounded(QUIETEST.perspective, this.meanSquares.perspective, MOST.perspective),
    };
  }

  private trend(earlier: readonly Homography[]): ShapeChange {
    const last = Math.min(TREND, earlier.length - 1);
    const change = last > 0 ? shapeBetween(earlier[last]!, earlier[0]!, this.toUnit) : null;
    return mapTuple(change ?? [0, 0, 0, 0], (v) => v / Math.max(1, last));
  }
}

/** The step from one map to another without its change of shape, a similarity in unit coordinates. */
function similarStep(from: Homography, to: Homography, toUnit: Homography): Homography | null {
  const fromUnit = invert(toUnit);
  const back = invert(from);
  if (!fromUnit || !back) return null;
  const step = compose(toUnit, back, to, fromUnit);
  const [a, b, c, d] = jacobianAt(step, [0, 0]);
  const [x, y] = applyToPoint(step, [0, 0]);
  const p = (a + d) / 2;
  const q = (c - b) / 2;
  return [p, -q, x, q, p, y, 0, 0, 1];
}
