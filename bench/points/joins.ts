import type { Quad } from '../../core/base/geometry/quad.ts';
import { spliceSpans } from '../../core/motion/splice/splice-spans.ts';
import { quadOf, type Condition } from '../seat/condition.ts';

/**
 * Two tracks of one surface, the second 2 px off the first, joined in the middle of a plate: the greatest frame-to-frame acceleration of a corner that the join
 * adds, over the greatest of its neighbours (or of the motion itself, where that is larger). 2 or less is what is asked for.
 */
export function joinAcceleration({ truth }: Pick<Condition, 'truth'>, fade: number): number {
  const middle = Math.floor(truth.frames.length / 2);
  const last = truth.frames.length - 1;
  const at = (frame: number) => (frame >= 0 && frame <= last ? quadOf(truth, frame) : null);
  const off = (frame: number): Quad | null =>
    (at(frame)?.map(([x, y]) => [x + 2 * Math.SQRT1_2, y - 2 * Math.SQRT1_2]) as unknown as Quad | undefined) ?? null;
  const { frames } = spliceSpans(
    [
      { from: 0, to: middle - 1, quadAt: at },
      { from: middle, to: last, quadAt: off },
    ],
    fade,
    truth.width,
    truth.height,
  );
  const found = new Map(frames.map((f) => [f.frame, f.corners!]));
  let worst = 0;
  for (let corner = 0; corner < 4; corner++) {
    const bend = (frame: number) => {
      const [a, b, c] = [found.get(frame - 1)?.[corner], found.get(frame)?.[corner], found.get(frame + 1)?.[corner]];
      return a && b && c ? Math.hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1]) : NaN;
    };
    for (let frame = middle - fade; frame <= middle + fade; frame++) {
      const around = Math.max(bend(frame - 1), bend(frame + 1));
      worst = Math.max(worst, bend(frame) / Math.max(around, OWN));
    }
  }
  return worst;
}

/** Accelerations under this, px a frame², are no jerk whatever stands beside them. */
const OWN = 0.05;
