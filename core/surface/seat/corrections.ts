import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';

/** How a correction goes on to the next key: smoothly, in a straight line, not at all until there, or it is for its own frame alone. */
export type Ease = 'smooth' | 'linear' | 'hold' | 'single';

/** A keyed move of one corner, reference px, on top of the track. */
export interface Correction {
  readonly frame: number;
  /** 0 top-left, 1 top-right, 2 bottom-right, 3 bottom-left. */
  readonly corner: number;
  readonly dx: number;
  readonly dy: number;
  readonly ease?: Ease | undefined;
  /** Weakened to this share; 1 unless given. */
  readonly strength?: number | undefined;
  readonly muted?: boolean | undefined;
}

type Move = readonly [number, number];
interface Key {
  readonly frame: number;
  readonly move: Move;
  readonly ease: Ease;
}

/**
 * The moves of the four corners on any frame. The reference frame counts as a key of no move unless it has one: corners are set there.
 * Before the first and after the last key their move goes on. Smooth ways keep within the keys on either side.
 *
 * Source: F. Fritsch, J. Butland, A method for constructing local monotone piecewise cubic interpolants, SIAM J. Sci. Stat. Comput.
 * 5(2), 1984.
 */
export class CornerMoves {
  private readonly keys: readonly (readonly Key[])[];
  private readonly singles: readonly ReadonlyMap<number, Move>[];
  readonly empty: boolean;

  constructor(corrections: readonly Correction[], referenceFrame: number) {
    const heard = corrections.filter((c) => c.muted !== true);
    this.empty = heard.length === 0;
    const move = ({ dx, dy, strength = 1 }: Correction): Move => [dx * strength, dy * strength];
    this.singles = [0, 1, 2, 3].map(
      (corner) =>
        new Map(heard.filter((c) => c.corner === corner && c.ease === 'single').map((c) => [c.frame, move(c)])),
    );
    this.keys = [0, 1, 2, 3].map((corner) => {
      const keys = heard
        .filter((c) => c.corner === corner && c.ease !== 'single')
        .map((c): Key => ({ frame: c.frame, move: move(c), ease: c.ease ?? 'smooth' }));
      if (keys.length > 0 && !keys.some((k) => k.frame === referenceFrame))
        keys.push({ frame: referenceFrame, move: [0, 0], ease: 'smooth' });
      return keys.sort((a, b) => a.frame - b.frame);
    });
  }

  /** Of one corner on a frame, reference px. */
  at(corner: number, frame: number): [number, number] {
    const [x, y] = this.alongKeys(this.keys[corner]!, frame);
    const single = this.singles[corner]!.get(frame);
    return single ? [x + single[0], y + single[1]] : [x, y];
  }

  /** The reference's corners as they are to be carried to a frame. */
  moved(corners: Quad, frame: number): Quad {
    if (this.empty) return corners;
    return mapTuple(corners, ([x, y], i) => {
      const [dx, dy] = this.at(i, frame);
      return [x + dx, y + dy];
    });
  }

  private alongKeys(keys: readonly Key[], frame: number): Move {
    if (keys.length === 0) return [0, 0];
    if (frame <= keys[0]!.frame) return keys[0]!.move;
    const after = keys.findIndex((k) => k.frame > frame);
    if (after < 0) return keys.at(-1)!.move;
    const a = keys[after - 1]!;
    const b = keys[after]!;
    const span = b.frame - a.frame;
    const t = (frame - a.frame) / span;
    if (a.ease === 'hold' || t === 0) return a.move;
    if (a.ease === 'linear') return [a.move[0] + (b.move[0] - a.move[0]) * t, a.move[1] + (b.move[1] - a.move[1]) * t];
    return mapTuple([0, 1], (axis) => {
      const [d0, d1] = [slope(keys, after - 1, axis), slope(keys, after, axis)];
      const t2 = t * t;
      const t3 = t2 * t;
      return (
        (2 * t3 - 3 * t2 + 1) * a.move[axis] +
        (t3 - 2 * t2 + t) * span * d0 +
        (3 * t2 - 2 * t3) * b.move[axis] +
        (t3 - t2) * span * d1
      );
    });
  }
}

/** Slope at a key, px a frame: the weighted harmonic mean of the ways on either side, none where they turn; at the ends that of the one way. */
function slope(keys: readonly Key[], k: number, axis: number): number {
  const way = (i: number) => (keys[i + 1]!.move[axis]! - keys[i]!.move[axis]!) / (keys[i + 1]!.frame - keys[i]!.frame);
  if (k === 0) return way(0);
  if (k === keys.length - 1) return way(k - 1);
  const before = way(k - 1);
  const after = way(k);
  if (before * after <= 0) return 0;
  const h0 = keys[k]!.frame - keys[k - 1]!.frame;
  const h1 = keys[k + 1]!.frame - keys[k]!.frame;
  const w0 = 2 * h1 + h0;
  const w1 = h1 + 2 * h0;
  return (w0 + w1) / (w0 / before + w1 / after);
}

/** Corners moved by x and y of each. */
export function movedCorners(corners: Quad, moves: ArrayLike<number>): Quad {
  return mapTuple(corners, ([x, y], i) => [x + moves[2 * i]!, y + moves[2 * i + 1]!]);
}

/**
 * The corners and their corrections as another frame has them, which becomes the reference: `toNew` maps the old one's pixels there. Where the
 * corners lie on the keyed frames stays; since the new reference moves nothing, what moved it becomes a key on the old one. Muted keys come
 * along as they would count alone; weakened ones with what they weigh.
 */
export function moveCorrections(
  corners: Quad,
  corrections: readonly Correction[],
  old: number,
  frame: number,
  toNew: (point: Point) => Point,
): { corners: Quad; corrections: Correction[] } {
  const moves = new CornerMoves(
    corrections.filter((c) => c.ease !== 'single'),
    old,
  );
  const at = (corner: number, [dx, dy]: Move): Point => toNew([corners[corner]![0] + dx, corners[corner]![1] + dy]);
  const between = (a: Point, b: Point): Move => [a[0] - b[0], a[1] - b[1]];
  const base = mapTuple(corners, (_, corner) => at(corner, moves.at(corner, frame)));
  const moved: Correction[] = [];
  const put = (c: Pick<Correction, 'frame' | 'corner' | 'ease' | 'muted'>, [dx, dy]: Move) =>
    moved.push({
      frame: c.frame,
      corner: c.corner,
      dx,
      dy,
      ...(c.ease ? { ease: c.ease } : {}),
      ...(c.muted ? { muted: true } : {}),
    });
  for (const c of corrections) {
    const alone: Move = [c.dx * (c.strength ?? 1), c.dy * (c.strength ?? 1)];
    if (c.muted === true) put(c, between(at(c.corner, alone), at(c.corner, [0, 0])));
    else if (c.ease === 'single') {
      const under = moves.at(c.corner, c.frame);
      put(c, between(at(c.corner, [under[0] + alone[0], under[1] + alone[1]]), at(c.corner, under)));
    } else if (c.frame !== frame) put(c, between(at(c.corner, alone), base[c.corner]!));
  }
  for (let corner = 0; corner < 4; corner++) {
    const keyed = corrections.filter((c) => c.corner === corner && c.muted !== true && c.ease !== 'single');
    if (keyed.length > 0 && frame !== old && !keyed.some((c) => c.frame === old))
      put({ frame: old, corner }, between(at(corner, [0, 0]), base[corner]!));
  }
  return { corners: base, corrections: moved.sort((a, b) => a.frame - b.frame || a.corner - b.corner) };
}
