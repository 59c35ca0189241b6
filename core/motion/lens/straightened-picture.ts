import { clamp } from '../../base/geometry/clamp.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { bend, straighten, type Lens } from './lens.ts';

/** Most that a straightened picture is larger than the plate, along each side: a strong barrel would need a picture without end. */
const LARGEST = 1.5;
/** Steps along each side of the plate's bent border. */
const SIDE_STEPS = 24;

/**
 * Where the pixels of a plate lie once its lens is taken out: a picture large enough for all of it, its pixel (x, y) at the straight place (x + left, y + top).
 */
export class StraightenedPicture {
  readonly width: number;
  readonly height: number;
  readonly left: number;
  readonly top: number;
  /** Of each pixel where it is filmed, sample indices of the plate; NaN where it is not. */
  private readonly places: Float32Array;

  constructor(
    readonly lens: Lens,
    readonly plateWidth: number,
    readonly plateHeight: number,
  ) {
    const rim: Point[] = [];
    for (let i = 0; i <= 32; i++) {
      const x = (plateWidth * i) / 32;
      const y = (plateHeight * i) / 32;
      rim.push([x, 0], [x, plateHeight], [0, y], [plateWidth, y]);
    }
    const straight = rim.map((p) => straighten(lens, p)).filter(([x, y]) => Number.isFinite(x) && Number.isFinite(y));
    const xs = straight.map((p) => p[0]);
    const ys = straight.map((p) => p[1]);
    const moreX = (plateWidth * (LARGEST - 1)) / 2;
    const moreY = (plateHeight * (LARGEST - 1)) / 2;
    this.left = Math.floor(Math.max(-moreX, Math.min(0, ...xs)));
    this.top = Math.floor(Math.max(-moreY, Math.min(0, ...ys)));
    this.width = Math.ceil(Math.min(plateWidth + moreX, Math.max(plateWidth, ...xs))) - this.left;
    this.height = Math.ceil(Math.min(plateHeight + moreY, Math.max(plateHeight, ...ys))) - this.top;
    this.places = new Float32Array(2 * this.width * this.height);
    for (let row = 0, at = 0; row < this.height; row++)
      for (let col = 0; col < this.width; col++, at += 2) {
        const [x, y] = bend(lens, [col + 0.5 + this.left, row + 0.5 + this.top]);
        const inside = x >= 0 && y >= 0 && x <= plateWidth && y <= plateHeight;
        this.places[at] = inside ? x - 0.5 : NaN;
        this.places[at + 1] = inside ? y - 0.5 : NaN;
      }
  }

  /** A filmed point, in pixels of the straightened picture. */
  toStraight(p: Point): [number, number] {
    const [x, y] = straighten(this.lens, p);
    return [x - this.left, y - this.top];
  }

  toFilmed([x, y]: Point): [number, number] {
    return bend(this.lens, [x + this.left, y + this.top]);
  }

  /** What of the straightened picture was not filmed: polygons outside the plate's bent border, in its pixels. None where the plate fills it. */
  unfilmed(): Point[][] {
    const { plateWidth: w, plateHeight: h, width, height } = this;
    const at = (x: number, y: number) => this.toStraight([x, y]);
    const along = (of: (part: number) => Point) => Array.from({ length: SIDE_STEPS + 1 }, (_, i) => of(i / SIDE_STEPS));
    const inside = 1;
    const sides: { rim: Point[]; out: Point[] }[] = [
      {
        rim: along((p) => at(inside + p * (w - 2 * inside), inside)),
        out: [
          [width, 0],
          [0, 0],
        ],
      },
      {
        rim: along((p) => at(w - inside, inside + p * (h - 2 * inside))),
        out: [
          [width, height],
          [width, 0],
        ],
      },
      {
        rim: along((p) => at(w - inside - p * (w - 2 * inside), h - inside)),
        out: [
          [0, height],
          [width, height],
        ],
      },
      {
        rim: along((p) => at(inside, h - inside - p * (h - 2 * inside))),
        out: [
          [0, 0],
          [0, height],
        ],
      },
    ];
    return sides
      .filter(({ rim }) => rim.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y)))
      .map(({ rim, out }) => [...rim, ...out]);
  }

  /** The luma of a frame, straightened: cubic convolution (R. Keys, 1981, a = −0.5). What was not filmed is black (`unfilmed`). */
  luma(frame: LumaFrame): LumaFrame {
    const { width, height, places } = this;
    const { codes, peak, width: w, height: h } = frame;
    const out = peak === 255 ? new Uint8Array(width * height) : new Uint16Array(width * height);
    if (w !== this.plateWidth || h !== this.plateHeight)
      throw new RangeError(`a frame of ${w}×${h} for a lens of ${this.plateWidth}×${this.plateHeight}`);
    for (let i = 0, at = 0; i < out.length; i++, at += 2) {
      const x = places[at]!;
      const y = places[at + 1]!;
      if (x !== x) continue;
      const x0 = Math.floor(x);
      const y0 = Math.floor(y);
      const fx = x - x0;
      const fy = y - y0;
      if (x0 >= 1 && y0 >= 1 && x0 + 2 < w && y0 + 2 < h) {
        const k = (y0 - 1) * w + x0 - 1;
        const fx2 = fx * fx;
        const fx3 = fx2 * fx;
        const a = -0.5 * fx3 + fx2 - 0.5 * fx;
        const b = 1.5 * fx3 - 2.5 * fx2 + 1;
        const c = -1.5 * fx3 + 2 * fx2 + 0.5 * fx;
        const d = 0.5 * fx3 - 0.5 * fx2;
        const fy2 = fy * fy;
        const fy3 = fy2 * fy;
        const line = (n: number) => a * codes[n]! + b * codes[n + 1]! + c * codes[n + 2]! + d * codes[n + 3]!;
        const v =
          (-0.5 * fy3 + fy2 - 0.5 * fy) * line(k) +
          (1.5 * fy3 - 2.5 * fy2 + 1) * line(k + w) +
          (-1.5 * fy3 + 2 * fy2 + 0.5 * fy) * line(k + 2 * w) +
          (0.5 * fy3 - 0.5 * fy2) * line(k + 3 * w);
        out[i] = v < 0 ? 0 : v > peak ? peak : Math.round(v);
      } else out[i] = codes[clamp(Math.round(y), 0, h - 1) * w + clamp(Math.round(x), 0, w - 1)]!;
    }
    return { ...frame, width, height, codes: out };
  }
}
