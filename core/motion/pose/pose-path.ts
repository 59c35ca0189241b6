import { clamp } from '../../base/geometry/clamp.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { FittedPose, PlanePose } from './plane-pose.ts';
import { rotationFromVector, turnBetween, turnedBy, type Rotation, type Vector3 } from './rotation.ts';

/** A frame on which the surface's pose is known, with the poses that it may be; the one that fits best first. */
export interface PoseKnot {
  readonly frame: number;
  readonly poses: readonly FittedPose[];
}

/** How much worse (px) a pose may fit and still be taken because the way to it is shorter, and how far a surface turns between knots without it being strange, radians. */
const FITS_WORSE = 0.7;
const TURNS_FREELY = 0.6;
/** What speed as such costs, beside its change: of two ways round, neighbours being silent, the shorter is taken. */
const SPEED_COSTS = 0.05;

/**
 * A surface's way through space, through its poses on some frames: places by cubics whose speeds are those of the parabola through each three
 * knots (so that a throw is one exactly), turns likewise about the axes that lead from one to the next. Turns of more than half round between
 * two knots are taken where the speed on both sides asks for it.
 *
 * Sources: K. Shoemake, Animating rotation with quaternion curves, SIGGRAPH 1985 (even turning between two); M.-J. Kim, M.-S. Kim, S. Shin,
 * A general construction scheme for unit quaternion curves, SIGGRAPH 1995 (curves of turns from curves of their logarithms).
 */
export class PosePath {
  private readonly frames: readonly number[];
  private readonly poses: readonly PlanePose[];
  /** Of each stretch: the turn over it, axis times angle; at each knot: the speed of turning and of moving, a frame. */
  private readonly turns: readonly Vector3[];
  private readonly spins: readonly Vector3[];
  private readonly speeds: readonly Vector3[];

  /** Knots in any order, at least one, each with a pose. */
  constructor(knots: readonly PoseKnot[]) {
    const sorted = [...knots].sort((a, b) => a.frame - b.frame);
    if (sorted.length === 0 || sorted.some((k) => k.poses.length === 0))
      throw new RangeError('a path needs a knot, and a pose at each');
    this.frames = sorted.map((k) => k.frame);
    this.poses = nearestTogether(sorted);
    this.turns = shortestWays(
      this.poses.map((p) => p.rotation),
      this.frames,
    );
    this.spins = speedsAt(this.turns, this.frames);
    this.speeds = speedsAt(
      this.poses.slice(1).map((p, i) => less(p.position, this.poses[i]!.position)),
      this.frames,
    );
  }

  /** The pose on a frame, whole or not; before the first and after the last knot it stands still. */
  at(frame: number): PlanePose {
    const { frames, poses } = this;
    const last = frames.length - 1;
    if (frame <= frames[0]!) return poses[0]!;
    if (frame >= frames[last]!) return poses[last]!;
    let i = 0;
    while (frames[i + 1]! < frame) i++;
    const length = frames[i + 1]! - frames[i]!;
    const s = (frame - frames[i]!) / length;
    const turn = this.turns[i]!;
    const moved = hermite(
      s,
      times(this.speeds[i]!, length),
      less(poses[i + 1]!.position, poses[i]!.position),
      times(this.speeds[i + 1]!, length),
    );
    const turned = hermite(
      s,
      times(this.spins[i]!, length),
      turn,
      times(inLogarithm(turn, this.spins[i + 1]!), length),
    );
    const from = poses[i]!.position;
    return {
      rotation: turnedBy(rotationFromVector(turned), poses[i]!.rotation),
      position: [from[0] + moved[0], from[1] + moved[1], from[2] + moved[2]],
    };
  }

  /** Without the knots' speeds: straight and evenly from one to the next. What it differs by from `at` tells how much is guessed. */
  straightAt(frame: number): PlanePose {
    const { frames, poses } = this;
    const last = frames.length - 1;
    if (frame <= frames[0]! || frame >= frames[last]!) return this.at(frame);
    let i = 0;
    while (frames[i + 1]! < frame) i++;
    const s = (frame - frames[i]!) / (frames[i + 1]! - frames[i]!);
    const from = poses[i]!.position;
    const way = less(poses[i + 1]!.position, from);
    return {
      rotation: turnedBy(rotationFromVector(times(this.turns[i]!, s)), poses[i]!.rotation),
      position: [from[0] + s * way[0], from[1] + s * way[1], from[2] + s * way[2]],
    };
  }
}

