import { clamp } from '../../base/geometry/clamp.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { distance } from '../../base/geometry/quad.ts';
import { blurPlane } from '../../base/filters/gaussian.ts';
import { buildPyramid } from '../../base/filters/pyramid.ts';
import type { Plane } from '../../base/image/plane.ts';
import { refineCrossing } from './refine-crossing.ts';
import { saddlePoints, type SaddlePoint } from './saddle-points.ts';

/** A crossing of a chessboard: which one, counted in squares from some crossing of the same board, and where it is seen, px. */
export interface ChessboardPoint {
  readonly square: Point;
  readonly at: Point;
}

/** Boards are looked for in pictures at most so wide, px; larger ones are halved for it. */
const WIDEST = 1500;
/** Fewer crossings than this, or a row of fewer, are no board. */
const FEWEST = 12;
const FEWEST_ACROSS = 3;
/** So many of the strongest places begin a board each, until one has most of all places. */
const SEEDS = 40;
/** A neighbour lies within this angle of the line, radians; and within this share of a step of where it is expected. */
const ASIDE = 0.35;
const OFF = 0.32;
/** The picture is smoothed by so much for the exact place, px (between pixels that are sharp nothing can be determined); half the window for it, of the way to the nearest neighbour; and its ends, px. */
const FINE = 0.8;
const WINDOW = 0.2;
const SMALLEST = 2.5;
const LARGEST = 14;

/**
 * The crossings of a chessboard in a picture (light, 0 to 1), however many squares it has, wholly seen or in part; null where there is none. From one crossing on, neighbours are looked for
 * along its lines, and from there where the last step leads; light and dark take turns. Seen through a bent lens steps change slowly, which is followed.
 * Source: the growing of a grid as in A. Geiger, F. Moosmann, Ö. Car, B. Schuster, Automatic camera and range sensor calibration using a single shot, 2012; its energy is not used.
 */
export function findChessboard(picture: Plane): ChessboardPoint[] | null {
  const levels = Math.max(1, 1 + Math.ceil(Math.log2(picture.width / WIDEST)));
  const pyramid = buildPyramid(picture, levels + 1);
  const fine = blurPlane(picture, FINE);
  let best: ChessboardPoint[] = [];
  // The coarsest first: a large board is steadier there; a small one shows only in the fine one.
  for (let level = pyramid.length - 1; level >= Math.max(0, levels - 1); level--) {
    const grown = largestGrid(saddlePoints(pyramid[level]!));
    const scale = 2 ** level;
    const offset = 0.5 * (1 - scale);
    const refined = exact(
      fine,
      grown.map(({ square, at }) => ({ square, at: [at[0] * scale + offset, at[1] * scale + offset] as Point })),
      scale,
    );
    if (refined.length > best.length) best = refined;
  }
  return isBoard(best) ? best : null;
}

function isBoard(points: readonly ChessboardPoint[]): boolean {
  const across = [0, 1].map((axis) => new Set(points.map(({ square }) => square[axis])).size);
  return points.length >= FEWEST && across.every((n) => n >= FEWEST_ACROSS);
}

function exact(picture: Plane, points: readonly ChessboardPoint[], scale: number): ChessboardPoint[] {
  const byPlace = new Map(points.map((point) => [point.square.join(), point]));
  return points.flatMap(({ square: [i, j], at }) => {
    const near = [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ].flatMap(([di, dj]) => {
      const next = byPlace.get([i + di!, j + dj!].join());
      return next ? [distance(next.at, at)] : [];
    });
    const half = clamp(WINDOW * Math.min(...near), SMALLEST, LARGEST * scale);
    const found = refineCrossing(picture, at, half);
    return found && distance(found, at) < 2.5 * scale ? [{ square: [i, j] as Point, at: found }] : [];
  });
}

function largestGrid(places: readonly SaddlePoint[]): ChessboardPoint[] {
  const near = new Neighbourhood(places);
  const taken = new Set<number>();
  let best: ChessboardPoint[] = [];
  for (let seed = 0, tried = 0; seed < places.length && tried < SEEDS; seed++) {
    if (taken.has(seed)) continue;
    tried++;
    const grid = growGrid(places, near, seed);
    for (const index of grid.values()) taken.add(index);
    pruneGrid(grid);
    if (grid.size > best.length)
      best = [...grid].map(([key, index]) => ({
        square: key.split(',').map(Number) as [number, number],
        at: places[index]!.at,
      }));
    if (best.length > 0.6 * places.length) break;
  }
  return best;
}

const STEPS = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
] as const;

