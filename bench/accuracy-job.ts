import type { FollowJob } from '../core/base/schemas/types.ts';
import type { Truth } from '../demo/truth.ts';

/** The job of a generated plate: its rough region, and an exact seat. */
export function jobFromTruth(truth: Truth): FollowJob {
  return {
    pixelCentre: 'half',
    referenceFrame: truth.referenceFrame,
    motion: 'perspective',
    regions: [{ points: truth.region }],
    ...(truth.keepOut ? { keepOut: [{ points: truth.keepOut }] } : {}),
    corners: truth.frames[truth.referenceFrame]!.corners as FollowJob['corners'],
  };
}

export interface CornerErrors {
  mean: number;
  worst: number;
  worstFrame: number;
  under1: number;
  lost: number;
  frames: number;
}

/** Root mean square over the four corners for each frame, then mean and worst over the frames, px. */
export function cornerErrors(
  truth: Truth,
  corners: ReadonlyMap<number, readonly (readonly [number, number])[]>,
): CornerErrors {
  let sum = 0;
  let worst = 0;
  let worstFrame = -1;
  let under1 = 0;
  let lost = 0;
  for (const frame of truth.frames) {
    const found = corners.get(frame.frame);
    if (!found) {
      lost++;
      continue;
    }
    const e = Math.sqrt(
      frame.corners.reduce((s, [x, y], i) => s + (x - found[i]![0]) ** 2 + (y - found[i]![1]) ** 2, 0) / 4,
    );
    sum += e;
    if (e < 1) under1++;
    if (e > worst) [worst, worstFrame] = [e, frame.frame];
  }
  const frames = truth.frames.length;
  return { mean: sum / Math.max(1, frames - lost), worst, worstFrame, under1: under1 / frames, lost, frames };
}
