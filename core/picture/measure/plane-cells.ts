import { applyToPoint } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import { unitToPicture } from '../pin/measured-shot.ts';

/** Places on the surface's plane, in its own unit square and beyond, that are looked at on every frame. */
export interface PlaneCells {
  readonly u: Float32Array;
  readonly v: Float32Array;
  /** Whether a place lies on the screen, rather than around it. */
  readonly inside: Uint8Array;
}

/** Nearer to the screen's border than this, in its widths, nothing is looked at, within and beyond it (its frame may be narrow); and so far around it. */
const BORDER = 0.03;
const BEYOND = 0.014;
const AROUND = 0.3;
const ACROSS = 64;

/** Places on an even grid over the surface and around it. */
export function planeCells(ratio: number): PlaneCells {
  const u: number[] = [];
  const v: number[] = [];
  const inside: number[] = [];
  const step = (1 + 2 * AROUND) / ACROSS;
  for (let y = -AROUND * ratio; y < 1 + AROUND * ratio; y += step * ratio) {
    for (let x = -AROUND; x < 1 + AROUND; x += step) {
      const within = x > BORDER && x < 1 - BORDER && y > BORDER * ratio && y < 1 - BORDER * ratio;
      const beyond = x < -BEYOND || x > 1 + BEYOND || y < -BEYOND * ratio || y > 1 + BEYOND * ratio;
      if (!within && !beyond) continue;
      u.push(x);
      v.push(y);
      inside.push(within ? 1 : 0);
    }
  }
  return { u: Float32Array.from(u), v: Float32Array.from(v), inside: Uint8Array.from(inside) };
}

/** Half the side of the square of pixels that is averaged at a place. */
const HALF = 2;

/** Mean light at each place on a frame, three values each; −1 where it is not in the region. */
export function lightOfCells(
  { u, v }: PlaneCells,
  quad: Quad,
  { box, width, height, planes }: LightRegion,
): Float32Array {
  const out = new Float32Array(3 * u.length).fill(-1);
  const h = unitToPicture(quad);
  if (!h) return out;
  for (let i = 0; i < u.length; i++) {
    const [x, y] = applyToPoint(h, [u[i]!, v[i]!]);
    const col = Math.floor(x) - box.left;
    const row = Math.floor(y) - box.top;
    if (!(col >= HALF && row >= HALF && col < width - HALF && row < height - HALF)) continue;
    for (let c = 0; c < 3; c++) {
      const plane = planes[c as 0 | 1 | 2];
      let sum = 0;
      for (let dy = -HALF; dy <= HALF; dy++)
        for (let dx = -HALF, at = (row + dy) * width + col - HALF; dx <= HALF; dx++, at++) sum += plane[at]!;
      out[3 * i + c] = sum / (2 * HALF + 1) ** 2;
    }
  }
  return out;
}

/** Luminance (Rec. ITU-R BT.709-6, item 3.2) of a place; −1 where it was not seen. */
export function luminanceOf(cells: Float32Array, i: number): number {
  return cells[3 * i]! < 0 ? -1 : 0.2126 * cells[3 * i]! + 0.7152 * cells[3 * i + 1]! + 0.0722 * cells[3 * i + 2]!;
}
