import { beforeAll, describe, expect, test } from 'vitest';
import { IDENTITY } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { lightWindow } from '../../core/motion/points/light-window.ts';
import { takePatch } from '../../core/motion/points/patch.ts';
import { correlationMap } from '../../core/motion/points/search-patch.ts';
import { cornersOfPose, posesOfQuad, surfaceCorners, type SurfaceCamera } from '../../core/motion/pose/plane-pose.ts';
import { rotationFromVector, vectorFromRotation, type Vector3 } from '../../core/motion/pose/rotation.ts';
import { movingFrame } from '../../core/test/moving-plate.ts';
import { BOARD_ACROSS, boardCorners, CHESSBOARD_VIEWS } from '../reference/chessboard-views.ts';
import chessboards from '../../core/test/chessboard-corners.json' with { type: 'json' };
import { loadOpenCv, release, type Mat, type OpenCv } from '../reference/opencv.ts';
import { cornerPoints, drawnFrames, offTruth, runPoints, screenAt } from './drawn-corners.ts';
import { followByLk } from './library-lk.ts';

/** What the tests here ask the library for besides. */
interface Library extends OpenCv {
  TM_CCOEFF_NORMED: number;
  CV_64FC3: number;
  matFromArray(rows: number, cols: number, type: number, values: readonly number[]): Mat;
  matchTemplate(image: Mat, template: Mat, result: Mat, method: number): void;
  solvePnP(object: Mat, image: Mat, camera: Mat, distortion: Mat, turn: Mat, place: Mat): boolean;
}
let cv: Library;
beforeAll(async () => {
  cv = (await loadOpenCv()) as Library;
});

// OpenCV 4.12, matchTemplate with TM_CCOEFF_NORMED: the zero-mean normalised cross-correlation.
test("correlations are the library's, to its single precision", () => {
  const frame = movingFrame({ width: 90, height: 80, velocity: () => [0, 0], shutter: 0, noise: 1, seed: 7 }, 0);
  const window = lightWindow(frame, { left: 0, top: 0, right: 90, bottom: 80 })!;
  const patch = takePatch(frame, [45.5, 40.5], [13, 13])!;
  const ours = correlationMap(patch, IDENTITY, [0, 0], window, [45.5, 40.5], [15, 12])!;
  const roots = Array.from(window.data, (v) => Math.sqrt(v + 0.005));
  const image = cv.matFromArray(80, 90, cv.CV_32FC1, roots);
  const template = cv.matFromArray(
    13,
    13,
    cv.CV_32FC1,
    Array.from({ length: 169 }, (_, i) => roots[(34 + Math.floor(i / 13)) * 90 + 39 + (i % 13)]!),
  );
  const theirs = new cv.Mat();
  cv.matchTemplate(image, template, theirs, cv.TM_CCOEFF_NORMED);
  let worst = 0;
  for (let j = -12; j <= 12; j++)
    for (let i = -15; i <= 15; i++)
      worst = Math.max(
        worst,
        Math.abs(ours.scores[(j + 12) * 31 + i + 15]! - theirs.data32F[(34 + j) * theirs.cols + 39 + i]!),
      );
  release(image, template, theirs);
  expect(ours.scores[12 * 31 + 15]).toBeCloseTo(1, 4);
  expect(worst).toBeLessThan(2e-3);
});

