import { clamp } from '../../base/geometry/clamp.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { bounds, quadFault, signedArea, type Quad } from '../../base/geometry/quad.ts';
import { fitCamera, type KnownOfCamera } from '../pose/fit-camera.ts';
import { cornersOfPose, posesOfQuad, type PlanePose, type SurfaceCamera } from '../pose/plane-pose.ts';
import { PosePath } from '../pose/pose-path.ts';
import { Problem } from '../../base/problem/problem.ts';

/** Corners put by hand on one frame, continuous plate pixels. */
export interface HandKey {
  readonly frame: number;
  readonly corners: Quad;
}

/** How a frame's corners came to be: as put by hand, from the plane's pose, from four separate curves, or those of the nearest key. */
export type Between = 'key' | 'pose' | 'curves' | 'held';

export interface KeyedCorners {
  readonly corners: Quad;
  readonly how: Between;
}

/** Corners may be off a rigid rectangle by so much and their pose be believed: px, or a share of the surface's size. */
const RIGID_PX = 3;
const RIGID_SHARE = 0.03;

/**
 * The motion of a surface through corners put by hand. In between the surface's pose in space is interpolated, so that it stays a rigid
 * rectangle however it turns; what the keyed corners are off one is led over from key to key. Where the keys are no rectangle's, the four
 * corners go on curves of their own, and `why` says so.
 */
export class KeyedMotion {
  readonly camera: SurfaceCamera | null;
  /** Why the pose is not used; null where it is. */
  readonly why: string | null = null;
  private readonly path: PosePath | null;
  private readonly keys: readonly HandKey[];
  /** All frames that the curves go through: keys, and what is known around them. */
  private readonly knots: readonly HandKey[];
  private readonly left: readonly (readonly Point[])[];

  /** `known` are frames whose corners are known from elsewhere: the curves go through them, but only keys say where the motion is stated. */
  constructor(
    keys: readonly HandKey[],
    width: number,
    height: number,
    camera: KnownOfCamera | SurfaceCamera = {},
    known: readonly HandKey[] = [],
  ) {
    this.keys = [...keys].sort((a, b) => a.frame - b.frame);
    // A frame that is known twice counts once, keys first.
    const byFrame = new Map([...known].reverse().map((k) => [k.frame, k]));
    for (const key of this.keys) byFrame.set(key.frame, key);
    this.knots = [...byFrame.values()].sort((a, b) => a.frame - b.frame);
    const quads = this.knots.map((k) => k.corners);
    const fit = 'cx' in camera ? { camera, rms: 0 } : fitCamera(quads, width, height, camera);
    const poses = fit && quads.map((quad) => posesOfQuad(quad, fit.camera));
    const worst = poses?.every((p) => p.length > 0)
      ? Math.max(...poses.map((p, i) => p[0]!.rms / Math.max(RIGID_PX, RIGID_SHARE * sizeOf(quads[i]!))))
      : Infinity;
    if (!fit || !(worst <= 1)) {
      this.camera = null;
      this.path = null;
      this.left = [];
      this.why = Number.isFinite(worst)
        ? 'The keyed corners are not those of one rigid rectangle, so the corners go on curves of their own.'
        : 'The keyed corners tell no pose of a plane, so they go on curves of their own.';
      return;
    }
    this.camera = fit.camera;
    this.path = new PosePath(this.knots.map((k, i) => ({ frame: k.frame, poses: poses![i]! })));
    this.left = this.knots.map((k) => {
      const there = cornersOfPose(this.path!.at(k.frame), fit.camera)!;
      return k.corners.map(([x, y], c): Point => [x - there[c]![0], y - there[c]![1]]);
    });
  }

  get first(): number {
    return this.keys[0]!.frame;
  }

  get last(): number {
    return this.keys.at(-1)!.frame;
  }

  /** The corners on a frame; before the first and after the last key those of that key. */
  at(frame: number): KeyedCorners {
    const key = this.keys.find((k) => k.frame === frame);
    if (key) return { corners: key.corners, how: 'key' };
    if (frame < this.first && !this.knots.some((k) => k.frame < frame))
      return { corners: this.keys[0]!.corners, how: 'held' };
    if (frame > this.last && !this.knots.some((k) => k.frame > frame))
      return { corners: this.keys.at(-1)!.corners, how: 'held' };
    const posed = this.path && this.posed(this.path.at(frame), frame);
    return posed ? { corners: posed, how: 'pose' } : { corners: this.curves(frame), how: 'curves' };
  }

  /** How far the corners of a frame would be off, px, if nothing turned or sped up between the keys: how much of it is guessed. */
  guessed(frame: number): number {
    const here = this.at(frame);
    const straight = this.path ? this.posed(this.path.straightAt(frame), frame) : this.straight(frame);
    return here.how === 'key' || here.how === 'held' || !straight
      ? 0
      : Math.max(...here.corners.map(([x, y], c) => Math.hypot(x - straight[c]![0], y - straight[c]![1])));
  }

