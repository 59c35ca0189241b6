/**
 * Planar following with what the reference vision library has for it, outward from a reference frame in both directions.
 *
 * - chained LK: corners found in the region (goodFeaturesToTrack) followed from frame to frame by pyramidal
 *   Lucas–Kanade, a homography from the reference by RANSAC (J.-Y. Bouguet, Pyramidal Implementation of the
 *   Lucas Kanade Feature Tracker, 2001).
 * - ECC: the reference's region registered to each frame, started from the frame before (G. Evangelidis,
 *   E. Psarakis, Parametric Image Alignment Using Enhanced Correlation Coefficient Maximization, PAMI 30(10), 2008).
 */
import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import {
  compose,
  IDENTITY,
  invert,
  translation,
  type Homography,
  type Point,
} from '../../core/base/geometry/homography.ts';
import { fillPolygon } from '../../core/base/geometry/polygon.ts';
import { bounds } from '../../core/base/geometry/quad.ts';
import { matFromCodes, matFromPoints, release, type Mat, type OpenCv } from './opencv.ts';

export interface ReferenceTask {
  readonly plate: readonly LumaFrame[];
  readonly region: readonly Point[];
  readonly referenceFrame: number;
  /** First and last frame. */
  readonly frames: readonly [number, number];
}

/** Maps from the reference by frame; frames that were lost are absent. */
export type ReferenceFollower = (task: ReferenceTask) => Map<number, Homography>;

/** The library counts pixel centres at integers. */
const toOurs = (h: Homography): Homography => compose(translation(0.5, 0.5), h, translation(-0.5, -0.5));

function pictureOf(cv: OpenCv, { codes, width, height, peak }: LumaFrame): Mat {
  return matFromCodes(cv, peak === 255 ? codes : Uint8Array.from(codes, (v) => v >> 8), width, height);
}

function bothWays(
  task: ReferenceTask,
  way: (frames: readonly number[], maps: Map<number, Homography>) => void,
): Map<number, Homography> {
  const maps = new Map<number, Homography>([[task.referenceFrame, IDENTITY]]);
  const [first, last] = task.frames;
  way(
    Array.from({ length: Math.max(0, last - task.referenceFrame) }, (_, i) => task.referenceFrame + 1 + i),
    maps,
  );
  way(
    Array.from({ length: Math.max(0, task.referenceFrame - first) }, (_, i) => task.referenceFrame - 1 - i),
    maps,
  );
  return maps;
}

export const chainedLk =
  (cv: OpenCv): ReferenceFollower =>
  (task) =>
    bothWays(task, (frames, maps) => {
      const { width, height } = task.plate[0]!;
      const inside = new Uint8Array(width * height);
      fillPolygon(inside, width, height, task.region, 255);
      const mask = matFromCodes(cv, inside, width, height);
      const found = new cv.Mat();
      let before = pictureOf(cv, task.plate[task.referenceFrame]!);
      cv.goodFeaturesToTrack(before, found, 500, 0.005, 6, mask);
      let pairs = Array.from({ length: found.rows }, (_, i): { at: Point; start: Point } => {
        const p: Point = [found.data32F[2 * i]!, found.data32F[2 * i + 1]!];
        return { at: p, start: p };
      });
      for (const frame of frames) {
        if (pairs.length < 8) break;
        const now = pictureOf(cv, task.plate[frame]!);
        const from = matFromPoints(
          cv,
          pairs.map((p) => p.at),
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
          new cv.Size(21, 21),
          4,
          new cv.TermCriteria(cv.TermCriteria_EPS + cv.TermCriteria_COUNT, 30, 0.01),
        );
        pairs = pairs
          .map((p, i) => ({
            start: p.start,
            at: [to.data32F[2 * i]!, to.data32F[2 * i + 1]!] as Point,
            kept: status.data[i] === 1,
          }))
          .filter((p) => p.kept);
        if (pairs.length >= 8) {
          const [a, b] = [
            matFromPoints(
              cv,
              pairs.map((p) => p.start),
            ),
            matFromPoints(
              cv,
              pairs.map((p) => p.at),
            ),
          ];
          const h = cv.findHomography(a, b, cv.RANSAC, 2);
          if (h.rows === 3) maps.set(frame, toOurs([...h.data64F]));
          release(a, b, h);
        }
        release(before, from, to, status, error);
        before = now;
      }
      release(before, mask, found);
    });

export const ecc =
  (cv: OpenCv): ReferenceFollower =>
  (task) =>
    bothWays(task, (frames, maps) => {
      const { plate, referenceFrame, region } = task;
      const { width: across, height: down } = plate[0]!;
      const box = bounds(region);
      const left = Math.max(0, Math.floor(box.left));
      const top = Math.max(0, Math.floor(box.top));
      const width = Math.min(across, Math.ceil(box.right)) - left;
      const height = Math.min(down, Math.ceil(box.bottom)) - top;
      const whole = pictureOf(cv, plate[referenceFrame]!);
      const codes = whole.data;
      const template = matFromCodes(
        cv,
        Array.from(
          { length: width * height },
          (_, i) => codes[(top + Math.floor(i / width)) * across + left + (i % width)]!,
        ),
        width,
        height,
      );
      const warp = new cv.Mat(3, 3, cv.CV_32FC1);
      const mask = new cv.Mat();
      warp.data32F.set([1, 0, left, 0, 1, top, 0, 0, 1]);
      for (const frame of frames) {
        const now = pictureOf(cv, plate[frame]!);
        try {
          cv.findTransformECC(
            template,
            now,
            warp,
            cv.MOTION_HOMOGRAPHY,
            new cv.TermCriteria(cv.TermCriteria_EPS + cv.TermCriteria_COUNT, 40, 1e-5),
            mask,
            5,
          );
          maps.set(frame, toOurs(compose([...warp.data32F], invert(translation(left, top))!)));
        } catch {
          break; // It does not converge any more: the rest is lost.
        } finally {
          release(now);
        }
      }
      release(whole, template, warp, mask);
    });
