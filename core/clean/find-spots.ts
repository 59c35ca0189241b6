import type { Point } from '../geometry/homography.ts';
import { blurPlane } from '../image/gaussian.ts';
import { median } from '../image/statistics.ts';
import type { LightPicture } from '../image/picture.ts';
import { partOutline } from './part-outline.ts';

/** What surrounds a spot is the surface smoothed over so much of its width, spots left out in a second round. */
const AROUND = 0.05;
/** A spot differs by so many times the usual difference, and by so much of the square root of light. */
const STANDS_OUT = 7, AT_LEAST = 0.02;
/** Of the surface: larger parts are no spots; smaller than so many pixels is noise. At most so many: more is a texture. */
const LARGEST = 0.015, SMALLEST = 5, MOST = 80;
/** Parts nearer to each other than this, px, are of one mark (the arms of a cross). */
const JOINED = 2;
/** Its outline is drawn so far outside, px of the flattened picture. */
const OUTSIDE = 1.5;
const FEWEST_FRAMES = 3;

/**
 * Marks that ride with a surface: small parts that are darker or lighter than what surrounds them on most of the frames, each flattened to the same size. Outlines
 * in shares of the surface's width and height; none where the surface is full of such (a picture is shown).
 */
export function findSpots(flat: readonly LightPicture[]): Point[][] {
  const first = flat[0];
  if (!first || flat.length < FEWEST_FRAMES) return [];
  const { width, height } = first, usual = new Float32Array(width * height), seen = new Uint8Array(width * height);
  for (let i = 0; i < usual.length; i++) {
    const values = flat.flatMap(({ data }) => (data[4 * i + 3]! > 0.99 ? [Math.sqrt(Math.max(0, 0.2126 * data[4 * i]! + 0.7152 * data[4 * i + 1]! + 0.0722 * data[4 * i + 2]!))] : []));
    if (values.length < FEWEST_FRAMES) continue;
    usual[i] = median(values);
    seen[i] = 1;
  }
  let spots = new Uint8Array(usual.length);
  for (let round = 0; round < 2; round++) {
    const around = surroundings(usual, seen, spots, width, height), off = usual.map((v, i) => (seen[i] === 1 ? Math.abs(v - around[i]!) : 0)), scale = 1.4826 * median([...off].filter((_, i) => seen[i] === 1)), limit = Math.max(AT_LEAST, STANDS_OUT * scale);
    spots = Uint8Array.from(off, (v) => (v > limit ? 1 : 0));
  }
  const parts = partsOf(spots, width, height).filter((part) => part.length >= SMALLEST && part.length <= LARGEST * usual.length && part.every((i) => inner(i, width, height)));
  if (parts.length > MOST) return [];
  return parts.map((part) => partOutline(part, width, OUTSIDE).map(([x, y]): Point => [x / width, y / height]));
}

const inner = (i: number, width: number, height: number) => { const x = i % width, y = Math.floor(i / width); return x > 1 && y > 1 && x < width - 2 && y < height - 2; };

/** Means of what is seen and no spot, over a wide gaussian. */
function surroundings(values: Float32Array, seen: Uint8Array, spots: Uint8Array, width: number, height: number): Float32Array {
  const weight = Float32Array.from(seen, (s, i) => (s === 1 && spots[i] === 0 ? 1 : 0)), sigma = AROUND * width, blurred = (data: Float32Array) => blurPlane({ width, height, data }, sigma).data, sums = blurred(values.map((v, i) => v * weight[i]!)), weights = blurred(weight);
  return sums.map((v, i) => (weights[i]! > 1e-3 ? v / weights[i]! : values[i]!));
}

/** Connected parts; what lies within JOINED of each other is one. */
function partsOf(marked: Uint8Array, width: number, height: number): number[][] {
  const done = new Uint8Array(marked.length), out: number[][] = [];
  for (let start = 0; start < marked.length; start++) {
    if (marked[start] === 0 || done[start] === 1) continue;
    const part: number[] = [], open = [start];
    done[start] = 1;
    for (let at = open.pop(); at !== undefined; at = open.pop()) {
      part.push(at);
      const x = at % width, y = Math.floor(at / width);
      for (let dy = -JOINED; dy <= JOINED; dy++) for (let dx = -JOINED; dx <= JOINED; dx++) {
        const u = x + dx, v = y + dy, next = v * width + u;
        if (u < 0 || v < 0 || u >= width || v >= height || marked[next] === 0 || done[next] === 1) continue;
        done[next] = 1;
        open.push(next);
      }
    }
    out.push(part);
  }
  return out;
}
