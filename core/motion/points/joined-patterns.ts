import type { FrameFit } from '../follow/frame-fit.ts';
import { NothingToFollow } from '../follow/follow-plan.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { FollowRun } from '../follow/follow-run.ts';
import type { Homography, Point } from '../../base/geometry/homography.ts';
import { borderStrips } from './border-strips.ts';
import { cornersAmong } from './points-track.ts';
import type { PointPlan, PointSettings } from './point-plan.ts';

/** A border looks much the same upside down: it is not looked for turned by more than this from frame to frame, radians. */
const MOST_TURN = (75 * Math.PI) / 180;
/** So many patterns fix a plane's motion. */
const LEAST_PATTERNS = 4;

/**
 * The patterns of all points followed as one region of one plane and, where the four corners are among them, the border between these. Where each alone
 * holds too little — dark glass, a reflection, a smear longer than the pattern — together they still do, and a border lies still whatever the screen shows.
 * It runs beside the points, as far ahead as they ask, and only where they ask for it: it costs more than they do.
 */
export class JoinedPatterns {
  private readonly found = new Map<number, FrameFit>();
  private ended = false;

  private constructor(private readonly run: FollowRun) {}

  /**
   * Begins beside a frame that is known, one way through the frames; null where too few patterns are of one plane and compared with the reference, or
   * where they hold nothing.
   */
  static async begin(
    plan: PointPlan,
    from: number,
    way: -1 | 1,
    known: ReadonlyMap<number, Homography>,
    read: (frame: number) => Promise<LumaFrame>,
  ): Promise<JoinedPatterns | null> {
    const joined = patternsToJoin(plan);
    const corners = cornersAmong(plan.points);
    if (!joined) return null;
    const side = [...known].filter(([frame]) => (frame - from) * way <= 0);
    try {
      return new JoinedPatterns(
        await FollowRun.begin(
          {
            motion: 'perspective',
            ...(corners ? { turnsWithin: MOST_TURN } : {}),
            regions: regionsOf(joined, corners?.map((i) => plan.points[i]!) ?? []),
            keepOut: [],
            ...(corners ? { screen: corners.map((i) => plan.points[i]!.at) } : {}),
            referenceFrame: plan.referenceFrame,
            from,
            frames: plan.frames,
            direction: way === 1 ? 'forward' : 'backward',
            known: new Map(side),
          },
          read,
        ),
      );
    } catch (error) {
      if (error instanceof NothingToFollow) return null;
      throw error;
    }
  }

  /** How all patterns together move to a frame, seen from the reference; null where they do not tell. */
  async at(frame: number): Promise<FrameFit | null> {
    while (!this.found.has(frame) && !this.ended) {
      const fits = await this.run.step();
      if (!fits) this.ended = true;
      for (const fit of fits ?? []) this.found.set(fit.frame, fit);
    }
    const fit = this.found.get(frame);
    return fit?.homography ? fit : null;
  }
}

/** The points whose patterns may be followed as one: carried by their plane, compared with the reference, light compensated; null where they are too few. */
function patternsToJoin({ points, active, carriedBy }: PointPlan): readonly PointSettings[] | null {
  const joined = points.filter(
    (p) => p.shape === 'plane' && p.match === 'reference' && p.light !== false && !p.keys?.some((key) => key.pattern),
  );
  return carriedBy || joined.length < LEAST_PATTERNS || (active && active.length < LEAST_PATTERNS - 1) ? null : joined;
}

function regionsOf(joined: readonly PointSettings[], corners: readonly PointSettings[]): { points: Point[] }[] {
  const boxes = joined
    .filter((point) => !corners.includes(point))
    .map(({ at: [x, y], pattern: [w, h] }) => ({
      points: [
        [x - w / 2, y - h / 2],
        [x + w / 2, y - h / 2],
        [x + w / 2, y + h / 2],
        [x - w / 2, y + h / 2],
      ] as Point[],
    }));
  return [...(corners.length > 0 ? borderStrips(corners) : []), ...boxes];
}
