import { applyToPoints, type Point } from '../../base/geometry/homography.ts';
import { cornerBound } from './certainty.ts';
import type { FollowPlan } from './follow-plan.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { FollowRun } from './follow-run.ts';
import { DEFAULT_TEMPLATE_OPTIONS } from './template.ts';

/** Numbers of points that are tried; the one that is taken by itself is among them. */
export const TRIALS = [3000, 10_000, DEFAULT_TEMPLATE_OPTIONS.finestBudget, 90_000] as const;
/** Frames that are followed in a trial. */
const FRAMES = 3;

/** What a number of points costs and gains. */
export interface SamplingTrial {
  readonly points: number;
  /** Work a frame, in the clock's units. */
  readonly cost: number;
  /** The widest bound of a corner, px, on the worst of the frames; null where it was lost. */
  readonly bound: number | null;
  /** How far the corners lie, at most, from where the greatest number of points puts them, px; null likewise. */
  readonly off: number | null;
}

/**
 * Follows the three frames next to the reference with few points and with many. `corners` are those that matter, in
 * reference pixels; `clock` tells the time.
 */
export async function trySampling(
  plan: Omit<FollowPlan, 'frames' | 'direction'>,
  corners: readonly Point[],
  frameCount: number,
  read: (frame: number) => Promise<LumaFrame>,
  clock: () => number,
): Promise<SamplingTrial[]> {
  const { referenceFrame } = plan;
  const forward = referenceFrame + FRAMES < frameCount || referenceFrame < FRAMES;
  const frames: [number, number] = forward
    ? [referenceFrame, Math.min(frameCount - 1, referenceFrame + FRAMES)]
    : [referenceFrame - FRAMES, referenceFrame];
  const kept = new Map<number, LumaFrame>();
  const readOnce = async (frame: number) => {
    const there = kept.get(frame) ?? (await read(frame));
    kept.set(frame, there);
    return there;
  };
  for (let frame = frames[0]; frame <= frames[1]; frame++) await readOnce(frame);
  // The first run is slower than any other: it warms up.
  const warm = await FollowRun.begin(
    { ...plan, points: TRIALS[0], frames, direction: forward ? 'forward' : 'backward' },
    readOnce,
  );
  while (await warm.step());
  const found: { points: number; cost: number; bound: number | null; places: Point[] | null }[] = [];
  for (const points of TRIALS) {
    const run = await FollowRun.begin(
      { ...plan, points, frames, direction: forward ? 'forward' : 'backward' },
      readOnce,
    );
    const started = clock();
    let bound: number | null = 0;
    let places: Point[] | null = [];
    for (let fits = await run.step(); fits; fits = await run.step()) {
      for (const { homography, certainty, frame } of fits) {
        if (frame === referenceFrame) continue;
        bound =
          bound !== null && homography && certainty
            ? Math.max(bound, ...corners.map((c) => cornerBound(certainty, homography, c)))
            : null;
        places = places && homography ? [...places, ...applyToPoints(homography, corners)] : null;
      }
    }
    found.push({ points, cost: (clock() - started) / Math.max(1, frames[1] - frames[0]), bound, places });
  }
  const best = found.at(-1)!.places;
  return found.map(({ points, cost, bound, places }) => ({
    points,
    cost,
    bound,
    off:
      places && best ? Math.max(0, ...places.map(([x, y], i) => Math.hypot(x - best[i]![0], y - best[i]![1]))) : null,
  }));
}
