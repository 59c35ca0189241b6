import { clamp } from '../../base/geometry/clamp.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import {
  applyToPoint,
  compose,
  invert,
  jacobianAt,
  translation,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { PATCH_PLANES } from '../../base/kernels/index.ts';
import { lightWindow, type LightWindow } from './light-window.ts';
import { MOST_SAMPLES, patchMemory, type PatchMemory } from './patch-memory.ts';

/** What a point looks like: the picture around it on the frame that it was taken from. */
export interface Patch {
  /** Where the point is on that frame, continuous pixels. */
  readonly at: Point;
  /** Width and height of the pattern, px. */
  readonly size: readonly [number, number];
  /** Offsets of its samples from the point, px. */
  readonly xs: Float64Array;
  readonly ys: Float64Array;
  readonly window: LightWindow;
}

/** More samples than this tell little more; then they lie further apart. */
const WANTED_SAMPLES = 1800;
/** Longest smear that a pattern is drawn with, px to each side. */
const SMEAR_ROOM = 48;

/** The pattern about a point; null where it reaches outside the picture. */
export function takePatch(frame: LumaFrame, at: Point, size: readonly [number, number]): Patch | null {
  const [w, h] = size;
  const spacing = Math.max(1, Math.sqrt((w * h) / WANTED_SAMPLES));
  const across = Math.max(3, Math.round(w / spacing));
  const down = clamp(Math.round(h / spacing), 3, Math.floor(MOST_SAMPLES / across));
  const [x, y] = at;
  const inside = x - w / 2 >= 2 && y - h / 2 >= 2 && x + w / 2 <= frame.width - 2 && y + h / 2 <= frame.height - 2;
  const window = inside
    ? lightWindow(frame, {
        left: x - w / 2 - SMEAR_ROOM,
        top: y - h / 2 - SMEAR_ROOM,
        right: x + w / 2 + SMEAR_ROOM,
        bottom: y + h / 2 + SMEAR_ROOM,
      })
    : null;
  if (!window) return null;
  const xs = new Float64Array(across * down);
  const ys = new Float64Array(across * down);
  for (let j = 0; j < down; j++) {
    for (let i = 0; i < across; i++) {
      xs[j * across + i] = (i - (across - 1) / 2) * (w / across);
      ys[j * across + i] = (j - (down - 1) / 2) * (h / down);
    }
  }
  return { at, size, xs, ys, window };
}

/** How a pattern lies on another frame, its own frame's offsets to that one's: the map of the whole about the point. */
export function mapAbout(h: Homography, at: Point): Homography {
  const [x, y] = applyToPoint(h, at);
  return compose(translation(-x, -y), h, translation(at[0], at[1]));
}

/** A pattern as it should be seen on another frame; it stands in the memory until another is drawn. */
export interface DrawnPatch {
  /** Samples, filled up to a multiple of four with ones that are not used. */
  readonly count: number;
  /** Offsets from the point on that frame, px. */
  readonly xs: Float32Array;
  readonly ys: Float32Array;
  /** Light, and its slopes across and down on that frame; 0 in `known` where nothing is known of it. */
  readonly light: Float32Array;
  readonly dx: Float32Array;
  readonly dy: Float32Array;
  readonly known: Float32Array;
  /** The planes of the memory, as long as this pattern. */
  readonly planes: Float32Array;
}

type NineNumbers = readonly [number, number, number, number, number, number, number, number, number];
/** Share of a smear's places that must lie in the pattern's own picture. */
const KNOWN_FROM = 0.7;

/**
 * Draws a pattern by a map of offsets, its light averaged along `smear` (the whole way during the exposure, px of that frame). Null where the map
 * folds.
 */
