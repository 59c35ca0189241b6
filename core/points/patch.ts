import type { LumaFrame } from '../follow/follow-plan.ts';
import { applyToPoint, compose, invert, jacobianAt, translation, type Homography, type Point } from '../geometry/homography.ts';
import { lightWindow, sampleWindow, type LightSample, type LightWindow } from './light-window.ts';

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
const MOST_SAMPLES = 1800;
/** Longest smear that a pattern is drawn with, px to each side. */
const SMEAR_ROOM = 48;

/** The pattern about a point; null where it reaches outside the picture. */
export function takePatch(frame: LumaFrame, at: Point, size: readonly [number, number]): Patch | null {
  const [w, h] = size, spacing = Math.max(1, Math.sqrt((w * h) / MOST_SAMPLES)), across = Math.max(3, Math.round(w / spacing)), down = Math.max(3, Math.round(h / spacing));
  const [x, y] = at, inside = x - w / 2 >= 2 && y - h / 2 >= 2 && x + w / 2 <= frame.width - 2 && y + h / 2 <= frame.height - 2;
  const window = inside ? lightWindow(frame, { left: x - w / 2 - SMEAR_ROOM, top: y - h / 2 - SMEAR_ROOM, right: x + w / 2 + SMEAR_ROOM, bottom: y + h / 2 + SMEAR_ROOM }) : null;
  if (!window) return null;
  const xs = new Float64Array(across * down), ys = new Float64Array(across * down);
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

/** A pattern as it should be seen on another frame. */
export interface DrawnPatch {
  readonly count: number;
  /** Offsets from the point on that frame, px. */
  readonly xs: Float64Array;
  readonly ys: Float64Array;
  /** Light, and its slopes across and down on that frame. */
  readonly light: Float64Array;
  readonly dx: Float64Array;
  readonly dy: Float64Array;
}

/**
 * Draws a pattern by a map of offsets, its light averaged along `smear` (the whole way during the exposure, px of that frame). Null where the map
 * folds.
 */
export function drawPatch({ at, xs, ys, window }: Patch, map: Homography, smear: Point): DrawnPatch | null {
  const [a, b, c, d] = jacobianAt(map, [0, 0]), det = a * d - b * c;
  if (!(Math.abs(det) > 1e-4)) return null;
  const back = [d / det, -b / det, -c / det, a / det] as const, length = Math.min(2 * SMEAR_ROOM, Math.hypot(...smear)), scale = length / Math.max(1e-9, Math.hypot(...smear));
  const sx = scale * (back[0] * smear[0] + back[1] * smear[1]), sy = scale * (back[2] * smear[0] + back[3] * smear[1]), steps = Math.max(1, Math.ceil(1.2 * Math.hypot(sx, sy)));
  const n = xs.length, out: DrawnPatch = { count: n, xs: new Float64Array(n), ys: new Float64Array(n), light: new Float64Array(n), dx: new Float64Array(n), dy: new Float64Array(n) }, sample: LightSample = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const [x, y] = applyToPoint(map, [xs[i]!, ys[i]!]);
    out.xs[i] = x;
    out.ys[i] = y;
    let value = 0, gx = 0, gy = 0, taken = 0;
    for (let k = 0; k < steps; k++) {
      const t = (k + 0.5) / steps - 0.5;
      if (!sampleWindow(window, at[0] + xs[i]! + t * sx, at[1] + ys[i]! + t * sy, sample)) continue;
      value += sample[0];
      gx += sample[1];
      gy += sample[2];
      taken++;
    }
    // Beyond the picture of its own frame nothing is known of it.
    const share = taken > 0.7 * steps ? 1 / taken : NaN;
    out.light[i] = value * share;
    out.dx[i] = (back[0] * gx + back[2] * gy) * share;
    out.dy[i] = (back[1] * gx + back[3] * gy) * share;
  }
  return out;
}

/** A pattern on the whole pixels of another frame, for correlation: offsets in whole px from the pixel that the point lies in, and its light. */
export function drawOnPixels({ at, size, window }: Patch, map: Homography, smear: Point, most: number): { dx: Int32Array; dy: Int32Array; light: Float64Array } | null {
  const back = invert(map);
  if (!back) return null;
  const [w, h] = size, corners = [[-w / 2, -h / 2], [w / 2, -h / 2], [w / 2, h / 2], [-w / 2, h / 2]].map((p) => applyToPoint(map, p as [number, number]));
  const left = Math.ceil(Math.min(...corners.map((p) => p[0]))), right = Math.floor(Math.max(...corners.map((p) => p[0]))), top = Math.ceil(Math.min(...corners.map((p) => p[1]))), bottom = Math.floor(Math.max(...corners.map((p) => p[1])));
  const area = (right - left + 1) * (bottom - top + 1), stride = Math.max(1, Math.ceil(Math.sqrt(area / most)));
  const [a, b, c, d] = jacobianAt(back, [0, 0]), sx = a * smear[0] + b * smear[1], sy = c * smear[0] + d * smear[1], steps = Math.max(1, Math.ceil(Math.hypot(sx, sy) / 2));
  const dx: number[] = [], dy: number[] = [], light: number[] = [], sample: LightSample = [0, 0, 0];
  for (let j = top; j <= bottom; j += stride) {
    for (let i = left; i <= right; i += stride) {
      const [x, y] = applyToPoint(back, [i, j]);
      if (Math.abs(x) > w / 2 || Math.abs(y) > h / 2) continue;
      let value = 0, taken = 0;
      for (let k = 0; k < steps; k++) {
        const t = (k + 0.5) / steps - 0.5;
        if (!sampleWindow(window, at[0] + x + t * sx, at[1] + y + t * sy, sample)) continue;
        value += sample[0];
        taken++;
      }
      if (taken < 0.7 * steps) continue;
      dx.push(i);
      dy.push(j);
      light.push(value / taken);
    }
  }
  return light.length < 12 ? null : { dx: Int32Array.from(dx), dy: Int32Array.from(dy), light: Float64Array.from(light) };
}
