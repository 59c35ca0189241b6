import { mapTuple } from '../base/geometry/map-tuple.ts';
import { type Quad, bounds } from '../base/geometry/quad.ts';
import { convolveSeparable, gaussianKernel } from '../base/filters/gaussian.ts';
import type { CodedPicture } from '../base/image/picture.ts';
import { encodeLight } from '../base/image/transfer.ts';
import { boxWithin, type LightRegion } from '../base/image/light-region.ts';

/** Small pictures of a device with a screen, made for tests: flat, in light, smeared and softened as asked, with no noise but rounding. */
export interface DeviceSettings {
  /** Standard deviation of the lens, px. */
  readonly softness?: number;
  /** Width of the frame around the screen, in widths of the screen. */
  readonly border?: number;
  /** px a frame to the right. */
  readonly speed?: number;
  /** Part of a frame that the shutter is open. */
  readonly shutter?: number;
  /** Times all light, and times the screen's, on a frame. */
  readonly light?: (frame: number) => number;
  readonly glow?: (frame: number) => number;
  /** The screen's light at a place of it, what it mirrors, and where something hides it. */
  readonly screen?: (u: number, v: number) => number;
  readonly mirrored?: (frame: number, u: number, v: number) => number;
  readonly covered?: (frame: number, u: number, v: number) => boolean;
}

const WIDTH = 400;
const HEIGHT = 280;
const ACROSS = 210;
const DOWN = 140;
const TURN = 0.06;
/** Of sixteen places within a pixel, those at its corners. */
const CORNER_PLACES = [0, 3, 12, 15];

/** A device of proportions 3:2, turned a little, on each frame: its picture and its screen's corners. With `cornersOnly` no picture is drawn. */
export function movingDevice({
  softness = 0.6,
  border = 0.06,
  speed = 0,
  shutter = 0,
  light = () => 1,
  glow = () => 1,
  screen = (u, v) => 0.2 + 0.15 * Math.sin(23 * u) * Math.cos(17 * v),
  mirrored = () => 0,
  covered = () => false,
}: DeviceSettings): (frame: number, cornersOnly?: boolean) => { picture: CodedPicture; quad: Quad } {
  const cos = Math.cos(TURN);
  const sin = Math.sin(TURN);
  const middle = (time: number) => [WIDTH / 2 + speed * time, HEIGHT / 2] as const;
  const quadAt = (time: number): Quad =>
    mapTuple(
      [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ],
      ([x, y]) => {
        const [cx, cy] = middle(time);
        const px = (x * ACROSS) / 2;
        const py = (y * DOWN) / 2;
        return [cx + cos * px - sin * py, cy + sin * px + cos * py] as const;
      },
    );
  // A look is proposed in several passes over the same frames.
  const drawn = new Map<number, CodedPicture>();
  return (frame, cornersOnly = false) => {
    const quad = quadAt(frame);
    const known = drawn.get(frame);
    if (known) return { picture: known, quad };
    const values = new Float32Array(WIDTH * HEIGHT);
    if (!cornersOnly) {
      const moments = speed * shutter > 0 ? 48 : 1;
      const fine = 4;
      for (let k = 0; k < moments; k++) {
        const [cx, cy] = middle(frame + (moments === 1 ? 0 : shutter * ((k + 0.5) / moments - 0.5)));
        const places = moments > 1 ? 1 : fine * fine;
        const at = (col: number, row: number, place: number): readonly [number, number, number, number] => {
          const x = col + ((place % fine) + 0.5) / fine - cx;
          const y = row + (Math.floor(place / fine) + 0.5) / fine - cy;
          return [(cos * x + sin * y) / ACROSS + 0.5, (-sin * x + cos * y) / DOWN + 0.5, x, y];
        };
        /** Within one part the light hardly changes over a pixel: its corners tell it. */
        const inOnePart = (col: number, row: number): boolean => {
          const part = CORNER_PLACES.map((place) => {
            const [u, v] = at(col, row, place);
            return partAt(frame, u, v);
          });
          return part.every((one) => one === part[0]);
        };
        for (let row = 0, i = 0; row < HEIGHT; row++) {
          for (let col = 0; col < WIDTH; col++, i++) {
            const few = places > 1 && inOnePart(col, row);
            const count = few ? CORNER_PLACES.length : places;
            for (let p = 0; p < count; p++) {
              const place = few ? CORNER_PLACES[p]! : moments > 1 ? (k * 7 + 3) % 16 : p;
              values[i]! += lightAt(frame, ...at(col, row, place)) / (count * moments);
            }
          }
        }
      }
    }
    const soft = convolveSeparable(values, WIDTH, HEIGHT, 1, gaussianKernel(softness), 'repeat');
    const gain = light(frame);
    const data = new Uint8Array(3 * WIDTH * HEIGHT);
    for (let i = 0; i < soft.length; i++)
      data[3 * i] = data[3 * i + 1] = data[3 * i + 2] = Math.round(255 * encodeLight(gain * soft[i]!));
    const picture: CodedPicture = { width: WIDTH, height: HEIGHT, data, peak: 255 };
    if (!cornersOnly) drawn.set(frame, picture);
    return { picture, quad };
  };

  /** Whether it is the screen, what covers it, the device's frame or the room. */
  function partAt(frame: number, u: number, v: number): number {
    if (u >= 0 && v >= 0 && u < 1 && v < 1) return covered(frame, u, v) ? 1 : 0;
    return u > -border && v > -border * 1.5 && u < 1 + border && v < 1 + border * 1.5 ? 2 : 3;
  }
  function lightAt(frame: number, u: number, v: number, x: number, y: number): number {
    if (u >= 0 && v >= 0 && u < 1 && v < 1)
      return covered(frame, u, v) ? 0.12 : glow(frame) * screen(u, v) + mirrored(frame, u, v);
    if (u > -border && v > -border * 1.5 && u < 1 + border && v < 1 + border * 1.5)
      return 0.03 + 0.01 * Math.sin(40 * u) * Math.sin(30 * v);
    return 0.22 + 0.12 * Math.sin(x / 19) * Math.cos(y / 23);
  }
}

