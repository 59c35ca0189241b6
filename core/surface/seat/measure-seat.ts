import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoints, compose, type Homography } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { movedCorners } from './corrections.ts';
import { scaleAt } from './frame-scale.ts';
import { solveLock, type LockedFrame } from './edge-lock.ts';
import type { LockFrame } from './lock-weights.ts';
import { findRails, type EdgeRail } from './edge-rails.ts';
import { sliceFrame } from './edge-slices.ts';
import { lightPicture } from '../../base/image/light-sampler.ts';
import type { FrameDrift } from './drift-corrections.ts';
import { RailMeasure, type RailShifts } from './rail-measures.ts';

/** A track whose seat is to be measured: the reference's corners, and each held frame's map with what was stated of its corners (frame px). */
export interface SeatPlan {
  readonly corners: Quad;
  readonly referenceFrame: number;
  readonly frames: readonly {
    readonly frame: number;
    readonly map: Homography;
    readonly bounds: readonly number[] | null;
  }[];
}

export interface MeasuredSeat {
  readonly rails: readonly EdgeRail[];
  /** In the plan's order; empty where no border was found. */
  readonly locked: readonly LockedFrame[];
  /** In the plan's order: edge-slices.ts. */
  readonly strips: readonly Uint8Array[];
}

/** Frames whose corners are further off than this, reference px, are looked at again from where they were found. */
const AGAIN = 0.6;
/** The share of a frame's time that shutters are usually open. */
const USUAL_SHUTTER = 0.5;

/**
 * Looks at the borders of a surface on every frame of a track and solves where its corners are, all frames together. Frames are read in
 * order; those that are far off once more. `tell` is called after each frame that was looked at.
 */
export async function measureSeat(
  plan: SeatPlan,
  read: (frame: number) => Promise<LumaFrame>,
  tell: (done: number, total: number) => Promise<void> | void = () => {},
): Promise<MeasuredSeat> {
  const { corners, referenceFrame, frames } = plan;
  const total = frames.length;
  const reference = lightPicture(await read(referenceFrame));
  const rails = findRails(reference, corners);
  const measure = new RailMeasure(reference, corners, rails);
  const smears = smearsOf(plan);
  const looked: LockFrame[] = [];
  const strips: Uint8Array[] = [];
  for (const { frame, map, bounds } of frames) {
    const picture = lightPicture(await read(frame));
    looked.push({ frame, map, bounds, shifts: measure.measure(picture, map), smear: smears[looked.length]! });
    strips.push(sliceFrame(picture, map, corners));
    await tell(looked.length, total);
  }
  if (rails.length === 0) return { rails, locked: [], strips };
  let locked = solveLock(looked, measure.pieces, corners, referenceFrame);
  const far = locked.flatMap((l, i) => (Math.max(...l.moves.map(Math.abs)) > AGAIN ? [i] : []));
  if (far.length > 0) {
    for (const i of far) {
      const { frame, map } = frames[i]!;
      const moved = movedCorners(corners, locked[i]!.moves);
      const seat = homographyBetweenQuads(corners, moved);
      if (!seat) continue;
      const shifts = measure.measure(lightPicture(await read(frame)), compose(map, seat));
      looked[i] = { ...looked[i]!, shifts: addMoves(shifts, measure, locked[i]!.moves) };
      await tell(total, total);
    }
    locked = solveLock(looked, measure.pieces, corners, referenceFrame);
  }
  return { rails, locked, strips };
}

/** How far the fastest corner moves over a usual shutter on each frame, by where it is on the frames beside, reference px. */
export function smearsOf({ corners, frames }: SeatPlan): number[] {
  const at = frames.map(({ map }) => applyToPoints(map, corners));
  return frames.map(({ frame, map }, i) => {
    const beside = [i - 1, i + 1].filter((k) => Math.abs((frames[k]?.frame ?? Infinity) - frame) === 1);
    if (beside.length === 0) return 0;
    return (
      USUAL_SHUTTER *
      Math.max(
        ...corners.map(
          (corner, c) =>
            Math.max(...beside.map((k) => Math.hypot(at[k]![c]![0] - at[i]![c]![0], at[k]![c]![1] - at[i]![c]![1]))) /
            scaleAt(map, corner),
        ),
      )
    );
  });
}

/** Shifts that were measured from moved corners, as they are from where these were. */
function addMoves({ shift, deviation }: RailShifts, { pieces }: RailMeasure, moves: Float64Array): RailShifts {
  return { deviation, shift: shift.map((s, i) => s + pieces[i]!.answer.reduce((sum, a, k) => sum + a * moves[k]!, 0)) };
}

/** What the borders show of every frame, for proposals and lists. */
export function driftOf(plan: SeatPlan, { locked }: MeasuredSeat): FrameDrift[] {
  return locked.map((l, i) => ({
    frame: l.frame,
    moves: l.moves,
    bounds: l.bounds,
    scales: plan.corners.map((c) => scaleAt(plan.frames[i]!.map, c)),
  }));
}
