import type { Point } from '../../base/geometry/homography.ts';
import { blurPlane } from '../../base/filters/gaussian.ts';
import { sampleBilinear } from '../../base/image/sampling.ts';
import { median, robustDeviation } from '../../base/image/statistics.ts';
import type { LightPicture } from '../../base/image/picture.ts';
import { partOutline } from './part-outline.ts';

/** What surrounds a spot is the surface smoothed over so much of its width, spots left out in a second round. */
const AROUND = 0.05;
/** A spot differs by so many times the usual difference, and by so much of the square root of light. */
const STANDS_OUT = 7;
const AT_LEAST = 0.02;
/** Of the surface: larger parts are no spots; smaller than so many pixels is noise. At most so many: more is a texture. */
const LARGEST = 0.015;
const SMALLEST = 5;
const MOST = 80;
/** Parts nearer to each other than this, px, are of one mark (the arms of a cross). */
const JOINED = 2;
/** Its outline is drawn so far outside, px of the flattened picture. */
const OUTSIDE = 1.5;
const FEWEST_FRAMES = 3;

/** A spot on a flattened surface. */
export interface Spot {
  /** In shares of its width and height. */
  readonly outline: Point[];
  /** How much brighter than what surrounds it, in the square root of light. */
  readonly contrast: number;
}

/** Luminance of a place of a flat surface, and whether it is wholly seen. */
export const luminanceAt = ({ data }: LightPicture, i: number): number =>
  0.2126 * data[4 * i]! + 0.7152 * data[4 * i + 1]! + 0.0722 * data[4 * i + 2]!;
export const isSeen = ({ data }: LightPicture, i: number): boolean => data[4 * i + 3]! > 0.99;
const rootOf = (one: LightPicture, i: number) => Math.sqrt(Math.max(0, luminanceAt(one, i)));

/**
 * Marks that ride with a surface: small parts that are darker or lighter than what surrounds them on most of the frames, each flattened to the same size. None where the
 * surface is full of such (a picture is shown).
 */
export function findSpots(flat: readonly LightPicture[]): Spot[] {
  const first = flat[0];
  if (!first || flat.length < FEWEST_FRAMES) return [];
  const { width, height } = first;
  const usual = new Float32Array(width * height);
  const seen = new Uint8Array(width * height);
  const values: number[] = [];
  for (let i = 0; i < usual.length; i++) {
    values.length = 0;
    for (const one of flat) if (isSeen(one, i)) values.push(rootOf(one, i));
    if (values.length < FEWEST_FRAMES) continue;
    usual[i] = median(values);
    seen[i] = 1;
  }
  const spots = spotsIn(usual, seen, width, height);
  return spots.length > MOST ? [] : spots;
}

/** Spots of one frame alone: besides marks whatever is small there. */
export function spotsOnFrame(flat: LightPicture): Spot[] {
  const { width, height } = flat;
  const values = new Float32Array(width * height);
  const seen = new Uint8Array(width * height);
  for (let i = 0; i < values.length; i++) {
    values[i] = rootOf(flat, i);
    seen[i] = isSeen(flat, i) ? 1 : 0;
  }
  return spotsIn(values, seen, width, height);
}

function spotsIn(values: Float32Array, seen: Uint8Array, width: number, height: number): Spot[] {
  const spots = new Uint8Array(values.length);
  const off = new Float32Array(values.length);
  const offSeen = new Float32Array(values.length);
  for (let round = 0; round < 2; round++) {
    const around = surroundings(values, seen, spots, width, height);
    let count = 0;
    for (let i = 0; i < off.length; i++) {
      off[i] = seen[i] === 1 ? values[i]! - around[i]! : 0;
      if (seen[i] === 1) offSeen[count++] = off[i]!;
    }
    const scale = robustDeviation(offSeen.subarray(0, count));
    const limit = Math.max(AT_LEAST, STANDS_OUT * scale);
    for (let i = 0; i < off.length; i++) spots[i] = Math.abs(off[i]!) > limit ? 1 : 0;
  }
  const parts = partsOf(spots, width, height).filter(
    (part) =>
      part.length >= SMALLEST && part.length <= LARGEST * values.length && part.every((i) => inner(i, width, height)),
  );
  return parts.map((part): Spot => ({
    outline: partOutline(part, width, OUTSIDE).map(([x, y]): Point => [x / width, y / height]),
    contrast: part.reduce((sum, i) => sum + off[i]!, 0) / part.length,
  }));
}

const inner = (i: number, width: number, height: number) => {
  const x = i % width;
  const y = Math.floor(i / width);
  return x > 1 && y > 1 && x < width - 2 && y < height - 2;
};

/** Squares in which surroundings are measured, px: what is as wide as they are needs no finer ones. */
const SQUARE = 4;

/** Means of what is seen and no spot, over a wide gaussian. */
function surroundings(
  values: Float32Array,
  seen: Uint8Array,
  spots: Uint8Array,
  width: number,
  height: number,
): Float32Array {
  const columns = Math.ceil(width / SQUARE);
  const rows = Math.ceil(height / SQUARE);
  const sums = new Float32Array(columns * rows);
  const weights = new Float32Array(columns * rows);
  const sigma = (AROUND * width) / SQUARE;
  for (let i = 0; i < values.length; i++)
    if (seen[i] === 1 && spots[i] === 0) {
      const at = Math.floor(Math.floor(i / width) / SQUARE) * columns + Math.floor((i % width) / SQUARE);
      sums[at]! += values[i]!;
      weights[at]!++;
    }
  const wide = (data: Float32Array) => blurPlane({ width: columns, height: rows, data }, sigma);
  const sum = wide(sums);
  const weight = wide(weights);
  const around = new Float32Array(values.length);
  for (let row = 0, i = 0; row < height; row++) {
    const y = (row + 0.5) / SQUARE - 0.5;
    for (let col = 0; col < width; col++, i++) {
      const x = (col + 0.5) / SQUARE - 0.5;
      const w = sampleBilinear(weight, x, y);
      around[i] = w > 1e-3 ? sampleBilinear(sum, x, y) / w : values[i]!;
    }
  }
  return around;
}

/** Connected parts; what lies within JOINED of each other is one. */
function partsOf(marked: Uint8Array, width: number, height: number): number[][] {
  const done = new Uint8Array(marked.length);
  const out: number[][] = [];
  for (let start = 0; start < marked.length; start++) {
    if (marked[start] === 0 || done[start] === 1) continue;
    const part: number[] = [];
    const open = [start];
    done[start] = 1;
    for (let at = open.pop(); at !== undefined; at = open.pop()) {
      part.push(at);
      const x = at % width;
      const y = Math.floor(at / width);
      for (let dy = -JOINED; dy <= JOINED; dy++)
        for (let dx = -JOINED; dx <= JOINED; dx++) {
          const u = x + dx;
          const v = y + dy;
          const next = v * width + u;
          if (u < 0 || v < 0 || u >= width || v >= height || marked[next] === 0 || done[next] === 1) continue;
          done[next] = 1;
          open.push(next);
        }
    }
    out.push(part);
  }
  return out;
}
