import { loadOpenCv, type Mat, type OpenCv } from './opencv.ts';
import type { Point } from '../../core/base/geometry/homography.ts';

/** What the library has besides what opencv.ts tells of it. */
export interface Arithmetic extends OpenCv {
  CV_32FC3: number;
  CV_32FC4: number;
  CV_8UC3: number;
  INTER_AREA: number;
  DIST_L2: number;
  CMP_GT: number;
  MatVector: new () => { push_back(mat: Mat): void; delete(): void; get(i: number): Mat };
  LUT(from: Mat, table: Mat, to: Mat): void;
  split(from: Mat, to: object): void;
  merge(from: object, to: Mat): void;
  add(a: Mat, b: Mat, to: Mat): void;
  subtract(a: Mat, b: Mat, to: Mat): void;
  multiply(a: Mat, b: Mat, to: Mat, scale?: number): void;
  divide(a: Mat, b: Mat, to: Mat, scale?: number): void;
  addWeighted(a: Mat, alpha: number, b: Mat, beta: number, gamma: number, to: Mat): void;
  max(a: Mat, b: Mat, to: Mat): void;
  min(a: Mat, b: Mat, to: Mat): void;
  pow(a: Mat, power: number, to: Mat): void;
  erode(from: Mat, to: Mat, kernel: Mat): void;
  resize(from: Mat, to: Mat, size: object, fx: number, fy: number, how: number): void;
  blur(from: Mat, to: Mat, size: object): void;
  threshold(from: Mat, to: Mat, at: number, top: number, type: number): number;
  distanceTransform(from: Mat, to: Mat, kind: number, mask: number): void;
  absdiff(a: Mat, b: Mat, to: Mat): void;
  dilate(from: Mat, to: Mat, kernel: Mat): void;
  sqrt(from: Mat, to: Mat): void;
  inRange(from: Mat, low: Mat, high: Mat, to: Mat): void;
  bitwise_and(a: Mat, b: Mat, to: Mat): void;
  THRESH_BINARY: number;
  THRESH_TRUNC: number;
  THRESH_TOZERO: number;
}
export type AnyMat = Mat & {
  convertTo(to: Mat, type: number, scale?: number, offset?: number): void;
  roi(rect: object): AnyMat;
  setTo(value: object): void;
  copyTo(to: Mat, where?: Mat): void;
  clone(): AnyMat;
};

/** Matrices of the library over one box of the picture, all freed together. */
export class LibraryRoom {
  private readonly made: { delete(): void }[] = [];
  private constructor(readonly cv: Arithmetic) {}

  static async open(): Promise<LibraryRoom> {
    return new LibraryRoom((await loadOpenCv()) as Arithmetic);
  }

  keep<T extends { delete(): void }>(one: T): T {
    this.made.push(one);
    return one;
  }

  /** An empty matrix that a function fills. */
  out(): AnyMat {
    return this.keep(new this.cv.Mat()) as AnyMat;
  }

  /** A matrix of a kind, every number of it set. */
  filled(rows: number, cols: number, type: number, value = 0): AnyMat {
    const mat = this.keep(new this.cv.Mat(rows, cols, type)) as AnyMat;
    mat.setTo(new this.cv.Scalar(value, value, value, value));
    return mat;
  }

  /** Fills a polygon, in picture coordinates of a box whose corner is (left, top), at a sixteenth of a pixel. */
  fill(onto: Mat, points: readonly Point[], value: number, { x: left, y: top }: { x: number; y: number }): void {
    const list = this.keep(new this.cv.MatVector());
    const outline = this.keep(
      this.cv.matFromArray(
        points.length,
        1,
        this.cv.CV_32SC2,
        points.flatMap(([x, y]) => [Math.round((x - left - 0.5) * 16), Math.round((y - top - 0.5) * 16)]),
      ),
    );
    list.push_back(outline);
    this.cv.fillPoly(onto, list, new this.cv.Scalar(value), 8, 4);
  }

  planes(m: Mat, n: number): AnyMat[] {
    const list = this.keep(new this.cv.MatVector());
    this.cv.split(m, list);
    return Array.from({ length: n }, (_, i) => this.keep(list.get(i)) as AnyMat);
  }

  free(): void {
    for (const one of this.made.splice(0).reverse()) one.delete();
  }
}
