import { cornerBound } from '../follow/certainty.ts';
import { SURE } from '../follow/confidence.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import type { FrameFit } from '../follow/frame-fit.ts';
import { applyToPoint, type Homography, type Point } from '../../base/geometry/homography.ts';
import { distance } from '../../base/geometry/quad.ts';
import { JoinedPatterns } from './joined-patterns.ts';
import type { PointFit, PointPlan } from './point-plan.ts';

/** What all say of one is believed where each that is seen lies so near, px and its bound, to where all say that it is. */
const AGREES = 0.6;

/** All patterns as one beside the points, on the way that these go: begun when first asked, and anew with each way. */
export class Together {
  /** Whether the points have come to depend on it. */
  leads = false;
  private run: JoinedPatterns | null | undefined;
  private start: { frame: number; way: -1 | 1 } | null = null;

  /** `maps` are those from the reference that are known so far; more come in while points are followed. */
  constructor(
    private readonly plan: PointPlan,
    private readonly maps: ReadonlyMap<number, Homography>,
    private readonly read: (frame: number) => Promise<LumaFrame>,
  ) {}

  /** From a frame on which all is known. */
  beginAt(frame: number, way: -1 | 1): void {
    this.start = { frame, way };
    this.run = undefined;
    this.leads = false;
  }

  /** How all move as one to a frame; null where that does not tell, or they cannot be followed so. */
  async at(frame: number): Promise<FrameFit | null> {
    if (this.run === undefined && this.start)
      this.run = await JoinedPatterns.begin(this.plan, this.start.frame, this.start.way, this.maps, this.read);
    return (await this.run?.at(frame)) ?? null;
  }

  /** As `at`, for points that go on as it says: they depend on it from here. */
  async lead(frame: number): Promise<FrameFit | null> {
    const fit = await this.at(frame);
    this.leads = Boolean(this.run);
    return fit;
  }

  /** Where a point that is hidden lies, if that agrees with the points that are seen. Its bound in px. */
  async placeOf(
    index: number,
    frame: number,
    found: readonly (PointFit | null)[],
  ): Promise<{ at: Point; bound: number } | null> {
    const fit = this.plan.carriedBy ? null : await this.at(frame);
    const map = fit?.homography;
    if (!map || !fit.certainty || fit.confidence < SURE) return null;
    const agree = this.plan.points.every(
      ({ at }, k) =>
        k === index ||
        found[k]?.how !== 'matched' ||
        distance(applyToPoint(map, at), found[k].at) <= AGREES + found[k].bound,
    );
    const { at } = this.plan.points[index]!;
    return agree ? { at: applyToPoint(map, at), bound: cornerBound(fit.certainty, map, at) } : null;
  }
}
