import {
  applyToPoint,
  compose,
  invert,
  translation,
  type Homography,
  type Point,
} from '../base/geometry/homography.ts';
import { waveAt } from './planes.ts';
import type { FollowPlan } from '../motion/follow/follow-plan.ts';
import type { LumaFrame } from '../base/image/luma-frame.ts';
import { followSpan } from '../motion/follow/follow-run.ts';
import type { FrameFit } from '../motion/follow/frame-fit.ts';

export const W = 200;
export const H = 150;
export const REGION: [number, number][] = [
  [50, 40],
  [150, 40],
  [150, 115],
  [50, 115],
];
export const CORNERS: Point[] = REGION;

/** A plane that drifts, turns and comes closer; everything else is another texture. */
export function pose(frame: number): Homography {
  const f = frame - 4;
  const angle = 0.012 * f;
  const scale = 1 + 0.008 * f;
  const about = compose(
    translation(100 + 2.1 * f, 75 - 1.2 * f),
    [
      scale * Math.cos(angle),
      -scale * Math.sin(angle),
      0,
      scale * Math.sin(angle),
      scale * Math.cos(angle),
      0,
      2e-5 * f,
      0,
      1,
    ],
    translation(-100, -75),
  );
  return about;
}

export function picture(frame: number, covered: (x: number, y: number) => boolean = () => false): LumaFrame {
  const back = invert(pose(frame))!;
  const codes = new Uint8Array(W * H);
  for (let j = 0; j < H; j++) {
    for (let i = 0; i < W; i++) {
      const [x, y] = applyToPoint(back, [i + 0.5, j + 0.5]);
      const inside = x > 42 && x < 158 && y > 32 && y < 123;
      const value = covered(i, j) ? 0.9 : inside ? waveAt(x, y) : 0.5 + 0.3 * Math.sin(i * 0.21) * Math.cos(j * 0.17);
      codes[j * W + i] = Math.round(255 * value);
    }
  }
  return { width: W, height: H, codes, peak: 255 };
}

export const PLAN: FollowPlan = {
  motion: 'perspective',
  regions: [{ points: REGION }],
  keepOut: [],
  referenceFrame: 4,
  frames: [0, 9],
  direction: 'both',
  // What is lost is looked for in a few turns only, but where turns are the subject.
  turnsWithin: 0.4,
};

export async function run(
  plan: Partial<FollowPlan>,
  read: (frame: number) => LumaFrame = picture,
): Promise<FrameFit[]> {
  const fits: FrameFit[] = [];
  for await (const fit of followSpan({ ...PLAN, ...plan }, async (frame) => read(frame))) fits.push(fit);
  return fits;
}

export function errorOf(fit: FrameFit): number {
  return Math.max(
    ...CORNERS.map((c) => {
      const [x, y] = applyToPoint(fit.homography!, c);
      const [u, v] = applyToPoint(pose(fit.frame), c);
      return Math.hypot(x - u, y - v);
    }),
  );
}
