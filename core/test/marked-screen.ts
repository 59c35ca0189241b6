import { homographyBetweenQuads } from '../base/geometry/estimate-homography.ts';
import { applyToPoint, invert, type Point } from '../base/geometry/homography.ts';
import { UNIT_SQUARE, type Quad } from '../base/geometry/quad.ts';
import type { CodedPicture } from '../base/image/picture.ts';
import { lightWriter } from '../base/image/plate-colour.ts';

/** A screen with four crosses and what is mirrored over it, for tests of painting out. */
export const MARKED_SIZE = { width: 220, height: 150 } as const;
export const MARKED_QUAD: Quad = [
  [22, 16],
  [200, 12],
  [204, 136],
  [18, 132],
];
const W = MARKED_SIZE.width;
const H = MARKED_SIZE.height;
const BACK = invert(homographyBetweenQuads(UNIT_SQUARE, MARKED_QUAD)!)!;
const write = lightWriter('srgb', 255);
export const MARKS: Point[] = [
  [0.25, 0.3],
  [0.75, 0.3],
  [0.25, 0.7],
  [0.75, 0.7],
];
export const RADIUS = 0.035;
export const TAKES = 0.2;
const cross = (u: number, v: number) =>
  MARKS.some(
    ([x, y]) =>
      Math.max(Math.abs(u - x), Math.abs(v - y)) < RADIUS && Math.min(Math.abs(u - x), Math.abs(v - y)) < 0.012,
  )
    ? TAKES
    : 0;
/** Narrow bars of a window, farther along on each frame. */
export const bars = (k: number) => (u: number) => ((((u - 0.071 * k) % 0.3) + 0.3) % 0.3 < 0.03 ? 0.12 : 0);

export interface MarkedShot {
  readonly marked: boolean;
  readonly mirrored?: (u: number) => number;
  readonly stuck?: boolean;
  readonly gain?: number;
  readonly shift?: number;
}

/** A screen in a dark frame, with marks: shown by it, or stuck onto its glass, where nothing is mirrored. Each pixel is the mean over 4 × 4 places, and smeared. */
export function markedScreen({
  marked,
  mirrored = () => 0,
  stuck = false,
  gain = 1,
  shift = 0,
}: MarkedShot): CodedPicture {
  const data = new Uint8Array(W * H * 3);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      let light = 0;
      for (let s = 0; s < 16; s++) {
        const [u, v] = applyToPoint(BACK, [x + (s % 4) / 4 + 0.125 - shift, y + Math.floor(s / 4) / 4 + 0.125]);
        const takes = marked ? cross(u, v) : 0;
        light += (u < 0 || v < 0 || u > 1 || v > 1 ? 0.04 : 0.35 - takes + (stuck && takes > 0 ? 0 : mirrored(u))) / 16;
      }
      for (let c = 0; c < 3; c++) data[(y * W + x) * 3 + c] = write(gain * light * (c === 1 ? 1 : 0.7));
    }
  return blurred({ width: W, height: H, data, peak: 255 });
}

/** A mean over three by three pixels, as a lens smears. */
export function blurred({ data, ...rest }: CodedPicture): CodedPicture {
  const out = Uint8Array.from(data);
  for (let y = 1; y < H - 1; y++)
    for (let x = 1; x < W - 1; x++)
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let k = 0; k < 9; k++) sum += data[((y + Math.floor(k / 3) - 1) * W + x + (k % 3) - 1) * 3 + c]!;
        out[(y * W + x) * 3 + c] = Math.round(sum / 9);
      }
  return { ...rest, data: out };
}

/** The box about a cross, shares of the screen. */
export const boxAround = ([x, y]: Point, r = RADIUS + 0.01): Point[] => [
  [x - r, y - r],
  [x + r, y - r],
  [x + r, y + r],
  [x - r, y + r],
];

/** Root mean square of what is left in and about the marks, codes, over all frames. */
export function leftInMarks(picture: Pick<CodedPicture, 'data'>, truth: CodedPicture): number {
  let squares = 0;
  let n = 0;
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const [u, v] = applyToPoint(BACK, [x + 0.5, y + 0.5]);
      if (!MARKS.some(([a, b]) => Math.max(Math.abs(u - a), Math.abs(v - b)) < RADIUS + 0.012)) continue;
      for (let c = 0; c < 3; c++)
        squares += (picture.data[(y * W + x) * 3 + c]! - truth.data[(y * W + x) * 3 + c]!) ** 2;
      n += 3;
    }
  return Math.sqrt(squares / n);
}
