import { clamp } from '../base/geometry/clamp.ts';
import type { Point } from '../base/geometry/homography.ts';
import type { Quad } from '../base/geometry/quad.ts';
import { convolveSeparable, gaussianKernel } from '../base/filters/gaussian.ts';
import type { CodedPicture } from '../base/image/picture.ts';
import { encodeLight } from '../base/image/transfer.ts';
import { coverageOf } from '../picture/matte/coverage.ts';

export const GREEN = [0.04, 0.5, 0.08] as const;
export const FRAME = [0.01, 0.01, 0.012] as const;
export const WALL = [0.05, 0.35, 0.04] as const;

export interface GreenScreen {
  readonly picture: CodedPicture;
  /** How much of each pixel is screen. */
  readonly screen: Float32Array;
}

/** A green screen in a dark frame before a green wall, a bar of one colour lying over it, all softened by a lens; exactly known. */
export function greenScreen({
  width = 160,
  height = 120,
  quad = [
    [40, 25],
    [120, 28],
    [118, 95],
    [42, 92],
  ] as Quad,
  bar = [
    [70, 0],
    [95, 0],
    [85, 120],
    [60, 120],
  ] as readonly Point[],
  front = [0.3, 0.3, 0.3] as readonly number[],
  frame = [...FRAME] as number[],
  marks = [] as readonly (readonly Point[])[],
  softness = 0.7,
  noise = 0,
} = {}): GreenScreen {
  const box = { left: 0, top: 0, right: width, bottom: height };
  const grow = (p: Point, i: number): Point => [p[0] + (i === 0 || i === 3 ? -8 : 8), p[1] + (i < 2 ? -8 : 8)];
  const device = coverageOf([quad.map(grow)], box).data;
  const inner = coverageOf([quad], box).data;
  const over = coverageOf(bar.length > 0 ? [bar] : [], box).data;
  const marked = coverageOf(marks, box).data;
  const light = new Float32Array(width * height * 3);
  const shares = new Float32Array(width * height);
  for (let i = 0; i < shares.length; i++) {
    shares[i] = inner[i]! * (1 - over[i]!);
    for (let c = 0; c < 3; c++) {
      const screen = marked[i]! * 0.15 * GREEN[c]! + (1 - marked[i]!) * GREEN[c]!;
      const behind = WALL[c]! + device[i]! * (frame[c]! - WALL[c]!);
      const under = behind + inner[i]! * (screen - behind);
      light[3 * i + c] = under + over[i]! * (front[c]! - under);
    }
  }
  const kernel = gaussianKernel(softness);
  const seen = convolveSeparable(light, width, height, 3, kernel, 'repeat');
  let state = 1;
  const random = () => ((state = (state * 1103515245 + 12345) % 2147483648) / 2147483648 - 0.5) * noise;
  const data = Uint8Array.from(seen, (v) => clamp(Math.round(255 * (encodeLight(v) + random())), 0, 255));
  return {
    picture: { width, height, data, peak: 255 },
    screen: convolveSeparable(shares, width, height, 1, kernel, 'repeat'),
  };
}

export const SCREEN_QUAD: Quad = [
  [40, 25],
  [120, 28],
  [118, 95],
  [42, 92],
];