/** Crossings by their square, "across,down", as far as they are reached from `seed`. */
function growGrid(places: readonly SaddlePoint[], near: Neighbourhood, seed: number): Map<string, number> {
  const grid = new Map<string, number>([['0,0', seed]]);
  const used = new Set([seed]);
  const queue: [number, number][] = [[0, 0]];
  const at = (i: number, j: number) => grid.get(`${i},${j}`);
  while (queue.length > 0) {
    const [i, j] = queue.shift()!;
    const from = at(i, j)!;
    STEPS.forEach(([di, dj], k) => {
      if (at(i + di, j + dj) !== undefined) return;
      const expected = expectedStep(places, at, i, j, di, dj) ?? null;
      const next = expected
        ? near.nearest(places[from]!, expected, used)
        : i === 0 && j === 0
          ? near.along(places[from]!, places[from]!.lines[k % 2]! + (k > 1 ? Math.PI : 0), used)
          : null;
      if (next === null) return;
      grid.set(`${i + di},${j + dj}`, next);
      used.add(next);
      queue.push([i + di, j + dj]);
    });
  }
  return grid;
}

/** Takes out what hangs on by one neighbour only: the board's edge against what is behind it may look like a crossing. */
function pruneGrid(grid: Map<string, number>): void {
  for (let before = -1; before !== grid.size;) {
    before = grid.size;
    for (const key of grid.keys()) {
      const [i, j] = key.split(',').map(Number) as [number, number];
      if (STEPS.filter(([di, dj]) => grid.has(`${i + di},${j + dj}`)).length < 2) grid.delete(key);
    }
  }
}

/** The step from a crossing to its neighbour: as the last one in this direction, else as a neighbour's own. */
function expectedStep(
  places: readonly SaddlePoint[],
  at: (i: number, j: number) => number | undefined,
  i: number,
  j: number,
  di: number,
  dj: number,
): Point | null {
  const step = (a: number | undefined, b: number | undefined): Point | null =>
    a === undefined || b === undefined
      ? null
      : [places[b]!.at[0] - places[a]!.at[0], places[b]!.at[1] - places[a]!.at[1]];
  const last = step(at(i - di, j - dj), at(i, j));
  const before = last && step(at(i - 2 * di, j - 2 * dj), at(i - di, j - dj));
  // Steps grow or shrink towards the viewer, and a lens bends them: half of that goes on.
  if (last) return before ? [last[0] + 0.5 * (last[0] - before[0]), last[1] + 0.5 * (last[1] - before[1])] : last;
  return (
    step(at(i + dj, j + di), at(i + dj + di, j + di + dj)) ?? step(at(i - dj, j - di), at(i - dj + di, j - di + dj))
  );
}

/** Places in boxes, so that those near a place are found without looking at all. */
class Neighbourhood {
  private readonly boxes = new Map<string, number[]>();
  private readonly size = 32;

  constructor(private readonly places: readonly SaddlePoint[]) {
    places.forEach(({ at: [x, y] }, index) => {
      const key = `${Math.floor(x / this.size)},${Math.floor(y / this.size)}`;
      const box = this.boxes.get(key);
      if (box) box.push(index);
      else this.boxes.set(key, [index]);
    });
  }

  /** The place nearest to a step from another. */
  nearest(from: SaddlePoint, [dx, dy]: Point, used: ReadonlySet<number>): number | null {
    const to: Point = [from.at[0] + dx, from.at[1] + dy];
    const reach = OFF * Math.hypot(dx, dy);
    let best: number | null = null;
    let least = reach;
    for (const index of this.around(to, reach)) {
      const off = distance(this.places[index]!.at, to);
      if (off < least && !used.has(index) && takeTurns(from, this.places[index]!)) [best, least] = [index, off];
    }
    return best;
  }

  /** The nearest place in a direction. */
  along(from: SaddlePoint, angle: number, used: ReadonlySet<number>): number | null {
    for (let reach = 24; reach < 4000; reach *= 1.6) {
      let best: number | null = null;
      let least = reach;
      for (const index of this.around(from.at, reach)) {
        const other = this.places[index]!;
        const dx = other.at[0] - from.at[0];
        const dy = other.at[1] - from.at[1];
        const away = Math.hypot(dx, dy);
        if (index === this.places.indexOf(from) || away >= least || used.has(index)) continue;
        if (dx * Math.cos(angle) + dy * Math.sin(angle) > away * Math.cos(ASIDE) && takeTurns(from, other))
          [best, least] = [index, away];
      }
      if (best !== null) return best;
    }
    return null;
  }

  private *around([x, y]: Point, reach: number): Generator<number> {
    for (let j = Math.floor((y - reach) / this.size); j <= Math.floor((y + reach) / this.size); j++) {
      for (let i = Math.floor((x - reach) / this.size); i <= Math.floor((x + reach) / this.size); i++)
        yield* this.boxes.get(`${i},${j}`) ?? [];
    }
  }
}

/** True where one crossing is the other turned by a quarter: along the same line light is on the other side. */
function takeTurns(a: SaddlePoint, b: SaddlePoint): boolean {
  const middle = (s: SaddlePoint) => (s.lines[0] + s.lines[1]) / 2 + (s.lightFirst ? 0 : Math.PI / 2);
  const off = Math.abs(Math.sin(middle(a) - middle(b)));
  // Light lies about the line `middle` and its opposite; at the neighbour across it.
  return off > Math.SQRT1_2;
}
