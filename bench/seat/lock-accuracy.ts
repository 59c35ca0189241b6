import { movedCorners } from '../../core/surface/seat/corrections.ts';
import { measureSeat, type MeasuredSeat, type SeatPlan } from '../../core/surface/seat/measure-seat.ts';
import { worthLocking } from '../../core/surface/seat/seat-advice.ts';
import { carriedCorners } from '../../core/surface/seat/seated-corners.ts';
import { planFromTrack } from '../../core/handoff/exchange/seat-track.ts';
import { shareInside } from '../conditions/measure.ts';
import { mean, quadError, quadOf, type Condition } from './condition.ts';

export interface LockAccuracy {
  readonly before: number;
  readonly after: number;
  readonly worstBefore: number;
  readonly worstAfter: number;
  readonly locked: boolean;
  /** Distance over bound, corner by corner. */
  readonly ratios: readonly number[];
}

/** Frames on which less of the screen is in the picture do not count, as in the Follow table. */
const SEEN_FROM = 0.25;

export async function lockAccuracy(
  condition: Condition,
  plan: SeatPlan = planFromTrack(condition.track, condition.name),
): Promise<LockAccuracy & { measured: MeasuredSeat; plan: SeatPlan }> {
  const { truth, luma } = condition;
  const measured = await measureSeat(plan, async (frame) => luma[frame]!);
  const locked = worthLocking(plan, measured);
  const before: number[] = [];
  const after: number[] = [];
  const ratios: number[] = [];
  plan.frames.forEach(({ frame, map }, i) => {
    const corners = quadOf(truth, frame);
    const move = measured.locked[i];
    if (shareInside(corners, truth.width, truth.height) < SEEN_FROM) return;
    const plain = carriedCorners(map, plan.corners);
    const seated = move && locked ? carriedCorners(map, movedCorners(plan.corners, move.moves)) : plain;
    if (!plain || !seated) return;
    before.push(quadError(plain, corners));
    after.push(quadError(seated, corners));
    if (locked && move)
      seated.forEach(([x, y], c) => ratios.push(Math.hypot(x - corners[c]![0], y - corners[c]![1]) / move.bounds[c]!));
  });
  return {
    before: mean(before),
    after: mean(after),
    worstBefore: Math.max(...before),
    worstAfter: Math.max(...after),
    locked,
    ratios,
    measured,
    plan,
  };
}
