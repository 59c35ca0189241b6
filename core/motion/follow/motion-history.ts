import {
  applyToPoints,
  compose,
  IDENTITY,
  invert,
  normalise,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import type { Light } from './align-level.ts';
import { NO_MOTION, type FrameMotion } from './motion-blurred-template.ts';
import type { ShapeTolerance } from './shape-prior.ts';
import { homographyAtLevel } from './template.ts';

/** The motion about a frame for a candidate map, in a level's sample indices. */
export type MotionAt = (h: Homography, level: number) => FrameMotion;

/** No motion is thought to go on for more frames than this. */
const LONGEST_WAY = 12;

/** What has been found on the frames so far, and what it lets one expect of the next. */
export class MotionHistory {
  readonly maps = new Map<number, Homography>();
  readonly lights = new Map<number, Light>();
  /** How well the shape is known on each of them. */
  readonly shapes = new Map<number, ShapeTolerance>();

  constructor(referenceFrame: number) {
    this.maps.set(referenceFrame, IDENTITY);
  }

  lightOf(frame: number): Light {
    return this.lights.get(frame) ?? { gain: 1, offset: 0 };
  }

  /** The nearest known frame on a side (−1: earlier), how far away it is, and maps to expect by velocity and by standstill. */
  expect(frame: number, side: -1 | 1): { nearest: Homography; nearestFrame: number; gap: number; maps: Homography[] } {
    let gap = 1;
    while (!this.maps.has(frame + side * gap)) {
      gap++;
      if (gap > 100_000) throw new Error(`no known frame on side ${side} of frame ${frame}`);
    }
    const nearestFrame = frame + side * gap;
    const nearest = this.maps.get(nearestFrame)!;
    const maps = [nearest];
    const velocity = this.velocity(nearestFrame, side);
    // After a gap the old velocity is trusted no more.
    if (velocity && gap === 1) {
      maps.unshift(compose(nearest, velocity));
      const before = this.velocity(nearestFrame + side, side);
      const back = before && invert(before);
      // The change of velocity goes on: for throws and for jerks that swell.
      if (back) maps.push(compose(nearest, velocity, back, velocity));
    }
    return { nearest, nearestFrame, gap, maps };
  }

  /** Maps of a frame and of those before it on a side, as far as they are known without a gap; at most `most`. */
  run(frame: number, side: -1 | 1, most: number): Homography[] {
    const maps: Homography[] = [];
    for (let f = frame; maps.length < most && this.maps.has(f); f += side) maps.push(this.maps.get(f)!);
    return maps;
  }

  /** The step into a frame from its neighbour on a side, as a map on the reference. */
  private velocity(frame: number, side: -1 | 1): Homography | null {
    const here = this.maps.get(frame);
    const before = this.maps.get(frame + side);
    const back = before && invert(before);
    return here && back ? compose(back, here) : null;
  }

  /** Where a known frame's motion would have led in so many frames. */
  extrapolate(frame: number, side: -1 | 1, frames: number): Homography {
    const velocity = this.velocity(frame, side);
    let map = this.maps.get(frame)!;
    for (let i = 0; velocity && i < Math.min(frames, LONGEST_WAY); i++) map = compose(map, velocity);
    return map;
  }

  /** How far (px, at the worst of some points of the reference) a known frame was from where its neighbours on a side had led; infinite where that is not known. */
  offExpected(frame: number, side: -1 | 1, points: readonly Point[]): number {
    const here = this.maps.get(frame);
    const before = this.maps.get(frame + side);
    const velocity = this.velocity(frame + side, side);
    if (!here || !before || !velocity) return Infinity;
    const expected = applyToPoints(compose(before, velocity), points);
    return Math.max(
      ...applyToPoints(here, points).map(([x, y], i) => Math.hypot(x - expected[i]![0], y - expected[i]![1])),
    );
  }

  /** Half-way between a frame's neighbours; none where they are not both known. */
  middle(frame: number): Homography[] {
    const before = this.maps.get(frame - 1);
    const after = this.maps.get(frame + 1);
    return before && after ? [normalise(before).map((v, i) => (v + normalise(after)[i]!) / 2)] : [];
  }

  /** The motion when only the neighbour on a side is known. */
  motionFrom(frame: number, side: -1 | 1): MotionAt {
    const neighbour = this.maps.get(frame + side);
    const inverse = neighbour && invert(neighbour);
    if (!inverse) return () => NO_MOTION;
    return (h, level) => {
      const map = compose(homographyAtLevel(inverse, level), h);
      return side === -1 ? { back: map, ahead: null } : { back: null, ahead: map };
    };
  }

  /** The motion when both neighbours are known, else null. */
  motionBetween(frame: number): MotionAt | null {
    const before = this.maps.get(frame - 1);
    const after = this.maps.get(frame + 1);
    const inverseBefore = before && invert(before);
    const inverseAfter = after && invert(after);
    if (!inverseBefore || !inverseAfter) return null;
    return (h, level) => ({
      back: compose(homographyAtLevel(inverseBefore, level), h),
      ahead: compose(homographyAtLevel(inverseAfter, level), h),
    });
  }
}
