import type { Plane } from '../../base/image/plane.ts';

/** A place that can be followed by itself, sample indices of the picture it was found in. */
export interface Corner {
  readonly x: number;
  readonly y: number;
  readonly strength: number;
}

/** Half the side of the window whose slopes are summed, samples. */
const HALF = 3;
/** Of the strongest corner: what is weaker is no corner anywhere; and of the strongest in its own cell. */
const WEAKEST = 0.0006;
const WEAKEST_OF_CELL = 0.08;
/** Slopes of noise: signal (root of light) per sample. */
const NOISE = 3e-5;

export interface CornerSearch {
  /** Cells along each side, and how many corners a cell may have; so that they are spread over the picture. */
  readonly across: number;
  readonly down: number;
  readonly each: number;
  /** Least distance from one to another and to those known, samples. */
  readonly apart: number;
  /** Not nearer to the border than this. */
  readonly margin: number;
  readonly known: readonly { readonly x: number; readonly y: number }[];
  /** Whether a place may be looked at. */
  readonly allowed: (x: number, y: number) => boolean;
}

/**
 * Corners spread over a picture: places where the weaker of the two slopes is strongest.
 * Source: J. Shi, C. Tomasi, Good features to track, CVPR 1994: the smaller eigenvalue of the structure tensor.
 */
export function findCorners({ width, height, data }: Plane, search: CornerSearch): Corner[] {
  const strength = cornerStrength(data, width, height);
  const { across, down, each, apart, margin, known, allowed } = search;
  const cells: Corner[][] = Array.from({ length: across * down }, () => []);
  let strongest = 0;
  for (const s of strength) if (s > strongest) strongest = s;
  const least = Math.max(NOISE, WEAKEST * strongest);
  const m = Math.max(margin, HALF + 1);
  for (let y = m; y < height - m; y++)
    for (let x = m; x < width - m; x++) {
      const i = y * width + x;
      const s = strength[i]!;
      if (
        s < least ||
        s < strength[i - 1]! ||
        s < strength[i + 1]! ||
        s <= strength[i - width]! ||
        s <= strength[i + width]! ||
        s <= strength[i - width - 1]! ||
        s <= strength[i - width + 1]! ||
        s < strength[i + width - 1]! ||
        s < strength[i + width + 1]!
      )
        continue;
      if (allowed(x, y))
        cells[Math.floor((y * down) / height) * across + Math.floor((x * across) / width)]!.push({ x, y, strength: s });
    }
  const taken = new Grid(width, height, apart);
  const out: Corner[] = [];
  const full = new Uint8Array(cells.length);
  for (const { x, y } of known) {
    taken.add(x, y);
    const cell = Math.floor((y * down) / height) * across + Math.floor((x * across) / width);
    if (cell >= 0 && cell < full.length) full[cell]!++;
  }
  cells.forEach((corners, cell) => {
    corners.sort((a, b) => b.strength - a.strength);
    for (const corner of corners) {
      if (full[cell]! >= each || corner.strength < WEAKEST_OF_CELL * corners[0]!.strength) break;
      if (taken.near(corner.x, corner.y)) continue;
      taken.add(corner.x, corner.y);
      full[cell]!++;
      out.push(corner);
    }
  });
  return out;
}

/** The smaller eigenvalue of the structure tensor, mean over a window, by sample. */
function cornerStrength(value: Float32Array, width: number, height: number): Float32Array {
  const side = 2 * HALF + 1;
  const xx = new Float32Array(width);
  const xy = new Float32Array(width);
  const yy = new Float32Array(width);
  const out = new Float32Array(width * height);
  // Columns' sums over the window's rows, kept up row by row.
  const row = (y: number, sign: number) => {
    if (y < 1 || y >= height - 1) return;
    for (let x = 1, i = y * width + 1; x < width - 1; x++, i++) {
      const gx = (value[i + 1]! - value[i - 1]!) / 2;
      const gy = (value[i + width]! - value[i - width]!) / 2;
      xx[x]! += sign * gx * gx;
      xy[x]! += sign * gx * gy;
      yy[x]! += sign * gy * gy;
    }
  };
  for (let y = 0; y < side; y++) row(y, 1);
  for (let y = HALF; y < height - HALF; y++) {
    if (y > HALF) {
      row(y + HALF, 1);
      row(y - HALF - 1, -1);
    }
    let a = 0;
    let b = 0;
    let c = 0;
    for (let x = 0; x < width; x++) {
      a += xx[x]!;
      b += xy[x]!;
      c += yy[x]!;
      if (x >= side) {
        a -= xx[x - side]!;
        b -= xy[x - side]!;
        c -= yy[x - side]!;
      }
      if (x >= side - 1)
        out[y * width + x - HALF] = Math.max(0, ((a + c) / 2 - Math.hypot((a - c) / 2, b)) / side ** 2);
    }
  }
  return out;
}

/** Places sorted into squares, so that neighbours are found quickly. */
class Grid {
  private readonly squares = new Map<number, [number, number][]>();
  private readonly across: number;

  constructor(
    width: number,
    _height: number,
    private readonly apart: number,
  ) {
    this.across = Math.ceil(width / apart) + 2;
  }

  add(x: number, y: number): void {
    const key = this.key(x, y);
    const square = this.squares.get(key);
    if (square) square.push([x, y]);
    else this.squares.set(key, [[x, y]]);
  }

  near(x: number, y: number): boolean {
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) {
        for (const [u, v] of this.squares.get(this.key(x + dx * this.apart, y + dy * this.apart)) ?? [])
          if ((u - x) ** 2 + (v - y) ** 2 < this.apart ** 2) return true;
      }
    return false;
  }

  private key(x: number, y: number): number {
    return Math.floor(y / this.apart) * this.across + Math.floor(x / this.apart);
  }
}
