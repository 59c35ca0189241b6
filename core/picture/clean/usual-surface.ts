import { bounds, distance, type Quad } from '../../base/geometry/quad.ts';
import { createCodes, type CodedPicture } from '../../base/image/picture.ts';
import { placesOnSurface } from '../../motion/lens/lens-surface.ts';
import type { FlatFrame, UsualSurface } from '../pin/surface-frames.ts';
import type { FrontFrame } from '../matte/measure-front.ts';
import { addCodes } from './sample-codes.ts';

/** It is determined by no more places than this: more than a screen that fills a picture of 1280 by 720 has. */
const MOST_PLACES = 1e6;
const LEAST = 8;

/** The surface as most of some frames show it, and as each does; `ratio` is its width over its height. Null where fewer than three frames show it. */
export function usualSurface(frames: readonly FrontFrame[], ratio: number): UsualSurface | null {
  const there = frames.flatMap(({ picture, quad, lens }) => {
    const place = placesOnSurface(quad, lens);
    const { left, top, right, bottom } = bounds(quad);
    return place && right > 1 && bottom > 1 && left < picture.width - 1 && top < picture.height - 1
      ? [{ picture, place, across: acrossOf(quad) }]
      : [];
  });
  const first = there[0];
  if (!first || there.length < 3) return null;
  const { peak } = first.picture;
  const across = Math.max(...there.map((one) => one.across));
  const width = Math.max(LEAST, Math.round(Math.min(across, Math.sqrt(MOST_PLACES * ratio))));
  const height = Math.max(LEAST, Math.round(width / ratio));
  const data = new Float32Array(3 * width * height);
  const values = [0, 1, 2].map(() => new Float64Array(there.length));
  const flat = there.map((): FlatFrame => ({
    picture: { width, height, data: createCodes(peak, 3 * width * height), peak },
    seen: new Uint8Array(width * height),
  }));
  for (let row = 0, i = 0; row < height; row++)
    for (let col = 0; col < width; col++, i++) {
      let count = 0;
      for (let f = 0; f < there.length; f++) {
        const { picture, place } = there[f]!;
        if (!take(picture, place((col + 0.5) / width, (row + 0.5) / height), values, count)) continue;
        const { picture: into, seen } = flat[f]!;
        for (let c = 0; c < 3; c++)
          into.data[3 * i + c] = peak === 1 ? values[c]![count]! : Math.round(values[c]![count]!);
        seen[i] = 1;
        count++;
      }
      for (let c = 0; c < 3; c++) data[3 * i + c] = medianOf(values[c]!, count);
    }
  return { picture: { width, height, data, peak }, frames: flat };
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

function take(
  picture: CodedPicture,
  [x, y]: readonly [number, number],
  into: readonly Float64Array[],
  at: number,
): boolean {
  if (!(x >= 0.5 && y >= 0.5 && x < picture.width - 0.5 && y < picture.height - 0.5)) return false;
  codes.fill(0);
  addCodes(picture, x, y, codes, 0);
  for (let c = 0; c < 3; c++) into[c]![at] = codes[c]!;
  return true;
}
