import { clamp } from '../../base/geometry/clamp.ts';
import { median, quantile } from '../../base/image/statistics.ts';
import { lightToCode } from '../../base/image/transfer.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import type { Grain } from '../../base/schemas/types.ts';
import { type LevelVariance, type NoiseLine, STEPS, noiseLine, alikeLines, varianceAt } from './noise-line.ts';

/** A square of the picture that is flat but for its noise. */
interface FlatBlock {
  /** Mean display-referred value of each channel, 0…1. */
  readonly level: readonly [number, number, number];
  /** Variance of each channel about a bent plane. */
  readonly variance: readonly [number, number, number];
  /** Correlations: with the neighbour to the right, below, and between the channels. */
  readonly right: number;
  readonly below: number;
  readonly together: number;
}

const BLOCK = 16;
/** Blocks nearer than this to black or white are clipped there. */
const CLIPPED = 0.02;
/** Classes of brightness; the share of a class that must be alike for it to be determined, and so many blocks at least. */
const CLASSES = 10;
const FLAT_SHARE = 0.03;
const FEWEST = 6;
/** Blocks of noise alone stray in variance by a tenth: from the least to this many times of it they are alike, and their middle lies at this quantile. */
const LEAST = 0.02;
const ALIKE = 1.5;
const LOW = 0.5;
/** Values a plane of the second degree takes from a block's variance. */
const BENT = 6;

/** Blocks of a region, with what they hold besides a bent plane. */
export function flatBlocks({ width, height, planes }: LightRegion): FlatBlock[] {
  const codes = planes.map((plane) => plane.map((v) => lightToCode(clamp(v, 0, 1))));
  const out: FlatBlock[] = [];
  const left = new Float64Array(3 * BLOCK * BLOCK);
  for (let top = 0; top + BLOCK <= height; top += BLOCK) {
    for (let from = 0; from + BLOCK <= width; from += BLOCK) {
      const level: number[] = [];
      const variance: number[] = [];
      for (let c = 0; c < 3; c++) {
        const mean = detrend(codes[c]!, top * width + from, width, left, c * BLOCK * BLOCK);
        level.push(mean);
        let sum = 0;
        for (let i = c * BLOCK * BLOCK, end = i + BLOCK * BLOCK; i < end; i++) sum += left[i]! ** 2;
        variance.push(sum / (BLOCK * BLOCK - BENT));
      }
      if (level.some((v) => v < CLIPPED || v > 1 - CLIPPED) || variance.some((v) => v <= 0)) continue;
      out.push({
        level: level as [number, number, number],
        variance: variance as [number, number, number],
        ...correlations(left),
      });
    }
  }
  return out;
}

/** The basis of a bent plane over a block, made orthonormal. */
const BASIS: readonly Float64Array[] = (() => {
  const at = (k: number) => (2 * k) / (BLOCK - 1) - 1;
  const terms = [
    (): number => 1,
    (x: number) => x,
    (_: number, y: number) => y,
    (x: number, y: number) => x * y,
    (x: number) => x * x,
    (_: number, y: number) => y * y,
  ];
  const out: Float64Array[] = [];
  for (const term of terms) {
    const v = Float64Array.from({ length: BLOCK * BLOCK }, (_, i) => term(at(i % BLOCK), at(Math.floor(i / BLOCK))));
    for (const b of out) {
      const along = v.reduce((s, x, i) => s + x * b[i]!, 0);
      b.forEach((x, i) => (v[i]! -= along * x));
    }
    const length = Math.sqrt(v.reduce((s, x) => s + x * x, 0));
    out.push(v.map((x) => x / length));
  }
  return out;
})();

/** Writes a block less its bent plane to `out`; returns its mean. */
function detrend(codes: Float32Array, at: number, stride: number, out: Float64Array, to: number): number {
  let mean = 0;
  for (let row = 0, i = to; row < BLOCK; row++) {
    for (let col = 0; col < BLOCK; col++, i++) {
      out[i] = codes[at + row * stride + col]!;
      mean += out[i]!;
    }
  }
  for (const basis of BASIS) {
    let along = 0;
    for (let i = 0; i < basis.length; i++) along += out[to + i]! * basis[i]!;
    for (let i = 0; i < basis.length; i++) out[to + i]! -= along * basis[i]!;
  }
  return mean / (BLOCK * BLOCK);
}

function correlations(left: Float64Array): Pick<FlatBlock, 'right' | 'below' | 'together'> {
  const n = BLOCK * BLOCK;
  let own = 0;
  let right = 0;
  let below = 0;
  let cross = 0;
  const squares = [0, 0, 0];
  const products = [0, 0, 0];
  for (let c = 0; c < 3; c++) {
    for (let row = 0; row < BLOCK; row++) {
      for (let col = 0; col < BLOCK; col++) {
        const i = c * n + row * BLOCK + col;
        const v = left[i]!;
        own += v * v;
        squares[c]! += v * v;
        products[c]! += v * left[((c + 1) % 3) * n + row * BLOCK + col]!;
        if (col < BLOCK - 1) right += v * left[i + 1]!;
        if (row < BLOCK - 1) below += v * left[i + BLOCK]!;
      }
    }
  }
  for (let c = 0; c < 3; c++) cross += products[c]! / Math.sqrt(squares[c]! * squares[(c + 1) % 3]! || 1) / 3;
  const scale = BLOCK / (BLOCK - 1) / (own || 1);
  return { right: right * scale, below: below * scale, together: cross };
}

