import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { applyToPoints, invert, applyToPoint, type Point } from '../../core/base/geometry/homography.ts';
import { CORNER_NAMES, UNIT_SQUARE, type Quad } from '../../core/base/geometry/quad.ts';
import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import { PointRun } from '../../core/motion/points/point-run.ts';
import type { PointPlan, PointSettings, PointsFrame } from '../../core/motion/points/point-plan.ts';
import { cornersOfPose, type SurfaceCamera } from '../../core/motion/pose/plane-pose.ts';
import { rotationFromVector } from '../../core/motion/pose/rotation.ts';
import { drawSurface, type Drawing } from '../seat/drawn-surface.ts';

const SIZE = { width: 260, height: 200 };
export const CAMERA: SurfaceCamera = { focal: 300, cx: 130, cy: 100, ratio: 1.4 };

/** The screen on a frame: turning, leaning and moving a little. */
export function screenAt(frame: number): Quad {
  return cornersOfPose(
    {
      rotation: rotationFromVector([0.12 + 0.02 * frame, -0.2 + 0.035 * frame, 0.015 * frame]),
      position: [0.02 * frame - 0.1, 0.05 - 0.008 * frame, 2.9],
    },
    CAMERA,
  )!;
}

/** A screen with something on it, drawn on each frame where it truly is; `change` alters single frames. */
export function drawnFrames(count: number, change: (frame: number) => Partial<Drawing> = () => ({})): LumaFrame[] {
  return Array.from({ length: count }, (_, frame) => {
    const quad = screenAt(frame);
    const onUnit = invert(homographyBetweenQuads(UNIT_SQUARE, quad)!)!;
    // All parts move by the same map, as a plane's do.
    const outline = applyToPoints(homographyBetweenQuads(UNIT_SQUARE, quad)!, [
      [-0.08, -0.1],
      [1.08, -0.1],
      [1.08, 1.1],
      [-0.08, 1.1],
    ]) as unknown as Quad;
    const pattern = (x: number, y: number) => {
      const [u, v] = applyToPoint(onUnit, [x, y]);
      return 0.12 * Math.sin(17 * u + 3) * Math.cos(13 * v) + 0.05 * Math.sin(41 * u + 29 * v);
    };
    return drawSurface({ ...SIZE, quad, outline, blur: 0.9, noise: 0.004, seed: frame + 1, pattern, ...change(frame) });
  });
}

/** The four corners as points, from where they truly are on a frame. */
export function cornerPoints(referenceFrame: number, change: Partial<PointSettings> = {}): PointSettings[] {
  return CORNER_NAMES.map((name, i) => ({
    name,
    at: screenAt(referenceFrame)[i]!,
    pattern: [27, 27],
    search: [61, 61],
    match: 'reference',
    shape: 'plane',
    ...change,
  }));
}

export async function runPoints(
  frames: readonly LumaFrame[],
  plan: Partial<PointPlan> & Pick<PointPlan, 'points'>,
): Promise<{ run: PointRun; found: Map<number, PointsFrame> }> {
  const run = (await PointRun.begin(
    { referenceFrame: 0, frames: [0, frames.length - 1], direction: 'both', ...plan },
    async (frame) => frames[frame]!,
  ))!;
  const found = new Map<number, PointsFrame>();
  for (let at = await run.step(); at; at = await run.step()) found.set(at.frame, at);
  return { run, found };
}

/** Distances of a frame's points from the truth, px; infinite where one was not found. */
export function offTruth({ frame, points }: PointsFrame): number[] {
  const truth = screenAt(frame);
  return points.map((p, i) => (p ? Math.hypot(p.at[0] - truth[i]![0], p.at[1] - truth[i]![1]) : Infinity));
}

/** Light that falls off smoothly from a place, drawn over a frame's codes: a soft reflection. */
export function withGlare(frame: LumaFrame, [cx, cy]: Point, strength: number, radius: number): LumaFrame {
  const codes = Uint16Array.from(frame.codes);
  const { width } = frame;
  for (let i = 0; i < codes.length; i++) {
    const away = Math.hypot((i % width) + 0.5 - cx, Math.floor(i / width) + 0.5 - cy) / radius;
    const code = codes[i]! / 65535;
    const light =
      (code <= 0.04045 ? code / 12.92 : ((code + 0.055) / 1.055) ** 2.4) + strength * Math.exp(-away * away);
    codes[i] = Math.min(
      65535,
      Math.round(65535 * (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055)),
    );
  }
  return { ...frame, codes };
}
