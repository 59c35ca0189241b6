import { performance } from 'node:perf_hooks';
import { readFileSync } from 'node:fs';
import { cornerBound } from '../../core/motion/follow/certainty.ts';
import { applyToPoints } from '../../core/base/geometry/homography.ts';
import { distance, type Quad } from '../../core/base/geometry/quad.ts';
import { followFeatures } from '../../core/motion/scene/follow-features.ts';
import { placePlane } from '../../core/motion/scene/place-plane.ts';
import { motionOfPlane } from '../../core/motion/scene/scene-track.ts';
import { randomFrom } from '../../core/motion/scene/seeded-random.ts';
import { solveRolling, type RowsAsked } from '../../core/motion/scene/solve-rolling-shutter.ts';
import type { Scene, SceneInput } from '../../core/motion/scene/scene.ts';
import { conditionShot } from '../../demo/conditions/index.ts';
import { conditionPlate } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { lumaOf } from '../plate-luma.ts';

export interface HallFigures {
  readonly scene: Scene;
  /** Distances of corners by frame (root mean square of the four), px. */
  readonly off: readonly number[];
  /** The largest relative error of the focal length over the frames. */
  readonly focal: number;
  /** Share of corners that are within their stated bounds. */
  readonly held: number;
  /** The middle one of these bounds, px. */
  readonly bound: number;
  readonly seconds: { readonly follow: number; readonly solve: number; readonly place: number };
  readonly features: number;
}

/** Solves a generated hall's scene, places the wall screen by its exact corners on the reference frame and compares the track with the truth. */
export async function hallFigures(
  name: string,
  given: Partial<SceneInput> = {},
  proportions: number | undefined = 120 / 67.5,
  rows?: RowsAsked,
): Promise<HallFigures> {
  const { plate, truth: file } = await conditionPlate(name);
  const truth = JSON.parse(readFileSync(file, 'utf8')) as Truth;
  const { width, height } = truth;
  const luma = await lumaOf(plate);
  const last = luma.length - 1;
  const t0 = performance.now();
  const { tracks } = await followFeatures({ width, height, frames: [0, last] }, async (frame) => luma[frame]!);
  const t1 = performance.now();
  const random = randomFrom(1);
  const scene = await solveRolling({ width, height, frames: [0, last], tracks, random, ...given }, rows);
  const t2 = performance.now();
  const corners = truth.frames[truth.referenceFrame]!.corners as unknown as Quad;
  const { plane } = await placePlane(
    scene,
    { frame: truth.referenceFrame, corners, proportions },
    async (frame) => luma[frame]!,
    random,
  );
  const t3 = performance.now();
  const carried = motionOfPlane(scene, plane, corners, [0, last]);
  const off: number[] = [];
  const limits: number[] = [];
  let within = 0;
  let asked = 0;
  for (const { frame, homography, certainty } of carried) {
    if (frame === truth.referenceFrame) continue;
    if (!homography) {
      off.push(Infinity);
      continue;
    }
    const at = applyToPoints(homography, corners);
    const away = at.map((p, i) => distance(p, truth.frames[frame]!.corners[i]!));
    off.push(Math.sqrt(away.reduce((s, d) => s + d * d, 0) / 4));
    away.forEach((d, i) => {
      asked++;
      if (!certainty) return;
      const limit = cornerBound(certainty, homography, corners[i]!);
      limits.push(limit);
      if (d <= limit) within++;
    });
  }
  const filmed = conditionShot(name)!.scene();
  const focal = Math.max(
    ...scene.frames.map(({ frame, camera }) =>
      Math.abs(camera.focal / (filmed.lens.focal * (filmed.zoom?.(frame) ?? 1)) - 1),
    ),
  );
  return {
    scene,
    off,
    focal,
    held: within / Math.max(1, asked),
    bound: limits.sort((a, b) => a - b)[limits.length >> 1] ?? NaN,
    features: tracks.length,
    seconds: { follow: (t1 - t0) / 1000, solve: (t2 - t1) / 1000, place: (t3 - t2) / 1000 },
  };
}
