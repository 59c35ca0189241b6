import { bounds, distance, type Quad } from '../geometry/quad.ts';
import type { CodedPicture } from '../image/picture.ts';
import { placesOnSurface } from '../lens/lens-surface.ts';
import type { FrontFrame } from '../matte/measure-front.ts';
import { addCodes } from './sample-codes.ts';

/** It is told by no more places than this: more than a screen that fills a picture of 1280 by 720 has. */
const MOST_PLACES = 1e6, LEAST = 8;

/**
 * The surface as most frames show it, laid flat: of each place and channel the median of the codes, which is the code of the median light. What passes over the
 * surface, or shines on it from another place on every frame, is not in it. Null where fewer than three frames show it.
 */
export function usualSurface(frames: readonly FrontFrame[], ratio: number): CodedPicture | null {
  const seen = frames.flatMap(({ picture, quad, lens }) => {
    const place = placesOnSurface(quad, lens), { left, top, right, bottom } = bounds(quad);
    return place && right > 1 && bottom > 1 && left < picture.width - 1 && top < picture.height - 1 ? [{ picture, place, across: acrossOf(quad) }] : [];
  }), first = seen[0];
  if (!first || seen.length < 3) return null;
  const across = Math.max(...seen.map((one) => one.across)), width = Math.max(LEAST, Math.round(Math.min(across, Math.sqrt(MOST_PLACES * ratio)))), height = Math.max(LEAST, Math.round(width / ratio)), data = new Float32Array(3 * width * height), values = [0, 1, 2].map(() => new Float64Array(seen.length));
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) {
      let count = 0;
      for (const { picture, place } of seen) if (take(picture, place((col + 0.5) / width, (row + 0.5) / height), values, count)) count++;
      for (let c = 0; c < 3; c++) data[3 * (row * width + col) + c] = medianOf(values[c]!, count);
    }
  }
  return { width, height, data, peak: first.picture.peak };
}

/** Of the place in work. */
const codes = new Float32Array(3);

/** Of the first few of a list, sorted in place: there are a million such lists, each short. */
function medianOf(list: Float64Array, count: number): number {
  if (count === 0) return 0;
  for (let i = 1; i < count; i++) {
    const v = list[i]!;
    let k = i - 1;
    for (; k >= 0 && list[k]! > v; k--) list[k + 1] = list[k]!;
    list[k + 1] = v;
  }
  return (list[(count - 1) >> 1]! + list[count >> 1]!) / 2;
}

const acrossOf = (quad: Quad) => Math.max(distance(quad[0], quad[1]), distance(quad[3], quad[2]));

function take(picture: CodedPicture, [x, y]: readonly [number, number], into: readonly Float64Array[], at: number): boolean {
  if (!(x >= 0.5 && y >= 0.5 && x < picture.width - 0.5 && y < picture.height - 0.5)) return false;
  codes.fill(0);
  addCodes(picture, x, y, codes, 0);
  for (let c = 0; c < 3; c++) into[c]![at] = codes[c]!;
  return true;
}
