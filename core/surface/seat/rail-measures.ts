import { clamp } from '../../base/geometry/clamp.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { IDENTITY, type Homography } from '../../base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { gaussianKernel } from '../../base/filters/gaussian.ts';
import { sampleBand, segmentMiddle, type BandShape } from './edge-band.ts';
import type { EdgeRail } from './edge-rails.ts';
import type { LightPicture } from '../../base/image/light-sampler.ts';
import { alignProfile } from './profile-shift.ts';
import { sidePoint, type SideLine } from './sides.ts';

/** One place along a rail, and how it answers to moves of the corners. */
export interface RailPiece {
  readonly rail: number;
  readonly side: number;
  /** Whether of the side's own border. */
  readonly own: boolean;
  /** d(shift along the normal)/d(corner moves): x and y of corners 0…3, all in reference px. */
  readonly answer: Float64Array;
}

/** What a frame's pieces show: shift against the reference along the normal, reference px; NaN where nothing is seen. */
export interface RailShifts {
  readonly shift: Float32Array;
  readonly deviation: Float32Array;
}

/** Half a profile, px, and the most that it may have moved. */
const REACH = 7;
const FARTHEST = 4.5;
const STEP = 0.5;
const MARGIN = Math.round(FARTHEST / STEP) + 2;
/** Pieces are about so long, px, and at most so many along a rail. */
const PIECE = 12;
const MOST_PIECES = 40;
/** Further blur of the reference that is tried, px; negative ones blur the frame instead. */
const BLURS = [-1.2, -0.7, 0, 0.45, 0.75, 1.1, 1.6, 2.3, 3.3, 4.8] as const;
const SHARP = BLURS.indexOf(0);
/** Blur from which a place is less sure, px, and by how much of what is over it. */
const SLIGHT = 1.2;
const SMEARED = 0.5;
/** Borders that are blurred further than this fill the profile and have no middle in it. */
const MOST_BLUR = 3;
/** Profiles that have less than this in common with the reference's are something else. */
const MOST_MISFIT = 0.35;
/** Ends that are left out. */
const ENDS = 0.05;

/**
 * Measures how far the borders of a surface have moved against the reference, piece by piece, in the surface's own frame: both pictures
 * are sampled along the same lines of the reference, this one through the frame's map. The sharper of the two is blurred until they are
 * most alike; blur is symmetric, so that the middle stays where it was at mid-shutter.
 */
export class RailMeasure {
  readonly pieces: readonly RailPiece[];
  private readonly shapes: readonly BandShape[];
  private readonly wide: readonly BandShape[];
  /** For each rail the reference's profiles, at every blur. */
  private readonly templates: readonly (readonly Float32Array[])[];
  private readonly columns = Math.round((2 * REACH) / STEP) + 1;
  private readonly blurs: number[];

  constructor(
    reference: LightPicture,
    quad: Quad,
    readonly rails: readonly EdgeRail[],
  ) {
    const answers = cornerAnswers(quad);
    const pieces: RailPiece[] = [];
    this.shapes = rails.map(({ line }) => {
      const segments = clamp(Math.round((line.length * (1 - 2 * ENDS)) / PIECE), 4, MOST_PIECES);
      return {
        from: ENDS,
        to: 1 - ENDS,
        segments,
        samples: clamp(Math.round((line.length * (1 - 2 * ENDS)) / segments), 3, 16),
        inner: -REACH,
        outer: REACH,
        step: STEP,
      };
    });
    this.wide = this.shapes.map((shape) => ({ ...shape, inner: -REACH - MARGIN * STEP, outer: REACH + MARGIN * STEP }));
    this.templates = rails.map(({ line }, r) => {
      const { values, segments, columns } = sampleBand(reference, IDENTITY, line, this.wide[r]!);
      return BLURS.map((blur) => (blur > 0 ? blurRows(values, segments, columns, blur / STEP) : values));
    });
    rails.forEach(({ line, side, own }, rail) => {
      for (let j = 0; j < this.shapes[rail]!.segments; j++)
        pieces.push({ rail, side, own, answer: answers(line, segmentMiddle(this.shapes[rail]!, j)) });
    });
    this.pieces = pieces;
    this.blurs = rails.map(() => SHARP);
  }

  /** `map` takes reference pixels to the picture's. Frames had better come in order: the blur is looked for near the last one's. */
  measure(picture: LightPicture, map: Homography): RailShifts {
    const shift = new Float32Array(this.pieces.length).fill(NaN);
    const deviation = new Float32Array(this.pieces.length).fill(NaN);
    let at = 0;
    this.rails.forEach(({ line }, r) => {
      const shape = this.shapes[r]!;
      const { values } = sampleBand(picture, map, line, shape);
      const found = this.bestBlur(r, values, shape.segments);
      found.forEach((one, j) => {
        if (!one) return;
        shift[at + j] = one.shift;
        deviation[at + j] = one.deviation;
      });
      at += shape.segments;
    });
    return { shift, deviation };
  }