export function drawPatch({ at, xs, ys, size, window }: Patch, map: Homography, smear: Point): DrawnPatch | null {
  const [a, b, c, d] = jacobianAt(map, [0, 0]);
  const det = a * d - b * c;
  if (!(Math.abs(det) > 1e-4)) return null;
  const back = [d / det, -b / det, -c / det, a / det] as const;
  const length = Math.min(2 * SMEAR_ROOM, Math.hypot(...smear));
  const scale = length / Math.max(1e-9, Math.hypot(...smear));
  const along = [
    scale * (back[0] * smear[0] + back[1] * smear[1]),
    scale * (back[2] * smear[0] + back[3] * smear[1]),
  ] as const;
  const taps = Math.max(1, Math.ceil(1.2 * Math.hypot(...along)));
  const memory = patchMemory(window.data.length);
  const { set, sampled } = memory;
  const n = xs.length;
  const count = (n + 3) & ~3;
  const half = Math.max(...size) / 2;
  const [h0, h1, h2, h3, h4, h5, h6, h7, h8] = map as NineNumbers;
  const plane = (k: number) => memory.planes.subarray(k * count, (k + 1) * count);
  const [light, dx, dy, us, vs] = [
    plane(PATCH_PLANES.PATTERN),
    plane(PATCH_PLANES.PATTERN_X),
    plane(PATCH_PLANES.PATTERN_Y),
    plane(PATCH_PLANES.U),
    plane(PATCH_PLANES.V),
  ];
  for (let i = 0; i < count; i++) {
    const x = xs[Math.min(i, n - 1)]!;
    const y = ys[Math.min(i, n - 1)]!;
    const w = 1 / (h6 * x + h7 * y + h8);
    const px = (h0 * x + h1 * y + h2) * w;
    const py = (h3 * x + h4 * y + h5) * w;
    memory.xs[i] = x;
    memory.ys[i] = y;
    memory.drawnXs[i] = px;
    memory.drawnYs[i] = py;
    us[i] = px / half;
    vs[i] = py / half;
  }
  set.sampleCubic(
    memory.window('pattern', window),
    memory.xs,
    memory.ys,
    count,
    at[0] - window.left - 0.5,
    at[1] - window.top - 0.5,
    along,
    taps,
    sampled,
  );
  // Beyond the picture of its own frame nothing is known of it.
  const known = knownOf(memory, n, count);
  for (let i = 0; i < count; i++) {
    const gx = sampled[i + count]!;
    const gy = sampled[i + 2 * count]!;
    light[i] = sampled[i]!;
    dx[i] = back[0] * gx + back[2] * gy;
    dy[i] = back[1] * gx + back[3] * gy;
  }
  return { count, xs: memory.drawnXs, ys: memory.drawnYs, light, dx, dy, known, planes: memory.planes };
}

const knowns = new Float32Array(MOST_SAMPLES);

function knownOf({ sampled }: PatchMemory, n: number, count: number): Float32Array {
  for (let i = 0; i < count; i++) knowns[i] = i < n && sampled[i + 3 * count]! > KNOWN_FROM ? 1 : 0;
  return knowns;
}

/**
 * A pattern on the whole pixels of another frame, for correlation: offsets in multiples of `step` px from the pixel that the point lies in, and its light;
 * about `most` of them at most.
 */
export function drawOnPixels(
  { at, size, window }: Patch,
  map: Homography,
  smear: Point,
  most: number,
  step = 1,
): { dx: number[]; dy: number[]; light: number[] } | null {
  const back = invert(map);
  if (!back) return null;
  const [w, h] = size;
  const corners = [
    [-w / 2, -h / 2],
    [w / 2, -h / 2],
    [w / 2, h / 2],
    [-w / 2, h / 2],
  ].map((p) => applyToPoint(map, p as [number, number]));
  const left = Math.ceil(Math.min(...corners.map((p) => p[0])) / step);
  const right = Math.floor(Math.max(...corners.map((p) => p[0])) / step);
  const top = Math.ceil(Math.min(...corners.map((p) => p[1])) / step);
  const bottom = Math.floor(Math.max(...corners.map((p) => p[1])) / step);
  const area = (right - left + 1) * (bottom - top + 1);
  const stride = Math.max(1, Math.ceil(Math.sqrt(area / Math.min(most, MOST_SAMPLES))));
  const [a, b, c, d] = jacobianAt(back, [0, 0]);
  const along = [a * smear[0] + b * smear[1], c * smear[0] + d * smear[1]] as const;
  const taps = Math.max(1, Math.ceil(Math.hypot(...along) / 2));
  const memory = patchMemory(window.data.length);
  const places: [number, number][] = [];
  for (let j = top; j <= bottom; j += stride) {
    for (let i = left; i <= right; i += stride) {
      const [x, y] = applyToPoint(back, [i * step, j * step]);
      if (Math.abs(x) > w / 2 || Math.abs(y) > h / 2 || places.length >= MOST_SAMPLES) continue;
      memory.xs[places.length] = x;
      memory.ys[places.length] = y;
      places.push([i * step, j * step]);
    }
  }
  const n = places.length;
  const { sampled } = memory;
  memory.set.sampleCubic(
    memory.window('pattern', window),
    memory.xs,
    memory.ys,
    n,
    at[0] - window.left - 0.5,
    at[1] - window.top - 0.5,
    along,
    taps,
    sampled,
  );
  const seen = places.flatMap(([dx, dy], i) =>
    sampled[i + 3 * n]! >= KNOWN_FROM ? [{ dx, dy, light: sampled[i]! }] : [],
  );
  return seen.length < 12
    ? null
    : { dx: seen.map((s) => s.dx), dy: seen.map((s) => s.dy), light: seen.map((s) => s.light) };
}
