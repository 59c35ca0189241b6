import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { FeatureTrack } from './feature-tracks.ts';

/**
 * A camera that reads its rows one after the other: a place on row y of frame f is filmed at f + rowTime·(y/height − ½), in frames; the middle row when the frame says.
 * Source: C.-K. Liang, L.-W. Chang, H. Chen, Analysis and compensation of rolling shutter effect, IEEE Trans. Image Processing 17(8), 2008.
 */
export interface RollingRows {
  /** From the first row to the last, of the time between two frames; negative where the picture is read from below. */
  readonly rowTime: number;
  /** Of the picture, px. */
  readonly height: number;
}

const ROUNDS = 6;

/** When a row is filmed, from when its frame is said to be, frames. */
export const rowsLate = ({ rowTime, height }: RollingRows, y: number): number => rowTime * (y / height - 0.5);

/** Tracks as a camera would see them that reads all rows at once: each place carried along its own track to the frame's own time, by the parabola through it and its neighbours. */
export function standingTracks(tracks: readonly FeatureTrack[], rows: RollingRows): FeatureTrack[] {
  return tracks.map((track) => {
    const n = track.xs.length;
    const times = track.ys.map((y, i) => i + rowsLate(rows, y));
    const xs: number[] = [];
    const ys: number[] = [];
    for (let i = 0; i < n; i++) {
      const from = Math.max(0, Math.min(n - 3, i - 1));
      const to = Math.min(n, from + 3);
      xs.push(through(times, track.xs, from, to, i));
      ys.push(through(times, track.ys, from, to, i));
    }
    return { first: track.first, xs, ys };
  });
}

/** Lagrange's polynomial through the samples `from`…`to` − 1, at a time. */
function through(times: readonly number[], values: readonly number[], from: number, to: number, time: number): number {
  let sum = 0;
  for (let k = from; k < to; k++) {
    let weight = 1;
    for (let j = from; j < to; j++) if (j !== k) weight *= (time - times[j]!) / (times[k]! - times[j]!);
    sum += weight * values[k]!;
  }
  return sum;
}

/** Places on three frames in a row, where the neighbours are known. */
export interface Thrice {
  readonly before: Point | null;
  readonly now: Point;
  readonly after: Point | null;
}

/** Where a place that stands at `now` is filmed, row by row. */
export function filmedByRows(rows: RollingRows, places: Thrice): Point {
  let at = places.now;
  for (let k = 0; k < ROUNDS; k++) at = placeAtTime(places, rowsLate(rows, at[1]));
  return at;
}

/** Where something is at a time from the middle frame's: along the parabola through all three, or the line through two. */
function placeAtTime({ before, now, after }: Thrice, t: number): Point {
  const of = (axis: 0 | 1) => {
    const v = now[axis];
    const b = before?.[axis];
    const a = after?.[axis];
    if (a !== undefined && b !== undefined) return v + (t * (a - b)) / 2 + t * t * ((a + b) / 2 - v);
    return v + t * (a !== undefined ? a - v : b !== undefined ? v - b : 0);
  };
  return [of(0), of(1)];
}

/** Corners as they are filmed, from where they stand on a frame and on its neighbours. */
export function filmedCorners(rows: RollingRows, before: Quad | null, now: Quad, after: Quad | null): Quad {
  return mapTuple(now, (p, i) =>
    filmedByRows(rows, { before: before?.[i] ?? null, now: p, after: after?.[i] ?? null }),
  );
}

/** Where corners that are filmed at `seen` stand at the frame's own time; `standingOn` tells, for corners that stand somewhere on it, where they stand on the frame before and the one after. */
export function standingCorners(
  rows: RollingRows,
  seen: Quad,
  standingOn: (now: Quad) => { before: Quad | null; after: Quad | null },
): Quad {
  let now = seen;
  for (let k = 0; k < ROUNDS; k++) {
    const { before, after } = standingOn(now);
    const filmed = filmedCorners(rows, before, now, after);
    now = mapTuple(now, (p, i): Point => [p[0] + seen[i]![0] - filmed[i]![0], p[1] + seen[i]![1] - filmed[i]![1]]);
  }
  return now;
}
