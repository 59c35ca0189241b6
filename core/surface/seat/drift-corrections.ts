import { median } from '../../base/image/statistics.ts';
import { CornerMoves, type Correction } from './corrections.ts';

/** How far off the corners are on a frame, as the borders show it. */
export interface FrameDrift {
  readonly frame: number;
  /** x and y of corners 0…3, reference px: what would have to be added. */
  readonly moves: ArrayLike<number>;
  /** 95 % bound of each corner, frame px. */
  readonly bounds: readonly number[];
  /** Frame px for a reference px at each corner. */
  readonly scales: readonly number[];
}

export interface Proposal {
  readonly corrections: readonly Correction[];
  /** Frames that jump by themselves, with how far, px. */
  readonly pops: readonly { frame: number; size: number }[];
  /** Worst distance of a corner from where the borders show it, frame px: before and after, frame by frame. */
  readonly before: readonly number[];
  readonly after: readonly number[];
}

/** A jump is at least so large, px, so many times its bound, and so many times what the frames about it do. */
const LEAST_POP = 0.35;
const SURE = 2;
const OVER_USUAL = 5;
/** More keys than one in so many frames are no correction any more. */
const FRAMES_PER_KEY = 3;

/**
 * The fewest keys that bring every frame within `tolerance` px (of the frame) of where the borders show the corners. Frames that jump
 * by themselves are named and get a key for themselves alone. The others: a key where it is worst, again and again until all is within the
 * tolerance; then every key that is not needed is taken out, and the rest are moved to where they serve best. All corners that drift share
 * their keys' frames.
 */
export function proposeCorrections(frames: readonly FrameDrift[], referenceFrame: number, tolerance: number): Proposal {
  const pops = findPops(frames);
  const popped = new Set(pops.map((p) => p.frame));
  const calm = smoothed(frames.filter((f) => !popped.has(f.frame)));
  const drifting = [0, 1, 2, 3].filter((c) => calm.some((f) => length(f, c, [0, 0]) > tolerance));
  const corrections = drifting.length === 0 ? [] : fewestKeys(calm, drifting, referenceFrame, tolerance);
  const moves = new CornerMoves(corrections, referenceFrame);
  const singles = pops.flatMap(({ frame }) => {
    const drift = frames.find((f) => f.frame === frame)!;
    return [0, 1, 2, 3].flatMap((corner): Correction[] => {
      const [x, y] = moves.at(corner, frame);
      const dx = drift.moves[2 * corner]! - x;
      const dy = drift.moves[2 * corner + 1]! - y;
      return drift.scales[corner]! * Math.hypot(dx, dy) > Math.max(tolerance, drift.bounds[corner]!)
        ? [{ frame, corner, dx: rounded(dx), dy: rounded(dy), ease: 'single' }]
        : [];
    });
  });
  const all = [...corrections, ...singles].sort((a, b) => a.frame - b.frame || a.corner - b.corner);
  const done = new CornerMoves(all, referenceFrame);
  return {
    corrections: all,
    pops,
    before: frames.map((f) => Math.max(...[0, 1, 2, 3].map((c) => length(f, c, [0, 0])))),
    after: frames.map((f) => Math.max(...[0, 1, 2, 3].map((c) => length(f, c, done.at(c, f.frame))))),
  };
}

/** How far a corner is still off after a move, frame px. */
function length(f: FrameDrift, corner: number, [x, y]: readonly [number, number]): number {
  return f.scales[corner]! * Math.hypot(f.moves[2 * corner]! - x, f.moves[2 * corner + 1]! - y);
}

/** Frames whose corners lie off the middle of their neighbours, by far more than those do. */
export function findPops(frames: readonly FrameDrift[]): { frame: number; size: number }[] {
  const jump = frames.map((f, i) => {
    const before = frames[i - 1];
    const after = frames[i + 1];
    if (!before || !after || before.frame !== f.frame - 1 || after.frame !== f.frame + 1) return { size: 0, sure: 0 };
    return [0, 1, 2, 3]
      .map((c) => {
        const size = length(f, c, [
          (before.moves[2 * c]! + after.moves[2 * c]!) / 2,
          (before.moves[2 * c + 1]! + after.moves[2 * c + 1]!) / 2,
        ]);
        return { size, sure: size / Math.max(1e-6, f.bounds[c]!) };
      })
      .reduce((a, b) => (a.size > b.size ? a : b));
  });
  return frames.flatMap(({ frame }, i) => {
    const { size, sure } = jump[i]!;
    const near = jump
      .slice(Math.max(0, i - 6), i + 7)
      .filter((_, k) => Math.abs(Math.max(0, i - 6) + k - i) > 1)
      .map((j) => j.size);
    const usual = near.length > 0 ? median(near) : 0;
    const beside = Math.max(jump[i - 1]?.size ?? 0, jump[i + 1]?.size ?? 0);
    return size > LEAST_POP && sure > SURE && size > OVER_USUAL * usual && size > 1.5 * beside ? [{ frame, size }] : [];
  });
}

/** Each frame's moves averaged with pairs of neighbours on either side, alike in weight so that straight drifts stay as they are: single frames' noise needs no key. */
function smoothed(frames: readonly FrameDrift[]): FrameDrift[] {
  const byFrame = new Map(frames.map((f) => [f.frame, f]));
  return frames.map((f) => ({
    ...f,
    moves: Float64Array.from({ length: 8 }, (_, k) => {
      const weight = (g: FrameDrift) => 1 / (g.bounds[k >> 1]! ** 2 + 1e-4);
      const own = weight(f);
      let sum = own * f.moves[k]!;
      let total = own;
      for (const d of [1, 2]) {
        const before = byFrame.get(f.frame - d);
        const after = byFrame.get(f.frame + d);
        if (!before || !after) break;
        const pair = Math.min(weight(before), weight(after));
        sum += pair * (before.moves[k]! + after.moves[k]!);
        total += 2 * pair;
      }
      return sum / total;
    }),
  }));
}