describe("a quad's pose", () => {
  function solved(
    object: readonly (readonly number[])[],
    image: readonly (readonly number[])[],
    { focal, cx, cy }: SurfaceCamera,
  ): { turn: Vector3; place: Vector3 } {
    const mats = [
      cv.matFromArray(object.length, 1, cv.CV_64FC3, object.flat()),
      cv.matFromArray(image.length, 2, cv.CV_64FC1, image.flat()),
      cv.matFromArray(3, 3, cv.CV_64FC1, [focal, 0, cx, 0, focal, cy, 0, 0, 1]),
      cv.matFromArray(4, 1, cv.CV_64FC1, [0, 0, 0, 0]),
      new cv.Mat(),
      new cv.Mat(),
    ] as const;
    cv.solvePnP(...mats);
    const out = { turn: [...mats[4].data64F] as unknown as Vector3, place: [...mats[5].data64F] as unknown as Vector3 };
    release(...mats);
    return out;
  }
  const onPlane = (quad: Quad) => quad.map(([x, y]) => [x, y, 0]);

  // OpenCV 4.12, solvePnP (iterative: least squares of the distances in the picture).
  test('is that of solvePnP, for exact corners and for corners that are off', () => {
    const camera: SurfaceCamera = { focal: 850, cx: 480, cy: 270, ratio: 1.5 };
    for (const [turn, noise] of [
      [[0.5, 0.3, 0.2], 0],
      [[-0.4, 0.7, 1.4], 0],
      [[0.6, -0.5, 2.8], 0.8],
    ] as const) {
      const quad = cornersOfPose({ rotation: rotationFromVector(turn), position: [0.2, -0.1, 3.5] }, camera)!.map(
        ([x, y], i) => [x + noise * Math.sin(5 * i), y + noise * Math.cos(7 * i)],
      ) as unknown as Quad;
      const theirs = solved(onPlane(surfaceCorners(1.5)), quad, camera);
      const near = posesOfQuad(quad, camera).map(({ pose }) =>
        Math.hypot(
          ...vectorFromRotation(pose.rotation).map((v, k) => v - theirs.turn[k]!),
          ...pose.position.map((v, k) => v - theirs.place[k]!),
        ),
      );
      expect(Math.min(...near)).toBeLessThan(1e-4);
      if (noise === 0) expect(near[0]).toBeLessThan(1e-4);
    }
  });
  // Debian's opencv-doc: chessboard views, with the camera calibrated from them (left_intrinsics.yml); a board of 8×5 squares between its outer corners.
  test('of the published chessboard views it is that of solvePnP with the published camera', () => {
    const [fx, , cx, , , cy] = (chessboards as { camera: number[] }).camera as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const camera: SurfaceCamera = { focal: fx, cx: cx + 0.5, cy: cy + 0.5, ratio: (BOARD_ACROSS - 1) / 5 };
    for (const name of CHESSBOARD_VIEWS) {
      const at = boardCorners(name);
      const quad = [at[0]!, at[BOARD_ACROSS - 1]!, at.at(-1)!, at.at(-BOARD_ACROSS)!] as unknown as Quad;
      const theirs = solved(onPlane(surfaceCorners(camera.ratio)), quad, camera);
      const found = posesOfQuad(quad, camera);
      expect(found[0]!.rms).toBeLessThan(1.5);
      expect(
        Math.min(
          ...found.map(
            ({ pose }) => Math.hypot(...pose.position.map((v, k) => v - theirs.place[k]!)) / theirs.place[2],
          ),
        ),
      ).toBeLessThan(1e-3);
    }
  });
});

test("four points come nearer to the truth than the library's pyramidal Lucas–Kanade with the same boxes", async () => {
  const frames = drawnFrames(10);
  const points = cornerPoints(0);
  const { found } = await runPoints(frames, { points });
  const theirs = followByLk(
    cv,
    frames,
    0,
    points.map((p) => p.at),
    { pattern: 27, search: 61 },
  );
  const ours = [...found.values()].flatMap(offTruth);
  const lk = [...found.keys()].flatMap((f) =>
    theirs
      .get(f)!
      .map((p, i) => (p ? Math.min(20, Math.hypot(p[0] - screenAt(f)[i]![0], p[1] - screenAt(f)[i]![1])) : 20)),
  );
  expect(ours.reduce((a, b) => a + b, 0)).toBeLessThan(0.5 * lk.reduce((a, b) => a + b, 0));
});
