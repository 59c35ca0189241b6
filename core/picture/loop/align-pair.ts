import { followSpan } from '../../motion/follow/follow-run.ts';
import { NothingToFollow } from '../../motion/follow/follow-plan.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import type { KeyedOutline } from '../../base/geometry/outline.ts';
import type { Homography, Point } from '../../base/geometry/homography.ts';
import type { Motion } from '../../base/geometry/motion-model.ts';

export interface AlignPlan {
  readonly motion: Motion;
  /** What is to lie on itself; all but a rim of the picture unless given. */
  readonly region?: readonly Point[] | undefined;
  /** What moves by itself, where it is on the first picture. */
  readonly keepOut?: readonly (KeyedOutline & { readonly fixed?: boolean | undefined })[] | undefined;
}

/** How two pictures lie on each other: where the first's pixels are in the second. */
export interface PairFit {
  readonly map: Homography;
  readonly error: number;
  readonly confidence: number;
}

/** Of the picture's smaller side, what is left out along its border where no region is given. */
const RIM = 0.04;

/** The outline that is aligned: the one given, or the picture without its rim. */
export function alignedRegion({ region }: AlignPlan, width: number, height: number): Point[] {
  const rim = Math.round(RIM * Math.min(width, height));
  return region
    ? [...region]
    : [
        [rim, rim],
        [width - rim, rim],
        [width - rim, height - rim],
        [rim, height - rim],
      ];
}

/** Finds where what a picture shows lies in another, by the planar aligner (core/motion/follow). Null where it is not found. */
export async function alignPair(first: LumaFrame, second: LumaFrame, plan: AlignPlan): Promise<PairFit | null> {
  const points = alignedRegion(plan, first.width, first.height).map(([x, y]): [number, number] => [x, y]);
  try {
    for await (const { frame, homography, error, confidence } of followSpan(
      {
        motion: plan.motion,
        referenceFrame: 0,
        frames: [0, 1],
        direction: 'forward',
        regions: [{ points }],
        keepOut: [...(plan.keepOut ?? [])],
      },
      async (frame) => (frame === 0 ? first : second),
    )) {
      if (frame === 1) return homography ? { map: homography, error, confidence } : null;
    }
  } catch (error) {
    if (!(error instanceof NothingToFollow)) throw error;
  }
  return null;
}
