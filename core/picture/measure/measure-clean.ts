import { clamp } from '../../base/geometry/clamp.ts';
import type { CleanSurface } from '../pin/clean-surface.ts';
import { ContentPyramid } from '../pin/content-pyramid.ts';
import { bounds, type Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { median, quantile } from '../../base/image/statistics.ts';
import { boxWithin, lightOfRegion } from '../../base/image/light-region.ts';
import type { Lens } from '../../motion/lens/lens.ts';
import { placesOnSurface } from '../../motion/lens/lens-surface.ts';
import { flattenSurface } from '../pin/flatten-surface.ts';

/** A frame, where the surface is on it, and by how many stops it is brighter than at an exposure of 0. */
export interface CleanFrame {
  readonly picture: CodedPicture;
  readonly quad: Quad;
  readonly stops: number;
  readonly lens?: Lens | undefined;
}

/** A dark surface is determined by so many places across; single ones are averaged over squares of pixels. */
const ACROSS = 64;
const HALF = 2;
/** Of a place's values over time this quantile: what is mirrored only adds. */
const LOW = 0.12;
/** Frames that tell a dark surface, and a lit one; spread over those where it is known. */
export const DARK_FRAMES = 24;
export const LIT_FRAMES = 9;

/** A dark surface's own light: of each of its places what it falls to when nothing is mirrored there. Null where it is not seen. */
export function cleanDark(frames: readonly CleanFrame[], ratio: number, colour: PlateColour): CleanSurface | null {
  const down = Math.max(4, Math.round(ACROSS / ratio));
  const values: number[][] = Array.from({ length: 3 * ACROSS * down }, () => []);
  for (const { picture, quad, stops, lens } of frames) {
    const box = boxWithin(bounds(quad), 0, picture);
    const place = placesOnSurface(quad, lens);
    if (!box || !place) continue;
    const { planes, width, height } = lightOfRegion(picture, box, colour);
    const gain = 2 ** -stops;
    for (let row = 0; row < down; row++) {
      for (let col = 0; col < ACROSS; col++) {
        const [x, y] = place((col + 0.5) / ACROSS, (row + 0.5) / down);
        const px = Math.floor(x) - box.left;
        const py = Math.floor(y) - box.top;
        if (px < HALF || py < HALF || px >= width - HALF || py >= height - HALF) continue;
        for (let c = 0; c < 3; c++) {
          let sum = 0;
          for (let dy = -HALF; dy <= HALF; dy++)
            for (let dx = -HALF, at = (py + dy) * width + px - HALF; dx <= HALF; dx++, at++)
              sum += planes[c as 0 | 1 | 2][at]!;
          values[3 * (row * ACROSS + col) + c]!.push((sum / (2 * HALF + 1) ** 2) * gain);
        }
      }
    }
  }
  const raw = values.map((v) => (v.length > 0 ? quantile(v, LOW) : NaN));
  const data = new Float32Array(4 * ACROSS * down);
  let any = false;
  for (let row = 0; row < down; row++) {
    for (let col = 0; col < ACROSS; col++) {
      for (let c = 0; c < 3; c++) {
        // The outermost places see the frame around the screen: they take what lies further in. Neighbours even out.
        const near: number[] = [];
        const r0 = clamp(row, 2, down - 3);
        const c0 = clamp(col, 2, ACROSS - 3);
        for (let dy = -1; dy <= 1; dy++)
          for (let dx = -1; dx <= 1; dx++) near.push(raw[3 * ((r0 + dy) * ACROSS + c0 + dx) + c]!);
        const known = near.filter((v) => !Number.isNaN(v));
        if (known.length > 0) any = true;
        data[4 * (row * ACROSS + col) + c] = known.length > 0 ? median(known) : 0;
      }
      data[4 * (row * ACROSS + col) + 3] = 1;
    }
  }
  return any ? { pyramid: new ContentPyramid({ width: ACROSS, height: down, data }, 0) } : null;
}

/** Light within so much of the reference's counts as the same. */
const SAME = 0.012;
const SAME_SHARE = 0.15;

/**
 * A lit surface that stays as it is: the first frame's picture, which should be the reference's, bettered by the mean of others where they agree
 * with it: where something crosses it, or the picture has changed, they do not. Nearer to the border than `soften`, the plate's softness (px), lets the frame
 * around shine in, what lies further in is repeated. Null where it is not seen.
 */
export function cleanLit(
  [first, ...others]: readonly CleanFrame[],
  colour: PlateColour,
  soften = 0.6,
): CleanSurface | null {
  const base = first && flatOf(first, colour);
  if (!base) return null;
  const { width, height, data } = base;
  const sums = data.slice();
  const counts = new Float32Array(width * height).fill(1);
  for (const frame of others) {
    const there = flatOf(frame, colour, width, height);
    if (!there) continue;
    for (let i = 0; i < counts.length; i++) {
      if (there[4 * i + 3]! < 1) continue;
      if ([0, 1, 2].some((c) => Math.abs(there[4 * i + c]! - data[4 * i + c]!) > SAME + SAME_SHARE * data[4 * i + c]!))
        continue;
      for (let c = 0; c < 3; c++) sums[4 * i + c]! += there[4 * i + c]!;
      counts[i]!++;
    }
  }
  for (let i = 0; i < counts.length; i++) for (let c = 0; c < 3; c++) sums[4 * i + c]! /= counts[i]!;
  repeatRim(sums, width, height, Math.min(Math.floor(Math.min(width, height) / 4), Math.ceil(2.5 * soften) + 1));
  return { pyramid: new ContentPyramid({ width, height, data: sums }, 0) };
}

function flatOf(
  { picture, quad, stops, lens }: CleanFrame,
  colour: PlateColour,
): { width: number; height: number; data: Float32Array } | null;
function flatOf(
  { picture, quad, stops, lens }: CleanFrame,
  colour: PlateColour,
  width: number,
  height: number,
): Float32Array | null;
function flatOf({ picture, quad, stops, lens }: CleanFrame, colour: PlateColour, width?: number, height?: number) {
  const box = boxWithin(bounds(quad), 3, picture);
  const flat =
    box &&
    flattenSurface(
      lightOfRegion(picture, box, colour),
      quad,
      width === undefined ? undefined : { width, height: height! },
      lens,
    );
  if (!flat) return null;
  const gain = 2 ** -stops;
  for (let i = 0; i < flat.data.length; i++) if (i % 4 !== 3) flat.data[i]! *= gain;
  return width === undefined ? flat : flat.data;
}

/** The outermost pixels take the values of those a little further in. */
function repeatRim(data: Float32Array, width: number, height: number, rim: number): void {
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) {
      const r = Math.min(height - 1 - rim, Math.max(rim, row));
      const c = Math.min(width - 1 - rim, Math.max(rim, col));
      if (r === row && c === col) continue;
      for (let k = 0; k < 4; k++) data[4 * (row * width + col) + k] = data[4 * (r * width + c) + k]!;
    }
  }
}
