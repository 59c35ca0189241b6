import { clamp } from '../../base/geometry/clamp.ts';
import type { Plane } from '../../base/image/plane.ts';
import { windowCorrelation, windowSpread } from './window-statistics.ts';

/** How a piece of the picture has moved from one frame to the next. */
export interface TileMotion {
  /** Middle of the tile in the later frame, in samples of pyramid level 0. */
  x: number;
  y: number;
  /** Movement in pixels: the piece was at (x − dx, y − dy) in the earlier frame. */
  dx: number;
  dy: number;
  /** Correlation of the two pieces, −1…1. */
  correlation: number;
}

const TILES = { across: 8, down: 5 };
/** Half side of a tile, in samples of every level that is searched. */
const HALF = 10;
/** The search begins on this level, within this reach there. */
const TOP_LEVEL = 3;
const REACH = 12;
/** Correlation that a sample of distance costs on that level: of places that look alike, as in patterns, the nearest is taken. */
const FAR = 0.004;
/** Pieces whose codes spread less than this (standard deviation, 0…255) hold nothing to match. */
const FLAT = 3;

/**
 * Matches a grid of pieces of `later` in `earlier` (pyramids of one size, at least 4 levels where the picture
 * allows) by zero-mean normalised correlation: a search of ± 96 pixels on level 3, refined downward to level 1 with a
 * parabola at the end. Pieces without detail are left out.
 */
export function tileMotions(earlier: readonly Plane[], later: readonly Plane[]): TileMotion[] {
  const top = Math.min(TOP_LEVEL, later.length - 1);
  const { width, height } = later[0]!;
  const out: TileMotion[] = [];
  for (let row = 0; row < TILES.down; row++) {
    for (let col = 0; col < TILES.across; col++) {
      const x = ((col + 0.5) * width) / TILES.across;
      const y = ((row + 0.5) * height) / TILES.down;
      const motion = matchTile(earlier, later, x, y, top);
      if (motion) out.push(motion);
    }
  }
  return out;
}

function matchTile(
  earlier: readonly Plane[],
  later: readonly Plane[],
  x: number,
  y: number,
  top: number,
): TileMotion | null {
  let dx = 0;
  let dy = 0;
  for (let level = top; level >= Math.min(1, top); level--) {
    const scale = 1 << level;
    const from = earlier[level]!;
    const to = later[level]!;
    const px = clampMiddle(Math.round(x / scale), to.width);
    const py = clampMiddle(Math.round(y / scale), to.height);
    if (px === null || py === null) return null;
    if (level === top && windowSpread(to, px, py, HALF) < FLAT) return null;
    const reach = level === top ? REACH : 2;
    const startX = level === top ? 0 : 2 * dx;
    const startY = level === top ? 0 : 2 * dy;
    let best = -1;
    for (let v = -reach; v <= reach; v++) {
      for (let u = -reach; u <= reach; u++) {
        const score =
          windowCorrelation(to, px, py, from, px - startX - u, py - startY - v, HALF) -
          (level === top ? FAR * Math.hypot(u, v) : 0);
        if (score > best) [best, dx, dy] = [score, startX + u, startY + v];
      }
    }
    if (best <= -1) return null;
    if (level === Math.min(1, top)) {
      const at = (u: number, v: number) => windowCorrelation(to, px, py, from, px - dx - u, py - dy - v, HALF);
      return {
        x,
        y,
        dx: scale * (dx + vertex(at(-1, 0), best, at(1, 0))),
        dy: scale * (dy + vertex(at(0, -1), best, at(0, 1))),
        correlation: best,
      };
    }
  }
  return null;
}

function clampMiddle(value: number, size: number): number | null {
  return size < 2 * HALF + 1 ? null : clamp(value, HALF, size - HALF - 1);
}

/** Place of the top of the parabola through three values, −0.5…0.5. */
function vertex(before: number, here: number, after: number): number {
  const bend = before - 2 * here + after;
  return before > -1 && after > -1 && bend < 0 ? clamp((before - after) / (2 * bend), -0.5, 0.5) : 0;
}
