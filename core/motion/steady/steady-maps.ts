import { clamp } from '../../base/geometry/clamp.ts';
import {
  applyToPoint,
  compose,
  invert,
  jacobianAt,
  normalise,
  translation,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';

/** What of a surface's motion is taken out of the picture. */
export interface SteadyChoice {
  readonly position: boolean;
  readonly rotation: boolean;
  readonly scale: boolean;
  readonly perspective: boolean;
  /** 0: all of it; else only what is faster than a gaussian of this standard deviation, frames. */
  readonly smooth: number;
}

export const STEADY_PARTS = ['position', 'rotation', 'scale', 'perspective'] as const;
export const ALL_STEADY: SteadyChoice = { position: true, rotation: true, scale: true, perspective: true, smooth: 0 };

/** A map about a pivot: where the pivot goes, how it turns there (radians) and grows (logarithm), and what is left over: foreshortening and slant, acting about the pivot before the rest. */
interface Parts {
  readonly place: Point;
  readonly turn: number;
  readonly grow: number;
  readonly slant: Homography;
}

/**
 * Maps of a plate's frames to steadied ones, from the maps of a surface (reference pixels to a frame's): what is to be removed of the surface's motion about
 * `pivot` (its middle on the reference frame) is gone in the steadied picture, the rest still moves it. With all removed the surface stays where it is on the
 * reference frame. Frames between known ones go from one to the other, those before and after stand like the nearest.
 */
export function steadyMaps(
  maps: ReadonlyMap<number, Homography>,
  pivot: Point,
  choice: SteadyChoice,
  frames: number,
): Map<number, Homography> {
  const known = [...maps]
    .flatMap(([frame, h]) => {
      const parts = partsOf(h, pivot);
      return parts ? [{ frame, parts }] : [];
    })
    .sort((a, b) => a.frame - b.frame);
  if (known.length === 0) return new Map();
  unwind(known);
  const all = Array.from({ length: frames }, (_, frame) => partsAt(known, frame));
  const still: Parts = { place: pivot, turn: 0, grow: 0, slant: [1, 0, 0, 0, 1, 0, 0, 0, 1] };
  const out = new Map<number, Homography>();
  for (let frame = 0; frame < frames; frame++) {
    const whole = all[frame]!;
    const gone = choice.smooth > 0 ? smoothed(all, frame, choice.smooth) : still;
    const rest: Parts = {
      place: choice.position ? gone.place : whole.place,
      turn: choice.rotation ? gone.turn : whole.turn,
      grow: choice.scale ? gone.grow : whole.grow,
      slant: choice.perspective ? gone.slant : whole.slant,
    };
    const back = invert(mapOf(whole, pivot));
    if (back) out.set(frame, compose(mapOf(rest, pivot), back));
  }
  return out;
}

/**
 * Maps found on the steadied picture (reference pixels to a frame's, both steadied) as maps of the plate itself. Exact: H = S(f)⁻¹·H′·S(reference).
 * Frames whose steadying is not known are left out.
 */
export function mapBack(
  found: ReadonlyMap<number, Homography>,
  steady: ReadonlyMap<number, Homography>,
  referenceFrame: number,
): Map<number, Homography> {
  const reference = steady.get(referenceFrame);
  const out = new Map<number, Homography>();
  for (const [frame, h] of found) {
    const there = steady.get(frame);
    const back = there && invert(there);
    if (back && reference) out.set(frame, compose(back, h, reference));
  }
  return out;
}

function partsOf(h: Homography, pivot: Point): Parts | null {
  const place = applyToPoint(h, pivot);
  const [a, b, c, d] = jacobianAt(h, pivot);
  const p = (a + d) / 2;
  const q = (c - b) / 2;
  const size = Math.hypot(p, q);
  if (!(size > 1e-9) || !place.every(Number.isFinite)) return null;
  const turn = Math.atan2(q, p);
  const grow = Math.log(size);
  const simple = invert(similarity(place, turn, grow, pivot));
  return simple
    ? {
        place,
        turn,
        grow,
        slant: normalise(compose(translation(-pivot[0], -pivot[1]), simple, h, translation(...pivot))),
      }
    : null;
}

function mapOf({ place, turn, grow, slant }: Parts, pivot: Point): Homography {
  return compose(similarity(place, turn, grow, pivot), translation(...pivot), slant, translation(-pivot[0], -pivot[1]));
}

function similarity([x, y]: Point, turn: number, grow: number, pivot: Point): Homography {
  const s = Math.exp(grow);
  const c = s * Math.cos(turn);
  const d = s * Math.sin(turn);
  return compose(translation(x, y), [c, -d, 0, d, c, 0, 0, 0, 1], translation(-pivot[0], -pivot[1]));
}

/** Turns that go on round instead of jumping by a whole turn. */
function unwind(known: { frame: number; parts: Parts }[]): void {
  for (let i = 1; i < known.length; i++) {
    const before = known[i - 1]!.parts.turn;
    const { parts } = known[i]!;
    known[i] = {
      ...known[i]!,
      parts: { ...parts, turn: parts.turn - 2 * Math.PI * Math.round((parts.turn - before) / (2 * Math.PI)) },
    };
  }
}

function partsAt(known: readonly { frame: number; parts: Parts }[], frame: number): Parts {
  const after = known.findIndex((k) => k.frame >= frame);
  if (after < 0) return known.at(-1)!.parts;
  const b = known[after]!;
  const a = known[after - 1];
  if (b.frame === frame || !a) return b.parts;
  return blended([
    [a.parts, (b.frame - frame) / (b.frame - a.frame)],
    [b.parts, (frame - a.frame) / (b.frame - a.frame)],
  ]);
}

function blended(shares: readonly (readonly [Parts, number])[]): Parts {
  const sum = (pick: (p: Parts) => number) => shares.reduce((s, [p, w]) => s + w * pick(p), 0);
  return {
    place: [sum((p) => p.place[0]), sum((p) => p.place[1])],
    turn: sum((p) => p.turn),
    grow: sum((p) => p.grow),
    slant: Array.from({ length: 9 }, (_, k) => sum((p) => p.slant[k]!)),
  };
}

function smoothed(all: readonly Parts[], frame: number, sigma: number): Parts {
  const radius = Math.ceil(3 * sigma);
  const shares: [Parts, number][] = [];
  let total = 0;
  // Mirrored at the ends, so that a shot does not begin with a pull.
  for (let k = -radius; k <= radius; k++) {
    const w = Math.exp(-(k * k) / (2 * sigma * sigma));
    const at = frame + k;
    const inside = at < 0 ? -at : at >= all.length ? 2 * (all.length - 1) - at : at;
    shares.push([all[clamp(inside, 0, all.length - 1)]!, w]);
    total += w;
  }
  return blended(shares.map(([p, w]) => [p, w / total]));
}
