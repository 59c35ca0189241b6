import { clamp } from '../../base/geometry/clamp.ts';
import type { Point } from '../../base/geometry/homography.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';

/** Shares of pixels, 0…1, over the pixels of a box, row after row. */
export interface MattePlane {
  readonly box: PixelBox;
  readonly data: Float32Array;
}

export function emptyMatte(box: PixelBox, value = 0): MattePlane {
  const data = new Float32Array((box.right - box.left) * (box.bottom - box.top));
  return { box, data: value === 0 ? data : data.fill(value) };
}

/**
 * The exact share of each pixel that closed polygons cover (pixels are unit squares, coordinates continuous). Where
 * polygons lie over each other, or themselves twice the same way round, it counts once; a part that is gone round both ways
 * is left free. Signed areas left of each edge are gathered by rows, then summed along the row.
 * Source: E. Catmull, A hidden-surface algorithm with anti-aliasing, SIGGRAPH 1978 (coverage by exact area); gathering as in the
 * accumulation of R. Levien's font rasteriser, 2016.
 */
export function coverageOf(polygons: readonly (readonly Point[])[], box: PixelBox): MattePlane {
  return gatheredCoverage(polygons, box, 1);
}

/** The mean of what each of the outlines of one thing at several moments covers; each goes round the same way. As `coverageOf`, in one pass. */
export function meanCoverage(outlines: readonly (readonly Point[])[], box: PixelBox): MattePlane {
  return gatheredCoverage(outlines, box, 1 / outlines.length);
}

/** What edges change, gathered; all 0 between uses. */
let room = new Float32Array(0);

function gatheredCoverage(polygons: readonly (readonly Point[])[], box: PixelBox, part: number): MattePlane {
  const width = box.right - box.left;
  const height = box.bottom - box.top;
  // One more column takes what lies right of the box.
  if (room.length < (width + 2) * height) room = new Float32Array((width + 2) * height);
  const gathered = room;
  const out = new Float32Array(width * height);
  for (const polygon of polygons) {
    polygon.forEach((from, i) => {
      const to = polygon[(i + 1) % polygon.length]!;
      addEdge(gathered, width, height, from[0] - box.left, from[1] - box.top, to[0] - box.left, to[1] - box.top);
    });
  }
  for (let row = 0; row < height; row++) {
    let sum = 0;
    let value = 0;
    for (let col = 0, from = row * (width + 2), to = row * width; col < width; col++, from++, to++) {
      const change = gathered[from]!;
      if (change !== 0) {
        gathered[from] = 0;
        sum += change;
        const share = (sum < 0 ? -sum : sum) * part;
        value = share > 1 ? 1 : share < 1e-6 ? 0 : share;
      }
      if (value > 0) out[to] = value;
    }
    gathered.fill(0, row * (width + 2) + width, (row + 1) * (width + 2));
  }
  return { box, data: out };
}

/** Adds what an edge changes of the coverage of each pixel against that of the one before it in the row. */
function addEdge(
  gathered: Float32Array,
  width: number,
  height: number,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
): void {
  if (y0 === y1) return;
  // Beyond the sides an edge counts as if it ran along them: one that crosses a side is taken in two pieces.
  for (const side of [0, width]) {
    if ((x0 < side && x1 > side) || (x0 > side && x1 < side)) {
      const y = y0 + ((side - x0) * (y1 - y0)) / (x1 - x0);
      addEdge(gathered, width, height, x0, y0, side, y);
      addEdge(gathered, width, height, side, y, x1, y1);
      return;
    }
  }
  const down = y0 < y1 ? 1 : -1;
  if (down < 0) [x0, y0, x1, y1] = [x1, y1, x0, y0];
  const slope = (x1 - x0) / (y1 - y0);
  const first = Math.max(0, Math.floor(y0));
  const last = Math.min(height - 1, Math.ceil(y1) - 1);
  for (let row = first; row <= last; row++) {
    const top = Math.max(row, y0);
    const bottom = Math.min(row + 1, y1);
    const cover = down * (bottom - top);
    let a = x0 + (top - y0) * slope;
    let b = x0 + (bottom - y0) * slope;
    if (a > b) [a, b] = [b, a];
    a = clamp(a, 0, width);
    b = clamp(b, 0, width);
    const line = row * (width + 2);
    const left = Math.floor(a);
    const right = Math.ceil(b);
    if (right <= left + 1) {
      const share = cover * (left + 1 - (a + b) / 2);
      gathered[line + left]! += share;
      gathered[line + left + 1]! += cover - share;
      continue;
    }
    // Of each column passed: the area right of the edge that was not yet counted.
    const perColumn = cover / (b - a);
    const inFirst = left + 1 - a;
    let before = 0.5 * perColumn * inFirst * inFirst;
    gathered[line + left]! += before;
    for (let col = left + 1; col < right - 1; col++) {
      const upTo = perColumn * (col + 0.5 - a);
      gathered[line + col]! += upTo - before;
      before = upTo;
    }
    const inLast = b - (right - 1);
    const upTo = cover - 0.5 * perColumn * inLast * inLast;
    gathered[line + right - 1]! += upTo - before;
    gathered[line + right]! += cover - upTo;
  }
}