/** A picture of one light everywhere, or of a function of the pixel. */
export function planeWith(
  at: (x: number, y: number) => readonly [number, number, number],
  width = 320,
  height = 240,
): CodedPicture {
  const data = new Uint8Array(3 * width * height);
  for (let i = 0; i < width * height; i++)
    at(i % width, Math.floor(i / width)).forEach((v, c) => (data[3 * i + c] = Math.round(255 * encodeLight(v))));
  return { width, height, data, peak: 255 };
}

export function boundsBox(quad: Quad, grow: number, size: { width: number; height: number }) {
  return boxWithin(bounds(quad), grow, size)!;
}

/** Patches of eight levels with noise of a known kind, as light: variance of a code = floor² + shot²·code, times the channel's share; smoothed by a gaussian, its variance kept. */
export function grainyRegion(
  noise: { floor: number; shot: number; size: number; channels: readonly number[] },
  seed: number,
  level: (x: number, y: number) => number = (x) => 0.1 + 0.1 * Math.floor(x / 64),
): LightRegion {
  const width = 512;
  const height = 192;
  const random = generator(seed);
  const planes = [0, 1, 2].map((c) => {
    const white = Float32Array.from({ length: width * height }, () => random());
    const kernel = gaussianKernel(noise.size);
    const field = noise.size > 0 ? convolveSeparable(white, width, height, 1, kernel, 'repeat') : white;
    const kept = kernel.reduce((s, w) => s + w * w, 0);
    return field.map((v, i) => {
      const code = level(i % width, Math.floor(i / width));
      const noisy = code + (v / kept) * noise.channels[c]! * Math.sqrt(noise.floor ** 2 + noise.shot ** 2 * code);
      return noisy <= 0.04045 ? noisy / 12.92 : ((noisy + 0.055) / 1.055) ** 2.4;
    });
  }) as [Float32Array, Float32Array, Float32Array];
  return { box: { left: 0, top: 0, right: width, bottom: height }, width, height, planes };
}

/** Normal numbers: a linear congruential generator (Numerical Recipes, §7.1) and the Box–Muller transform. */
function generator(seed: number): () => number {
  let state = seed * 7919;
  const even = () => ((state = (Math.imul(state, 1664525) + 1013904223) >>> 0) + 0.5) / 4294967296;
  return () => Math.sqrt(-2 * Math.log(even())) * Math.cos(2 * Math.PI * even());
}