export interface GrainFound {
  readonly grain: Pick<Grain, 'levels' | 'size' | 'together'>;
  /** Flat blocks that tell it. */
  readonly blocks: number;
  /** Levels at which it was seen; between and beyond them it is led on. */
  readonly seen: readonly number[];
}

/** Neighbours' correlation of the shapes that make up a bent plane, over a block. */
const BENT_CORRELATION = 0.93;

/**
 * The sizes of the gaussian that smooths noise, from neighbours' correlations in blocks less a bent plane, and the share of its variance that the plane took: the plane's
 * six shapes are as long as the block, and smooth noise holds Σρ times as much of such than white noise does.
 */
function smoothness(right: number, below: number): { size: [number, number]; taken: number } {
  let size: [number, number] = [0, 0];
  let taken = 0;
  for (let round = 0; round < 6; round++) {
    taken = Math.min(0.5, (BENT * longShare(size[0]) * longShare(size[1])) / (BLOCK * BLOCK));
    size = [right, below].map((corr) => gaussianSize(corr * (1 - taken) + BENT_CORRELATION * taken)) as [
      number,
      number,
    ];
  }
  return { size, taken };
}

/** Sum of the correlations of gaussian-smoothed noise along one way. */
function longShare(size: number): number {
  let sum = 1;
  if (size > 0) for (let k = 1; k < BLOCK; k++) sum += 2 * Math.exp(-(k * k) / (4 * size * size));
  return sum;
}

/** A plate's grain from blocks of some frames; null where nothing flat is seen. */
export function grainOf(blocks: readonly FlatBlock[]): GrainFound | null {
  const found: FlatBlock[] = [];
  const channels = ([0, 1, 2] as const).map((c) => {
    const sorted = [...blocks].sort((a, b) => a.level[c] - b.level[c]);
    const classes: LevelVariance[] = [];
    for (let k = 0; k < CLASSES; k++) {
      const flat = flattest(
        sorted.slice(Math.floor((k * sorted.length) / CLASSES), Math.floor(((k + 1) * sorted.length) / CLASSES)),
        c,
      );
      if (flat.length < FEWEST) continue;
      if (c === 1) found.push(...flat);
      classes.push({
        level: median(flat.map((b) => b.level[c])),
        variance: quantile(
          flat.map((b) => b.variance[c]),
          LOW,
        ),
        count: flat.length,
      });
    }
    return noiseLine(classes);
  });
  if (channels.some((c) => c === null)) return null;
  const lines = alikeLines(channels as NoiseLine[]);
  const white = found.filter((b) => Math.abs(b.variance[1] / varianceAt(lines[1]!, b.level[1]) - 1) < 0.35);
  if (white.length < FEWEST) return null;
  const { size, taken } = smoothness(median(white.map((b) => b.right)), median(white.map((b) => b.below)));
  const lost = (1 - BENT / (BLOCK * BLOCK)) / (1 - taken);
  const together = clamp(median(white.map((b) => b.together)), 0, 1);
  const levels = Array.from({ length: STEPS + 1 }, (_, k) => ({
    level: k / STEPS,
    sigma: lines.map((line) => Number(Math.sqrt(lost * varianceAt(line, k / STEPS)).toFixed(6))) as [
      number,
      number,
      number,
    ],
  }));
  return {
    grain: { levels: levels as Grain['levels'], size, together: together < 0.05 ? 0 : Number(together.toFixed(3)) },
    blocks: white.length,
    seen: lines[1]!.seen.map((l) => l.level),
  };
}

/**
 * The blocks of a class that hold noise alone: those of least variance for their level, as long as they agree; texture, shade and borders only add. Noise of a
 * class is alike, so that the spread among its flattest tells whether there is a floor.
 */
function flattest(blocks: readonly FlatBlock[], c: 0 | 1 | 2): FlatBlock[] {
  const sorted = [...blocks].sort((a, b) => a.variance[c] - b.variance[c]);
  if (sorted.length < FEWEST) return [];
  const least = sorted[Math.floor(LEAST * sorted.length)]!.variance[c];
  const within = sorted.filter((b) => b.variance[c] < ALIKE * least);
  return within.length >= Math.max(FEWEST, FLAT_SHARE * sorted.length) ? within : [];
}

/** The size of a gaussian that gives neighbours a correlation: ρ = e^(−1/4s²). */
function gaussianSize(correlation: number): number {
  return correlation < 0.03 ? 0 : Number(Math.sqrt(-1 / (4 * Math.log(Math.min(0.97, correlation)))).toFixed(3));
}
