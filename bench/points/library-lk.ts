import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import type { Point } from '../../core/base/geometry/homography.ts';
import { matFromCodes, matFromPoints, release, type OpenCv } from '../reference/opencv.ts';

/** Boxes as points have them, px. */
export interface LibraryBoxes {
  readonly pattern: number;
  readonly search: number;
}

/**
 * Four points followed by the reference library's pyramidal Lucas–Kanade from frame to frame (J.-Y. Bouguet, Pyramidal Implementation of the Lucas Kanade
 * Feature Tracker, 2001): its window is the pattern box, with as many levels as reach over the search box. Null where it gives a point up.
 */
export function followByLk(
  cv: OpenCv,
  plate: readonly LumaFrame[],
  referenceFrame: number,
  points: readonly Point[],
  { pattern, search }: LibraryBoxes,
): Map<number, (Point | null)[]> {
  const found = new Map<number, (Point | null)[]>([[referenceFrame, [...points]]]);
  const window = pattern | 1;
  const levels = Math.max(0, Math.ceil(Math.log2(Math.max(1, (search - pattern) / 2) / (pattern / 2)) + 1));
  const picture = (frame: number) => {
    const { codes, width, height, peak } = plate[frame]!;
    return matFromCodes(cv, peak === 255 ? codes : Uint8Array.from(codes, (v) => v >> 8), width, height);
  };
  for (const way of [1, -1]) {
    let before = picture(referenceFrame);
    let at: (Point | null)[] = [...points];
    for (let frame = referenceFrame + way; frame >= 0 && frame < plate.length; frame += way) {
      const now = picture(frame);
      const from = matFromPoints(
        cv,
        at.map((p) => (p ? ([p[0] - 0.5, p[1] - 0.5] as Point) : ([0, 0] as Point))),
      );
      const to = new cv.Mat();
      const status = new cv.Mat();
      const error = new cv.Mat();
      cv.calcOpticalFlowPyrLK(
        before,
        now,
        from,
        to,
        status,
        error,
        new cv.Size(window, window),
        levels,
        new cv.TermCriteria(cv.TermCriteria_EPS + cv.TermCriteria_COUNT, 30, 0.01),
      );
      at = at.map((p, i) =>
        p && status.data[i] === 1 ? ([to.data32F[2 * i]! + 0.5, to.data32F[2 * i + 1]! + 0.5] as Point) : null,
      );
      found.set(frame, at);
      release(before, from, to, status, error);
      before = now;
    }
    release(before);
  }
  return found;
}
