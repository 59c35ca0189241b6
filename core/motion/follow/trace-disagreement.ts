import { contours } from 'd3-contour';
import simplify from 'simplify-js';
import { signedArea } from '../../base/geometry/quad.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { smoothed, smoothShares, type Disagreement } from './disagreement.ts';

/** Places where at least this share disagrees are kept out. */
const KEPT_OUT_FROM = 0.4;
/** Smaller places, in squares, are not worth an outline; nor are more than so many. */
const LEAST_SQUARES = 10;
const MOST_OUTLINES = 6;
/** Outlines are drawn with so few points that they are off by no more than this many squares. */
const OFF = 1.2;

/**
 * Outlines (reference pixels) around what disagrees, the largest first; none where nothing does. They pass through the
 * places where the smoothed share is KEPT_OUT_FROM (marching squares), so they reach a little beyond what disagrees.
 */
export function traceDisagreement(seen: Disagreement): [number, number][][] {
  const { columns, cell, left, top } = seen;
  const rows = seen.cells.length / columns;
  // A border of zeros, so that what reaches the region's edge is closed there.
  const wide = columns + 2;
  const shares = smoothed(smoothShares(seen), columns);
  const padded = new Array<number>(wide * (rows + 2)).fill(0);
  shares.forEach((share, at) => (padded[(Math.floor(at / columns) + 1) * wide + (at % columns) + 1] = share));
  const shapes = contours()
    .size([wide, rows + 2])
    .contour(padded, KEPT_OUT_FROM)
    .coordinates.map(([ring]) => ring!.map(([x, y]): Point => [left + (x! - 1) * cell, top + (y! - 1) * cell]));
  return shapes
    .map((ring) => ({ ring, area: Math.abs(signedArea(ring)) }))
    .filter(({ area }) => area >= LEAST_SQUARES * cell * cell)
    .sort((a, b) => b.area - a.area)
    .slice(0, MOST_OUTLINES)
    .map(({ ring }) =>
      simplify(
        ring.slice(0, -1).map(([x, y]) => ({ x, y })),
        OFF * cell,
        true,
      ).map(({ x, y }): [number, number] => [Math.round(x * 10) / 10, Math.round(y * 10) / 10]),
    );
}
