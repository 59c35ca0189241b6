import { clamp } from '../../base/geometry/clamp.ts';
import type { Homography, Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { lightToCode } from '../../base/image/transfer.ts';
import { sampleBand, type BandShape } from './edge-band.ts';
import { sampleLight, type LightPicture } from '../../base/image/light-sampler.ts';
import { sideOf } from './sides.ts';

/** What a slice reaches, reference px inward and outward, and its step. */
export const SLICE_REACH = 12;
export const SLICE_STEP = 0.5;
export const SLICE_LENGTH = Math.round((2 * SLICE_REACH) / SLICE_STEP) + 1;
/** Strips of a frame: the four sides, then the four corners. */
export const STRIPS = 8;

const SHAPE: BandShape = {
  from: 0.08,
  to: 0.92,
  segments: 24,
  samples: 4,
  inner: -SLICE_REACH,
  outer: SLICE_REACH,
  step: SLICE_STEP,
};
/** Places beside a corner's diagonal, px. */
const BESIDE = [-1.5, -0.5, 0.5, 1.5] as const;

/**
 * One column for each strip of one frame: the light across each side and out of each corner, from the inside outward, in the surface's own
 * frame (reference px), as codes 0…255 of a display. Across a side the median of its pieces, so that a finger does not show as an edge.
 * Stacked over time a perfect track gives straight lines. 0 also where the picture does not reach.
 */
export function sliceFrame(picture: LightPicture, map: Homography, quad: Quad): Uint8Array {
  const out = new Uint8Array(STRIPS * SLICE_LENGTH);
  for (let side = 0; side < 4; side++) {
    const { values, segments, columns } = sampleBand(picture, map, sideOf(quad, side), SHAPE);
    for (let c = 0; c < columns; c++) {
      const seen: number[] = [];
      for (let j = 0; j < segments; j++)
        if (!Number.isNaN(values[j * columns + c]!)) seen.push(values[j * columns + c]!);
      out[side * SLICE_LENGTH + c] = code(middleMean(seen));
    }
  }
  for (let corner = 0; corner < 4; corner++) {
    const [dx, dy] = outwardAt(quad, corner);
    const [x, y] = quad[corner]!;
    for (let c = 0; c < SLICE_LENGTH; c++) {
      const s = c * SLICE_STEP - SLICE_REACH;
      let sum = 0;
      for (const b of BESIDE) sum += at(picture, map, x + dx * s - dy * b, y + dy * s + dx * b);
      out[(4 + corner) * SLICE_LENGTH + c] = code(sum / BESIDE.length);
    }
  }
  return out;
}

/** Unit direction out of a corner, halfway between its sides' normals. */
export function outwardAt(quad: Quad, corner: number): Point {
  const a = sideOf(quad, (corner + 3) % 4).normal;
  const b = sideOf(quad, corner).normal;
  const x = a[0] + b[0];
  const y = a[1] + b[1];
  const length = Math.hypot(x, y) || 1;
  return [x / length, y / length];
}

/** By how much the moves of the corners shift each strip's edge, reference px outward: sides at their middle, corners along their diagonal. */
export function stripShifts(quad: Quad, moves: ArrayLike<number>): number[] {
  const sides = [0, 1, 2, 3].map((k) => {
    const { normal } = sideOf(quad, k);
    const to = (k + 1) % 4;
    return (
      ((moves[2 * k]! + moves[2 * to]!) / 2) * normal[0] + ((moves[2 * k + 1]! + moves[2 * to + 1]!) / 2) * normal[1]
    );
  });
  const corners = [0, 1, 2, 3].map((k) => {
    const [x, y] = outwardAt(quad, k);
    return moves[2 * k]! * x + moves[2 * k + 1]! * y;
  });
  return [...sides, ...corners];
}

function at(picture: LightPicture, [a, b, c, d, e, f, g, h, i]: Homography, x: number, y: number): number {
  const w = g! * x + h! * y + i!;
  return sampleLight(picture, (a! * x + b! * y + c!) / w, (d! * x + e! * y + f!) / w);
}

/** Mean of the middle half: as deaf to a few strays as the median, and less rough. */
function middleMean(values: number[]): number {
  if (values.length === 0) return NaN;
  const sorted = values.sort((a, b) => a - b);
  const from = Math.floor(sorted.length / 4);
  const to = Math.max(from + 1, Math.ceil((3 * sorted.length) / 4));
  let sum = 0;
  for (let i = from; i < to; i++) sum += sorted[i]!;
  return sum / (to - from);
}

function code(light: number): number {
  return Number.isNaN(light) ? 0 : clamp(Math.round(255 * lightToCode(Math.max(0, light))), 0, 255);
}
