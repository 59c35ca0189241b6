import type { Homography } from '../geometry/homography.ts';
import { DARK_OFFSET } from './signal.ts';
import type { TemplateLevel } from './template.ts';

/**
 * How the reference moves under a picture pixel during one frame, as maps of reference sample indices
 * of a level: `back` takes a point to what the same pixel saw one frame earlier, `ahead` one later.
 */
export interface FrameMotion {
  readonly back: Homography | null;
  readonly ahead: Homography | null;
}

export const NO_MOTION: FrameMotion = { back: null, ahead: null };

/** Displacement of a reference point over one frame, towards the past: mean of both sides where both are known. */
function displace({ back, ahead }: FrameMotion, x: number, y: number, out: Float64Array): void {
  let dx = 0, dy = 0;
  if (back) {
    const w = 1 / (back[6]! * x + back[7]! * y + back[8]!);
    dx = (back[0]! * x + back[1]! * y + back[2]!) * w - x;
    dy = (back[3]! * x + back[4]! * y + back[5]!) * w - y;
  }
  if (ahead) {
    const w = 1 / (ahead[6]! * x + ahead[7]! * y + ahead[8]!);
    dx -= (ahead[0]! * x + ahead[1]! * y + ahead[2]!) * w - x;
    dy -= (ahead[3]! * x + ahead[4]! * y + ahead[5]!) * w - y;
  }
  const share = back && ahead ? 0.5 : 1;
  out[0] = dx * share;
  out[1] = dy * share;
}
const moved = new Float64Array(2);

/** The longest way over the shutter among the region's corners, in samples of the level. */
export function blurLength(level: TemplateLevel, motion: FrameMotion, shutter: number): number {
  return shutter * Math.max(...level.box.map(([x, y]) => {
    displace(motion, x, y, moved);
    return Math.hypot(moved[0]!, moved[1]!);
  }));
}

/** The template as the shutter would have smeared it: values and derivatives for each chosen point. */
export interface BlurredTemplate {
  readonly value: Float32Array;
  readonly dx: Float32Array;
  readonly dy: Float32Array;
  /** 1 where the whole smear lies inside the mask. */
  readonly complete: Uint8Array;
}

export function createBlurredTemplate(count: number): BlurredTemplate {
  return { value: new Float32Array(count), dx: new Float32Array(count), dy: new Float32Array(count), complete: new Uint8Array(count) };
}

const LONGEST = 48;

/**
 * Averages the template over sub-positions of the shutter (fraction of a frame, centred), in light,
 * and returns to the signal: s̄ = √(mean s²), ∇s̄ = mean(s·∇s)/s̄. Paths shorter than half a sample
 * leave it as it is.
 */
export function blurTemplate(level: TemplateLevel, motion: FrameMotion, shutter: number, out: BlurredTemplate): void {
  const { plane, xs, ys, count, mask } = level;
  const { width, height } = plane;
  const length = blurLength(level, motion, shutter);
  if (!(length >= 0.5)) {
    for (let i = 0; i < count; i++) {
      const at = ys[i]! * width + xs[i]!;
      out.value[i] = plane.value[at]!;
      out.dx[i] = plane.dx[at]!;
      out.dy[i] = plane.dy[at]!;
      out.complete[i] = 1;
    }
    return;
  }
  const steps = Math.min(LONGEST, Math.max(3, Math.ceil(length) + 1));
  for (let i = 0; i < count; i++) {
    const x = xs[i]!, y = ys[i]!;
    displace(motion, x, y, moved);
    const vx = moved[0]!, vy = moved[1]!;
    let light = 0, lightDx = 0, lightDy = 0, complete = 1;
    for (let k = 0; k < steps; k++) {
      const t = ((k + 0.5) / steps - 0.5) * shutter;
      let px = x + vx * t, py = y + vy * t;
      if (px < 0) px = 0;
      else if (px > width - 1.001) px = width - 1.001;
      if (py < 0) py = 0;
      else if (py > height - 1.001) py = height - 1.001;
      const ix = px | 0, iy = py | 0;
      const fx = px - ix, fy = py - iy;
      const at = iy * width + ix;
      const a = (1 - fx) * (1 - fy), b = fx * (1 - fy), c = (1 - fx) * fy, d = fx * fy;
      const v = plane.value[at]! * a + plane.value[at + 1]! * b + plane.value[at + width]! * c + plane.value[at + width + 1]! * d;
      light += v * v;
      lightDx += v * (plane.dx[at]! * a + plane.dx[at + 1]! * b + plane.dx[at + width]! * c + plane.dx[at + width + 1]! * d);
      lightDy += v * (plane.dy[at]! * a + plane.dy[at + 1]! * b + plane.dy[at + width]! * c + plane.dy[at + width + 1]! * d);
      if (mask[at] === 0) complete = 0;
    }
    const value = Math.sqrt(Math.max(DARK_OFFSET / 4, light / steps));
    out.value[i] = value;
    out.dx[i] = lightDx / steps / value;
    out.dy[i] = lightDy / steps / value;
    out.complete[i] = complete;
  }
}
