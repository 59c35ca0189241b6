import { flattened } from '../../core/picture/matte/roto-shapes.ts';
import { stMap } from '../../core/handoff/exchange/st-map.ts';
import { invert } from '../../core/base/geometry/homography.ts';
import { UNIT_SQUARE } from '../../core/base/geometry/quad.ts';
import { BLOB, BLURRED, borderPlaces, GRID, HALVED, LAID, noisyGrid, PINNED } from './golden-cases.ts';
import { H } from '../../core/test/kernel-rounds.ts';
import { wavePlane } from '../../core/test/planes.ts';
import {
  matFromCodes,
  matFromHomography,
  matFromPlane,
  matFromPoints,
  release,
  type Mat,
  type OpenCv,
} from './opencv.ts';

/** What the library makes of a picture: the samples of the one that it fills. */
function filtered(cv: OpenCv, from: Mat, into: (from: Mat, to: Mat) => void): number[] {
  const to = new cv.Mat();
  into(from, to);
  const values = [...to.data32F];
  release(from, to);
  return values;
}

/** OpenCV, remap with INTER_CUBIC through our map of a surface's content: red, green and blue one after the other. */
function laidByMap(cv: OpenCv): number[] {
  const { plate, corners } = LAID;
  const content = LAID.content();
  const map = stMap(corners, plate);
  const floats = (values: Float32Array, scale: number): Mat => {
    const mat = new cv.Mat(plate.height, plate.width, cv.CV_32FC1);
    // The library counts pixel centres from 0.
    mat.data32F.set(values.map((v) => v * scale - 0.5));
    return mat;
  };
  const [x, y] = [floats(map.s, content.width), floats(map.t, content.height)];
  const values = [0, 1, 2].flatMap((c) => {
    const codes = content.data.filter((_, i) => i % 4 === c);
    const from = matFromCodes(cv, codes, content.width, content.height);
    const to = new cv.Mat(plate.height, plate.width, cv.CV_8UC1);
    cv.remap(from, to, x, y, cv.INTER_CUBIC, cv.BORDER_REPLICATE);
    const channel = [...to.data];
    release(from, to);
    return channel;
  });
  release(x, y);
  return values;
}

/** OpenCV, fillPoly at 16 times the size: how much of each pixel is covered. */
function coverage(cv: OpenCv): number[] {
  const fine = 16;
  const { width, height } = BLOB;
  const { points } = flattened(
    BLOB.points,
    BLOB.handles,
    () => [0, 0],
    (p) => p,
  );
  // Sixteenths of a pixel of the picture are whole pixels there, whose centres lie half a pixel in.
  const big = new cv.Mat(height * fine, width * fine, cv.CV_8UC1, new cv.Scalar(0));
  const list = new cv.MatVector();
  const outline = cv.matFromArray(
    points.length,
    1,
    cv.CV_32SC2,
    points.flatMap(([x, y]) => [Math.round(x * fine * 16 - 8), Math.round(y * fine * 16 - 8)]),
  );
  list.push_back(outline);
  cv.fillPoly(big, list, new cv.Scalar(255), 8, 4);
  const covered = new Array<number>(width * height).fill(0);
  big.data.forEach((code, i) => {
    const [row, col] = [Math.floor(i / (width * fine)), i % (width * fine)];
    covered[Math.floor(row / fine) * width + Math.floor(col / fine)]! += code / 255 / fine ** 2;
  });
  release(big, outline);
  list.delete();
  return covered;
}

/** The library's answers by the names under which tests ask for them. */
export const ANSWERS: Record<string, (cv: OpenCv) => number[]> = {
  // findHomography, method 0: least squares over all points.
  'homography-of-noisy-grid': (cv) => {
    const [from, to] = [matFromPoints(cv, GRID), matFromPoints(cv, noisyGrid())];
    const found = cv.findHomography(from, to);
    const values = [...found.data64F];
    release(from, to, found);
    return values;
  },
  // getPerspectiveTransform.
  'homography-of-pin': (cv) => {
    const [from, to] = [matFromPoints(cv, UNIT_SQUARE), matFromPoints(cv, PINNED)];
    const found = cv.getPerspectiveTransform(from, to);
    const values = [...found.data64F];
    release(from, to, found);
    return values;
  },
  // GaussianBlur with a kernel as long as ours and repeated borders.
  ...Object.fromEntries(
    BLURRED.sigmas.map((sigma) => [
      `blur-${sigma}`,
      (cv: OpenCv) =>
        filtered(cv, matFromPlane(cv, BLURRED.plane()), (from, to) => {
          const side = 2 * Math.ceil(4 * sigma) + 1;
          cv.GaussianBlur(from, to, new cv.Size(side, side), sigma, sigma, cv.BORDER_REPLICATE);
        }),
    ]),
  ),
  // pyrDown with BORDER_REFLECT_101: the same 1-4-6-4-1.
  ...Object.fromEntries(
    HALVED.sizes.map(([width, height]) => [
      `half-of-${width}x${height}`,
      (cv: OpenCv) =>
        filtered(cv, matFromPlane(cv, HALVED.plane(width, height)), (from, to) =>
          cv.pyrDown(from, to, new cv.Size(0, 0), cv.BORDER_REFLECT_101),
        ),
    ]),
  ),
  // warpPerspective; it takes the inverse map and rounds coordinates to 1/32 px.
  'warped-waves': (cv) => {
    const map = matFromHomography(cv, invert(H)!);
    const values = filtered(cv, matFromPlane(cv, wavePlane(80, 60)), (from, to) =>
      cv.warpPerspective(from, to, map, new cv.Size(80, 60), cv.INTER_LANCZOS4, cv.BORDER_CONSTANT, new cv.Scalar(0)),
    );
    release(map);
    return values;
  },
  // fitLine, DIST_WELSCH (6), with t stretched so that distances are about those across: its direction, and a point on it.
  'line-through-strays': (cv) => {
    const points = matFromPoints(
      cv,
      borderPlaces().map(({ t, place }) => [1000 * t, place] as const),
    );
    const line = new cv.Mat();
    cv.fitLine(points, line, 6, 0.2, 0.01, 0.0001);
    const values = [...line.data32F];
    release(points, line);
    return values;
  },
  'outline-of-curves': coverage,
  'laid-by-st-map': laidByMap,
};