const rounded = (v: number) => Number(v.toFixed(4));

function keysAt(frames: readonly FrameDrift[], corners: readonly number[], at: readonly number[]): Correction[] {
  const byFrame = new Map(frames.map((f) => [f.frame, f]));
  return at.flatMap((frame) =>
    corners.map((corner): Correction => ({
      frame,
      corner,
      dx: rounded(byFrame.get(frame)!.moves[2 * corner]!),
      dy: rounded(byFrame.get(frame)!.moves[2 * corner + 1]!),
    })),
  );
}

interface Worst {
  readonly off: number;
  readonly frame: number;
}

function worstOf(
  frames: readonly FrameDrift[],
  corners: readonly number[],
  keys: readonly number[],
  referenceFrame: number,
): Worst {
  return worstWith(frames, corners, keysAt(frames, corners, keys), referenceFrame, keys);
}

/** Where corrections leave most; `except` are frames that need not be asked. */
function worstWith(
  frames: readonly FrameDrift[],
  corners: readonly number[],
  corrections: readonly Correction[],
  referenceFrame: number,
  except: readonly number[] = [],
): Worst {
  const moves = new CornerMoves(corrections, referenceFrame);
  let worst: Worst = { off: -1, frame: -1 };
  for (const f of frames) {
    if (except.includes(f.frame)) continue;
    for (const c of corners) {
      const off = length(f, c, moves.at(c, f.frame));
      if (off > worst.off) worst = { off, frame: f.frame };
    }
  }
  return worst;
}

function fewestKeys(
  frames: readonly FrameDrift[],
  corners: readonly number[],
  referenceFrame: number,
  tolerance: number,
): Correction[] {
  let keys: number[] = [];
  while (keys.length < frames.length / FRAMES_PER_KEY) {
    const { off, frame } = worstOf(frames, corners, keys, referenceFrame);
    if (off <= tolerance || frame < 0) break;
    keys = [...keys, frame].sort((a, b) => a - b);
  }
  keys = settled(frames, corners, keys, referenceFrame);
  let best = balanced(frames, corners, keys, referenceFrame);
  for (let spared = true; spared && keys.length > 1;) {
    spared = false;
    for (const key of [...keys]) {
      const fewer = settled(
        frames,
        corners,
        keys.filter((k) => k !== key),
        referenceFrame,
      );
      const corrections = balanced(frames, corners, fewer, referenceFrame);
      if (worstWith(frames, corners, corrections, referenceFrame).off > tolerance) continue;
      [keys, best, spared] = [fewer, corrections, true];
      break;
    }
  }
  return best;
}

/**
 * The keys' moves, shared out: each is moved to the middle of what its stretches leave over on either side, as long as that makes the worst
 * less. A key need not hit its own frame to bring all about it within the tolerance.
 */
function balanced(
  frames: readonly FrameDrift[],
  corners: readonly number[],
  keys: readonly number[],
  referenceFrame: number,
): Correction[] {
  let now = keysAt(frames, corners, keys);
  let least = worstWith(frames, corners, now, referenceFrame).off;
  for (let round = 0; round < 6; round++) {
    let better = false;
    for (let i = 0; i < now.length; i++) {
      const key = now[i]!;
      const at = keys.indexOf(key.frame);
      const [low, high] = [keys[at - 1] ?? -Infinity, keys[at + 1] ?? Infinity];
      const moves = new CornerMoves(now, referenceFrame);
      const left = frames
        .filter((f) => f.frame > low && f.frame < high)
        .map((f) => {
          const [x, y] = moves.at(key.corner, f.frame);
          return [f.moves[2 * key.corner]! - x, f.moves[2 * key.corner + 1]! - y] as const;
        });
      const middle = (axis: 0 | 1) =>
        (Math.min(...left.map((l) => l[axis])) + Math.max(...left.map((l) => l[axis]))) / 2;
      const tried = now.with(i, {
        ...key,
        dx: rounded(key.dx + 0.7 * middle(0)),
        dy: rounded(key.dy + 0.7 * middle(1)),
      });
      const off = worstWith(frames, corners, tried, referenceFrame).off;
      if (off < least - 1e-4) [now, least, better] = [tried, off, true];
    }
    if (!better) break;
  }
  return now;
}

/** Every key in turn to the frame between its neighbours at which the worst is least; a few rounds. */
function settled(
  frames: readonly FrameDrift[],
  corners: readonly number[],
  keys: readonly number[],
  referenceFrame: number,
): number[] {
  let now = [...keys];
  let least = worstOf(frames, corners, now, referenceFrame).off;
  for (let round = 0; round < 3; round++) {
    let moved = false;
    for (let i = 0; i < now.length; i++) {
      const low = now[i - 1] ?? -Infinity;
      const high = now[i + 1] ?? Infinity;
      const room = frames.filter((f) => f.frame > low && f.frame < high);
      const every = Math.max(1, Math.floor(room.length / 24));
      for (const { frame } of room.filter((_, k) => k % every === 0 || k === room.length - 1)) {
        const tried = now.with(i, frame);
        const off = worstOf(frames, corners, tried, referenceFrame).off;
        if (off < least - 1e-3) [now, least, moved] = [tried, off, true];
      }
    }
    if (!moved) break;
  }
  return now;
}
