import { createRequire } from 'node:module';
import { createPlane, type Plane } from '../../core/base/image/plane.ts';

/** The reference vision library (OpenCV 4.12, its JavaScript build). Matrices are freed by hand: `release`. */
export interface Mat {
  rows: number;
  cols: number;
  data: Uint8Array;
  data32F: Float32Array;
  data64F: Float64Array;
  delete(): void;
}

export interface OpenCv {
  Mat: new (rows?: number, cols?: number, type?: number, value?: object) => Mat;
  MatVector: new () => { push_back(mat: Mat): void; delete(): void };
  matFromArray(rows: number, cols: number, type: number, values: readonly number[]): Mat;
  fillPoly(picture: Mat, outlines: object, colour: object, line: number, shift: number): void;
  Size: new (width: number, height: number) => object;
  Scalar: new (...values: number[]) => object;
  TermCriteria: new (type: number, count: number, epsilon: number) => object;
  CV_8UC1: number;
  CV_8UC4: number;
  CV_32FC1: number;
  CV_32FC2: number;
  CV_32SC2: number;
  CV_64FC1: number;
  INTER_LINEAR: number;
  INTER_CUBIC: number;
  INTER_LANCZOS4: number;
  BORDER_REFLECT_101: number;
  BORDER_REPLICATE: number;
  BORDER_CONSTANT: number;
  MOTION_TRANSLATION: number;
  MOTION_HOMOGRAPHY: number;
  TermCriteria_EPS: number;
  TermCriteria_COUNT: number;
  RANSAC: number;
  findHomography(from: Mat, to: Mat, method?: number, threshold?: number): Mat;
  getPerspectiveTransform(from: Mat, to: Mat): Mat;
  warpPerspective(from: Mat, to: Mat, h: Mat, size: object, flags: number, border: number, value?: object): void;
  pyrDown(from: Mat, to: Mat, size: object, border: number): void;
  GaussianBlur(from: Mat, to: Mat, size: object, sigmaX: number, sigmaY: number, border: number): void;
  findTransformECC(
    template: Mat,
    input: Mat,
    warp: Mat,
    motion: number,
    criteria: object,
    mask: Mat,
    gaussian: number,
  ): number;
  fitLine(points: Mat, line: Mat, distance: number, parameter: number, radius: number, angle: number): void;
  goodFeaturesToTrack(image: Mat, corners: Mat, count: number, quality: number, distance: number, mask: Mat): void;
  remap(from: Mat, to: Mat, mapX: Mat, mapY: Mat, flags: number, border: number, value?: object): void;
  calcOpticalFlowPyrLK(
    previous: Mat,
    next: Mat,
    from: Mat,
    to: Mat,
    status: Mat,
    error: Mat,
    window: object,
    levels: number,
    criteria: object,
  ): void;
}

let loaded: Promise<OpenCv> | null = null;

export function loadOpenCv(): Promise<OpenCv> {
  loaded ??= new Promise((resolve) => {
    // It hands itself to whoever awaits it, for ever: it must not be imported (imports are awaited), and a
    // promise must never be resolved with it as it is.
    const library = createRequire(import.meta.url)('@techstark/opencv-js') as Partial<OpenCv> & {
      then?: unknown;
      onRuntimeInitialized?: () => void;
    };
    delete library.then;
    if (library.Mat) resolve(library as OpenCv);
    else library.onRuntimeInitialized = () => resolve(library as OpenCv);
  });
  return loaded;
}

export function matFromPlane(cv: OpenCv, plane: Plane): Mat {
  const mat = new cv.Mat(plane.height, plane.width, cv.CV_32FC1);
  mat.data32F.set(plane.data);
  return mat;
}

export function planeFromMat(mat: Mat): Plane {
  const plane = createPlane(mat.cols, mat.rows);
  plane.data.set(mat.data32F);
  return plane;
}

export function matFromCodes(cv: OpenCv, codes: ArrayLike<number>, width: number, height: number): Mat {
  const mat = new cv.Mat(height, width, cv.CV_8UC1);
  mat.data.set(codes);
  return mat;
}

/** Points as an n×1 matrix of coordinate pairs. */
export function matFromPoints(cv: OpenCv, points: readonly (readonly [number, number])[]): Mat {
  const mat = new cv.Mat(points.length, 1, cv.CV_32FC2);
  mat.data32F.set(points.flat());
  return mat;
}

export function matFromHomography(cv: OpenCv, h: readonly number[]): Mat {
  const mat = new cv.Mat(3, 3, cv.CV_64FC1);
  mat.data64F.set(h);
  return mat;
}

export function release(...mats: Mat[]): void {
  for (const mat of mats) mat.delete();
}
