import { CORNER_NAMES } from '../../core/base/geometry/quad.ts';
import type { Point } from '../../core/base/geometry/homography.ts';
import { cornerQuality } from '../../core/motion/points/corner-quality.ts';
import { takePatch } from '../../core/motion/points/patch.ts';
import { PointRun } from '../../core/motion/points/point-run.ts';
import type { PointSettings } from '../../core/motion/points/point-plan.ts';
import type { Condition } from '../seat/condition.ts';
import type { LibraryBoxes } from './library-lk.ts';

/** Where points were said to be, by frame; null where one was given up. */
export type PointPaths = ReadonlyMap<number, readonly (Point | null)[]>;

export interface FollowedPoints {
  readonly paths: PointPaths;
  /** Frames and points that were reckoned from the others. */
  readonly reckoned: ReadonlySet<string>;
  readonly lightProposed: readonly string[];
  /** Corners within the bound that was stated, and how many there were. */
  readonly bounds: readonly (readonly [distance: number, bound: number])[];
}

/** The four corners of a condition's plate followed as points, from their exact places on the reference frame. */
export async function followCorners(
  { luma, truth, corners }: Pick<Condition, 'luma' | 'truth' | 'corners'>,
  { pattern, search }: LibraryBoxes,
  light?: boolean,
): Promise<FollowedPoints> {
  const points: PointSettings[] = CORNER_NAMES.map((name, i) => ({
    name,
    at: corners[i]!,
    pattern: [pattern, pattern],
    search: [search, search],
    match: 'reference',
    shape: 'plane',
    light,
  }));
  const run = await PointRun.begin(
    { points, referenceFrame: truth.referenceFrame, frames: [0, luma.length - 1], direction: 'both', retries: true },
    async (frame) => luma[frame]!,
  );
  const paths = new Map<number, (Point | null)[]>();
  const reckoned = new Set<string>();
  const bounds: [number, number][] = [];
  for (let at = await run?.step(); at; at = await run?.step()) {
    paths.set(
      at.frame,
      at.points.map((p) => p?.at ?? null),
    );
    at.points.forEach((p, i) => {
      if (p?.how === 'reckoned') reckoned.add(`${at.frame}/${i}`);
      if (p)
        bounds.push([
          Math.hypot(
            p.at[0] - truth.frames[at.frame]!.corners[i]![0],
            p.at[1] - truth.frames[at.frame]!.corners[i]![1],
          ),
          p.bound,
        ]);
    });
  }
  return { paths, reckoned, lightProposed: run?.lightProposed ?? [], bounds };
}

/** Whether patterns of this size have something to hold on to at all corners: the command line refuses them otherwise. */
export function holdIn(
  { luma, truth, corners }: Pick<Condition, 'luma' | 'truth' | 'corners'>,
  { pattern }: LibraryBoxes,
): boolean {
  return corners.every((at) => {
    const patch = takePatch(luma[truth.referenceFrame]!, at, [pattern, pattern]);
    return patch !== null && cornerQuality(patch).hold !== 'flat';
  });
}

export interface PathMeasures {
  /** Distances of the points that were given, px; corners outside the picture do not count. */
  readonly distances: number[];
  /** Points in all. */
  readonly asked: number;
}

export function measurePaths({ truth }: Pick<Condition, 'truth'>, paths: PointPaths): PathMeasures {
  const distances: number[] = [];
  let asked = 0;
  for (const { frame, corners } of truth.frames) {
    if (frame === truth.referenceFrame) continue;
    corners.forEach(([x, y], i) => {
      if (!(x >= 0 && y >= 0 && x < truth.width && y < truth.height)) return;
      asked++;
      const at = paths.get(frame)?.[i];
      if (at) distances.push(Math.hypot(at[0] - x, at[1] - y));
    });
  }
  return { distances, asked };
}