/** Of each knot's poses the one that makes the whole way shortest, as far as they fit about alike. */
function nearestTogether(knots: readonly PoseKnot[]): PlanePose[] {
  const costs: number[][] = [];
  const from: number[][] = [];
  knots.forEach((knot, i) => {
    costs.push(
      knot.poses.map((p, a) => {
        const own = (p.rms ** 2 - knot.poses[0]!.rms ** 2) / FITS_WORSE ** 2;
        if (i === 0) return own;
        const ways = knots[i - 1]!.poses.map(
          (q, b) =>
            costs[i - 1]![b]! + (Math.hypot(...turnBetween(q.pose.rotation, p.pose.rotation)) / TURNS_FREELY) ** 2,
        );
        (from[i] ??= [])[a] = ways.indexOf(Math.min(...ways));
        return own + Math.min(...ways);
      }),
    );
    from[i] ??= [];
  });
  let at = costs.at(-1)!.indexOf(Math.min(...costs.at(-1)!));
  const chosen: PlanePose[] = [];
  for (let i = knots.length - 1; i >= 0; i--) {
    chosen.unshift(knots[i]!.poses[at]!.pose);
    at = from[i]![at] ?? 0;
  }
  return chosen;
}

/** The turns from knot to knot, the short way or once more round: whichever changes the speed least. */
function shortestWays(rotations: readonly Rotation[], frames: readonly number[]): Vector3[] {
  const choices = rotations.slice(1).map((r, i) => {
    const v = turnBetween(rotations[i]!, r);
    const angle = Math.hypot(...v);
    const round = (k: number): Vector3 => (angle < 1e-9 ? v : times(v, 1 + (2 * Math.PI * k) / angle));
    return angle < 1e-9 ? [v] : [v, round(-1), round(1)];
  });
  const lengths = choices.map((_, i) => frames[i + 1]! - frames[i]!);
  const costs: number[][] = [];
  const from: number[][] = [];
  choices.forEach((ways, i) => {
    from.push([]);
    costs.push(
      ways.map((v, a) => {
        const speed = times(v, 1 / lengths[i]!);
        const own = SPEED_COSTS * Math.hypot(...speed) ** 2;
        if (i === 0) return own;
        const before = choices[i - 1]!.map(
          (u, b) => costs[i - 1]![b]! + Math.hypot(...less(speed, times(u, 1 / lengths[i - 1]!))) ** 2,
        );
        from[i]![a] = before.indexOf(Math.min(...before));
        return own + Math.min(...before);
      }),
    );
  });
  const turns: Vector3[] = [];
  for (
    let i = choices.length - 1, at = i < 0 ? 0 : costs[i]!.indexOf(Math.min(...costs[i]!));
    i >= 0;
    at = from[i]![at] ?? 0, i--
  )
    turns.unshift(choices[i]![at]!);
  return turns;
}

/** Speeds at knots: of the parabola through a knot and its two neighbours; at the ends, of the one next to it. */
function speedsAt(ways: readonly Vector3[], frames: readonly number[]): Vector3[] {
  const lengths = ways.map((_, i) => frames[i + 1]! - frames[i]!);
  const means = ways.map((v, i) => times(v, 1 / lengths[i]!));
  if (ways.length === 0) return [[0, 0, 0]];
  if (ways.length === 1) return [means[0]!, means[0]!];
  return frames.map((_, i) => {
    const k = clamp(i, 1, frames.length - 2);
    const a = lengths[k - 1]!;
    const b = lengths[k]!;
    const before = means[k - 1]!;
    const after = means[k]!;
    const share = i === 0 ? -a / (a + b) : i === frames.length - 1 ? 1 + b / (a + b) : a / (a + b);
    return mapTuple([0, 1, 2], (c) => before[c] + share * (after[c] - before[c]));
  });
}

/** A cubic from 0 to `way` with given derivatives at both ends, s = 0…1. */
function hermite(s: number, first: Vector3, way: Vector3, last: Vector3): Vector3 {
  const s2 = s * s;
  const s3 = s2 * s;
  const a = s3 - 2 * s2 + s;
  const b = 3 * s2 - 2 * s3;
  const c = s3 - s2;
  return [
    a * first[0] + b * way[0] + c * last[0],
    a * first[1] + b * way[1] + c * last[1],
    a * first[2] + b * way[2] + c * last[2],
  ];
}

/** Round which the logarithm's derivative is no longer safely known, radians. */
const NEARLY_ROUND = 1.7 * Math.PI;

/** A speed of turning as the change of the logarithm when it stands at `v`: the inverse of the left Jacobian of SO(3). */
function inLogarithm(v: Vector3, spin: Vector3): Vector3 {
  const angle = Math.hypot(...v);
  if (angle < 1e-6 || angle > NEARLY_ROUND) return spin;
  const once = cross(v, spin);
  const twice = cross(v, once);
  const factor = (1 - angle / 2 / Math.tan(angle / 2)) / angle ** 2;
  return mapTuple([0, 1, 2], (k) => spin[k] - once[k] / 2 + factor * twice[k]);
}

const less = (a: Vector3, b: Vector3): Vector3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const times = (a: Vector3, s: number): Vector3 => [a[0] * s, a[1] * s, a[2] * s];
const cross = (a: Vector3, b: Vector3): Vector3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
