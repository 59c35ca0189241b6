import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { compose } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { CornerMoves } from '../../core/surface/seat/corrections.ts';
import { driftOf, measureSeat, type SeatPlan } from '../../core/surface/seat/measure-seat.ts';
import { proposeCorrections } from '../../core/surface/seat/drift-corrections.ts';
import { carriedCorners } from '../../core/surface/seat/seated-corners.ts';
import { planFromTrack } from '../../core/handoff/exchange/seat-track.ts';
import { mean, quadError, quadOf, type Condition } from './condition.ts';

type Plant = (frame: number, corner: number, frames: number, reference: number) => readonly [number, number];

/** Slow drifts to about 3 px from none on the reference; pixels of the reference. */
export const DRIFTS: Readonly<Record<string, Plant>> = {
  'even, all corners': (f, _c, n, r) => [(2.4 * (f - r)) / Math.max(r, n - r), (1.8 * (f - r)) / Math.max(r, n - r)],
  'one corner, there and back': (f, c, n, r) => (c === 2 ? [3 * Math.sin((2.2 * (f - r)) / n), 0] : [0, 0]),
  'ever faster, uneven': (f, c, n, r) => {
    const u = (f - r) / Math.max(r, n - r);
    return [2.1 * u * Math.abs(u) * (c % 2 === 1 ? 1 : 0.5), 2.1 * u * Math.abs(u)];
  },
};

/** A plan whose maps drift. */
function planted({ corners, referenceFrame, frames }: SeatPlan, plant: Plant, count: number): SeatPlan {
  return {
    corners,
    referenceFrame,
    frames: frames.map((f) => {
      const moved = corners.map(([x, y], c) => {
        const [dx, dy] = plant(f.frame, c, count, referenceFrame);
        return [x + dx, y + dy];
      }) as unknown as Quad;
      return { ...f, map: compose(f.map, homographyBetweenQuads(corners, moved)!) };
    }),
  };
}

export interface DriftAccuracy {
  readonly before: number;
  readonly after: number;
  readonly worstAfter: number;
  readonly keys: number;
  readonly pops: readonly number[];
}

export async function driftAccuracy(condition: Condition, plant: Plant, tolerance = 0.25): Promise<DriftAccuracy> {
  const { truth, luma } = condition;
  const plan = planted(planFromTrack(condition.track, condition.name), plant, truth.frames.length);
  const measured = await measureSeat(plan, async (frame) => luma[frame]!);
  const proposal = proposeCorrections(driftOf(plan, measured), plan.referenceFrame, tolerance);
  const moves = new CornerMoves(proposal.corrections, plan.referenceFrame);
  const errors = (by: (frame: number) => Quad) =>
    plan.frames.map(({ frame, map }) => quadError(carriedCorners(map, by(frame))!, quadOf(truth, frame)));
  const before = errors(() => plan.corners);
  const after = errors((frame) => moves.moved(plan.corners, frame));
  return {
    before: Math.max(...before),
    after: mean(after),
    worstAfter: Math.max(...after),
    keys: new Set(proposal.corrections.filter((c) => c.ease !== 'single').map((c) => c.frame)).size,
    pops: proposal.pops.map((p) => p.frame),
  };
}

/** A jump of 1 px on one frame. */
export const popOn =
  (at: number): Plant =>
  (frame) =>
    frame === at ? [0.8, 0.6] : [0, 0];