  private posed(pose: PlanePose, frame: number): Quad | null {
    const there = cornersOfPose(pose, this.camera!);
    const [i, s] = this.between(frame);
    const j = Math.min(i + 1, this.left.length - 1);
    return (
      there &&
      mapTuple(there, ([x, y], c) => [
        x + (1 - s) * this.left[i]![c]![0] + s * this.left[j]![c]![0],
        y + (1 - s) * this.left[i]![c]![1] + s * this.left[j]![c]![1],
      ])
    );
  }

  /** The knot before a frame, and how far along it is to the next, 0…1. */
  private between(frame: number): [number, number] {
    let i = 0;
    while (i + 2 < this.knots.length && this.knots[i + 1]!.frame < frame) i++;
    const from = this.knots[i]!.frame;
    const to = this.knots[i + 1]?.frame ?? from;
    return [i, to === from ? 0 : clamp((frame - from) / (to - from), 0, 1)];
  }

  /** Each corner on cubics through its own keys, with the speeds of the parabola through each three. */
  private curves(frame: number): Quad {
    const [i, s] = this.between(frame);
    const a = this.knots[i]!;
    const b = this.knots[i + 1];
    if (!b) return a.corners;
    const length = b.frame - a.frame;
    const s2 = s * s;
    const s3 = s2 * s;
    return mapTuple(a.corners, (_, c) =>
      mapTuple([0, 1], (k) => {
        const from = a.corners[c]![k];
        const way = b.corners[c]![k] - from;
        return (
          from +
          (s3 - 2 * s2 + s) * length * this.speed(i, c, k) +
          (3 * s2 - 2 * s3) * way +
          (s3 - s2) * length * this.speed(i + 1, c, k)
        );
      }),
    );
  }

  private straight(frame: number): Quad {
    const [i, s] = this.between(frame);
    const a = this.knots[i]!.corners;
    const b = this.knots[i + 1]?.corners ?? a;
    return mapTuple(a, ([x, y], c) => [x + s * (b[c]![0] - x), y + s * (b[c]![1] - y)]);
  }

  private speed(i: number, corner: number, axis: number): number {
    const at = (k: number) => this.knots[k]!.corners[corner]![axis]!;
    const frame = (k: number) => this.knots[k]!.frame;
    const last = this.knots.length - 1;
    if (last < 2) return (at(last) - at(0)) / (frame(last) - frame(0));
    const k = clamp(i, 1, last - 1);
    const before = (at(k) - at(k - 1)) / (frame(k) - frame(k - 1));
    const after = (at(k + 1) - at(k)) / (frame(k + 1) - frame(k));
    const a = frame(k) - frame(k - 1);
    const b = frame(k + 1) - frame(k);
    const share = i === 0 ? -a / (a + b) : i === last ? 1 + b / (a + b) : a / (a + b);
    return before + share * (after - before);
  }
}

/** The confidence of corners that were only interpolated. */
export const INTERPOLATED = 0.25;

/** How a frame's corners came to be, for its note. */
export const SAID_OF: Readonly<Record<Between, string>> = {
  key: 'keyed by hand',
  pose: 'interpolated by pose',
  curves: 'interpolated, corner by corner',
  held: 'held from the nearest key',
};
export const PULLED = 'pulled onto the picture';

/** What corners put by hand may be off (95 %), px; what those between grow by with each frame's distance from what is known, and of what is guessed. */
const KEY_BOUND = 2;
const GROWS = 1.5;
const GUESSED = 0.5;

/** How far off a keyed frame's corners may be, px; in between, `away` frames from what is known, where `guessed` px of them are (`KeyedMotion.guessed`). */
export function keyedBound(away = 0, guessed = 0): number {
  return KEY_BOUND + GROWS * away + GUESSED * guessed;
}

function sizeOf(quad: Quad): number {
  const { left, top, right, bottom } = bounds(quad);
  return Math.hypot(right - left, bottom - top);
}

/**
 * Refuses keys that no surface could show itself by: none at all, two on one frame, corners that cross. The order of the corners may be turned round
 * from one key to another (a flip through edge-on), but not back and forth between neighbouring frames.
 * @throws Problem no-keys, key-twice, bad-hand-key
 */
export function checkKeys(keys: readonly HandKey[], where: string): void {
  if (keys.length === 0) throw new Problem('no-keys', { where });
  const sorted = [...keys].sort((a, b) => a.frame - b.frame);
  sorted.forEach(({ frame, corners }, i) => {
    if (sorted[i + 1]?.frame === frame) throw new Problem('key-twice', { where, frame });
    const fault = quadFault(corners);
    if (fault)
      throw new Problem('bad-hand-key', {
        where,
        frame,
        why: fault === 'crossed' ? 'cross each other' : fault === 'concave' ? 'make a dent' : 'lie on one spot',
      });
    const next = sorted[i + 1];
    if (
      next &&
      next.frame - frame === 1 &&
      signedArea(corners) * signedArea(next.corners) < 0 &&
      Math.min(Math.abs(signedArea(corners)), Math.abs(signedArea(next.corners))) > 0.25 * sizeOf(corners) ** 2
    ) {
      throw new Problem('bad-hand-key', {
        where,
        frame: next.frame,
        why: 'are turned inside out against the frame before',
      });
    }
  });
}
