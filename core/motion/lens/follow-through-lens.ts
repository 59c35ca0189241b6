import type { FollowPlan } from '../follow/follow-plan.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import type { FrameFit } from '../follow/frame-fit.ts';
import { carryOutline, type KeyedOutline } from '../../base/geometry/outline.ts';
import { compose, translation, type Homography, type Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { IdealMotion } from './ideal-motion.ts';
import type { Lens } from './lens.ts';
import { StraightenedPicture } from './straightened-picture.ts';

/**
 * Following through a lens: the picture is straightened, in which planes move by homographies. What is found is stated without the lens in the plate's own
 * pixels (`ideal`), or of the plate as it was filmed (`filmed`).
 */
export class ThroughLens {
  private readonly memory: StraightenedPicture;

  constructor(lens: Lens, width: number, height: number) {
    this.memory = new StraightenedPicture(lens, width, height);
  }

  /** A plan told of the plate as one of straightened pictures; its `known` maps are without the lens. */
  plan(plan: FollowPlan): FollowPlan {
    const there = (p: Point) => this.memory.toStraight(p);
    return {
      ...plan,
      regions: plan.regions.map((o) => carryOutline(o, there)),
      keepOut: [
        ...(plan.keepOut ?? []).map((o) => carryOutline<KeyedOutline & { fixed?: boolean }>(o, there)),
        ...this.memory
          .unfilmed()
          .map((points) => ({ points: points.map(([x, y]): [number, number] => [x, y]), fixed: true })),
      ],
      ...(plan.screen ? { screen: plan.screen.map(there) } : {}),
      ...(plan.known
        ? { known: new Map([...plan.known].map(([frame, map]) => [frame, map && this.intoRoom(map)] as const)) }
        : {}),
    };
  }

  luma(frame: LumaFrame): LumaFrame {
    return this.memory.luma(frame);
  }

  /** A fit in straightened pictures, in the plate's pixels. */
  ideal<F extends Pick<FrameFit, 'homography' | 'certainty'>>(fit: F): F {
    if (!fit.homography) return fit;
    const { left, top } = this.memory;
    const out = translation(left, top);
    const back = translation(-left, -top);
    return {
      ...fit,
      homography: compose(compose(out, fit.homography), back),
      ...(fit.certainty ? { certainty: { ...fit.certainty, toUnit: compose(fit.certainty.toUnit, back) } } : {}),
    };
  }

  private intoRoom(map: Homography): Homography {
    const { left, top } = this.memory;
    return compose(compose(translation(-left, -top), map), translation(left, top));
  }
}

/** A fit without the lens, told of the plate with its corners on the reference; lost where a corner goes where the lens films nothing. @throws RangeError where it does not film them on the reference */
export function filmedFit<F extends Pick<FrameFit, 'homography' | 'certainty'>>(
  lens: Lens,
  corners: Quad,
): (fit: F) => F {
  const motion = IdealMotion.at(lens, corners);
  if (!motion) throw new RangeError('the lens films no surface there');
  return (fit) => {
    if (!fit.homography) return fit;
    const map = motion.filmed(fit.homography);
    return map
      ? { ...fit, homography: map, ...(fit.certainty ? { certainty: motion.certainty(fit.certainty) } : {}) }
      : { ...fit, homography: null, lost: 'the lens films no surface there' };
  };
}