  private bestBlur(r: number, values: Float32Array, segments: number): ReturnType<typeof alignProfile>[] {
    const tried = new Map<number, { cost: number; found: ReturnType<typeof alignProfile>[] }>();
    const starts: (number | undefined)[] = [];
    const tryAt = (k: number) => {
      let one = tried.get(k);
      if (!one) tried.set(k, (one = this.alignAll(r, values, segments, k, starts)));
      one.found.forEach((found, j) => (starts[j] ??= found?.shift));
      return one;
    };
    let at = this.blurs[r]!;
    for (;;) {
      const next = [at - 1, at + 1]
        .filter((k) => k >= 0 && k < BLURS.length)
        .find((k) => tryAt(k).cost < tryAt(at).cost);
      if (next === undefined) break;
      at = next;
    }
    this.blurs[r] = at;
    if (BLURS[at]! > MOST_BLUR) return tryAt(at).found.map(() => null);
    // A ramp as long as the profile leaves its middle to what is around it, alike for all of the side.
    const unsure = SMEARED * Math.max(0, BLURS[at]! - SLIGHT);
    return tryAt(at).found.map((one) => one && { ...one, deviation: Math.hypot(one.deviation, unsure) });
  }

  /** The better half of the pieces' misfits, summed, is what a blur costs. */
  private alignAll(
    r: number,
    values: Float32Array,
    segments: number,
    k: number,
    starts: readonly (number | undefined)[],
  ): { cost: number; found: ReturnType<typeof alignProfile>[] } {
    const blur = BLURS[k]!;
    const template = this.templates[r]![k]!;
    const width = this.columns + 2 * MARGIN;
    const profiles = blur < 0 ? blurRows(values, segments, this.columns, -blur / STEP) : values;
    const found = Array.from({ length: segments }, (_, j) => {
      const one = alignProfile(
        template.subarray(j * width, (j + 1) * width),
        profiles,
        j * this.columns,
        this.columns,
        MARGIN,
        STEP,
        starts[j],
      );
      return one && one.misfit <= MOST_MISFIT && Number.isFinite(one.deviation) ? one : null;
    });
    const misfits = found.map((one) => one?.misfit ?? 1).sort((a, b) => a - b);
    const half = misfits.slice(0, Math.ceil(misfits.length / 2));
    return { cost: half.reduce((a, b) => a + b, 0), found };
  }
}

/** Every row convolved with a gaussian, its ends repeated. */
function blurRows(values: Float32Array, rows: number, columns: number, sigma: number): Float32Array {
  const kernel = gaussianKernel(sigma);
  const radius = (kernel.length - 1) / 2;
  const out = new Float32Array(values.length);
  for (let j = 0; j < rows; j++) {
    for (let c = 0; c < columns; c++) {
      let sum = 0;
      for (let k = -radius; k <= radius; k++)
        sum += kernel[k + radius]! * values[j * columns + Math.max(0, Math.min(columns - 1, c + k))]!;
      out[j * columns + c] = sum;
    }
  }
  return out;
}

/** How places of the reference move along a line's normal when corners do, by differences of the map between the quads. */
export function cornerAnswers(quad: Quad): (line: SideLine, t: number) => Float64Array {
  const E = 0.05;
  const maps: { ahead: Homography; back: Homography }[] = [];
  for (let i = 0; i < 8; i++) {
    const moved = (by: number) =>
      homographyBetweenQuads(
        quad,
        mapTuple(quad, (c, k) => (k === i >> 1 ? [c[0] + (i % 2 === 0 ? by : 0), c[1] + (i % 2 === 1 ? by : 0)] : c)),
      )!;
    maps.push({ ahead: moved(E), back: moved(-E) });
  }
  return (line, t) => {
    const [x, y] = sidePoint(line, t, 0);
    const [nx, ny] = line.normal;
    return Float64Array.from(maps, ({ ahead, back }) => {
      const [ax, ay] = image(ahead, x, y);
      const [bx, by] = image(back, x, y);
      return ((ax - bx) * nx + (ay - by) * ny) / (2 * E);
    });
  };
}
function image(h: Homography, x: number, y: number): [number, number] {
  const w = h[6]! * x + h[7]! * y + h[8]!;
  return [(h[0]! * x + h[1]! * y + h[2]!) / w, (h[3]! * x + h[4]! * y + h[5]!) / w];
}
