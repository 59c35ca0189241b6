import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { estimateHomography, homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import {
  applyToPoint,
  applyToPoints,
  compose,
  keepsInFront,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { CORNER_NAMES, type Quad } from '../../base/geometry/quad.ts';
import { fitCamera } from '../pose/fit-camera.ts';
import {
  posesOfQuad,
  project,
  refinePose,
  surfaceCorners,
  type PlanePose,
  type SurfaceCamera,
} from '../pose/plane-pose.ts';
import type { PointSettings } from './point-plan.ts';

/** The least number of frames that tell a camera, and at how many it is looked for again. */
const LEAST_FRAMES = 3;
const LOOK_AGAIN: readonly number[] = [3, 6, 12, 24, 39];
/** Of how far a reckoned place was off, so much is remembered from frame to frame; and what counts as far as long as nothing is known, px. */
const REMEMBERED = 0.7;
export const UNKNOWN_OFF = 4;
/** Up to so far off, px, the pose is preferred: it goes on holding where what is affine does not. */
const HOLDS_LONGER = 1.5;
/** Frames whose quads are kept. */
const MOST_KEPT = 40;
/** Of these so many are asked for the camera. */
const ASKED = 8;

/** A place that follows from the others, and how far off such places were of late, px. */
export interface Reckoned {
  readonly at: Point;
  readonly off: number;
}

/**
 * The plane that points lie on: how it moves by those that hold, and where the others must be. With the four corners among the points, camera and
 * proportions are learnt from frames on which all hold; three points then fix the plane's pose, and with it the fourth.
 */
export class CommonPlane {
  private readonly reference: readonly Point[];
  /** The points on the surface, in its own units, where the four corners are among them. */
  private corners: readonly [number, number, number, number] | null;
  private readonly quads = new Map<number, Quad>();
  private camera: SurfaceCamera | null = null;
  private pose: { frame: number; pose: PlanePose; left: Point[] } | null = null;
  /** How far off the places were that were reckoned, by pose and by affine change, for each point, px. */
  private readonly off: { pose: number; affine: number }[];
  private last: { frame: number; map: Homography } | null = null;

  constructor(
    points: readonly PointSettings[],
    private readonly width: number,
    private readonly height: number,
  ) {
    this.reference = points.map((p) => p.at);
    this.off = points.map(() => ({ pose: Infinity, affine: Infinity }));
    const named = mapTuple(CORNER_NAMES, (name) => points.findIndex((p) => p.name === name));
    this.corners = named.every((i) => i >= 0) ? named : null;
  }

  /** The map from the reference by the points that are known: four or more give it whole, three its place, turn, size and slant since the last whole one, and so on. Null where none is known. */
  mapBy(seen: readonly (Point | null)[]): Homography | null {
    const known = this.reference.flatMap((from, i) => (seen[i] ? [{ from, to: seen[i], i }] : []));
    if (known.length >= 4) {
      const estimate = estimateHomography(
        known.map((k) => k.from),
        known.map((k) => k.to),
      );
      if (estimate.ok && keepsInFront(estimate.homography, this.reference)) return estimate.homography;
    }
    const base = this.last?.map ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
    const moved = known.map((k) => ({ from: applyToPoint(base, k.from), to: k.to }));
    if (known.length >= 3) return affineOf(moved.slice(0, 3)) && compose(affineOf(moved.slice(0, 3))!, base);
    if (known.length === 2) return compose(similarityOf(moved[0]!, moved[1]!), base);
    return moved[0]
      ? compose([1, 0, moved[0].to[0] - moved[0].from[0], 0, 1, moved[0].to[1] - moved[0].from[1], 0, 0, 1], base)
      : null;
  }

  /** Takes in a frame on which all points hold. */
  learn(frame: number, seen: readonly Point[]): void {
    if (this.last) this.compare(seen);
    const map = this.mapBy(seen);
    if (map) this.last = { frame, map };
    if (!this.corners) return;
    this.quads.set(
      frame,
      mapTuple(this.corners, (i) => seen[i]!),
    );
    if (this.quads.size > MOST_KEPT) this.quads.delete([...this.quads.keys()][Math.floor(this.quads.size / 2)]!);
    if (this.quads.size < LEAST_FRAMES) return;
    if (LOOK_AGAIN.includes(this.quads.size))
      this.camera = fitCamera([...this.quads.values()], this.width, this.height, {}, ASKED)?.camera ?? this.camera;
    this.standAt(frame, seen);
  }

  private standAt(frame: number, seen: readonly Point[]): void {
    const quad = this.quads.get(frame);
    const camera = this.camera;
    if (!camera || !quad) return;
    const near = this.pose && refinePose(this.pose.pose, surfaceCorners(camera.ratio), quad, camera);
    const best = near && near.rms < 3 ? near : posesOfQuad(quad, camera)[0];
    const plane = this.onSurface();
    const there = best && plane && project(best.pose, camera, plane);
    if (best && there)
      this.pose = {
        frame,
        pose: best.pose,
        left: seen.map(([x, y], i): Point => [x - there[i]![0], y - there[i]![1]]),
      };
  }

  private onSurface(): Point[] | null {
    const quad = this.corners!.map((i) => this.reference[i]!);
    const map = this.camera && homographyBetweenQuads(quad, surfaceCorners(this.camera.ratio));
    return map && applyToPoints(map, this.reference);
  }

  /**
   * Where point `index` must be, by the others that are seen (at least three): through the rigid plane's pose where camera and proportions are known, or
   * through the plane's last map and what is affine of its change since; whichever was nearer on the frames on which the point was seen, too.
   */
  reckon(index: number, seen: readonly (Point | null)[]): Reckoned | null {
    const others = seen.map((p, i) => (i === index ? null : p));
    const count = others.filter(Boolean).length;
    if (count < 3) return null;
    const whole = count >= 4 ? this.mapBy(others) : null;
    if (whole) return { at: applyToPoint(whole, this.reference[index]!), off: 0 };
    const off = this.off[index]!;
    const byPose = off.pose <= Math.max(HOLDS_LONGER, off.affine) ? this.byPose(index, others) : null;
    if (byPose) return { at: byPose, off: off.pose };
    const map = this.mapBy(others);
    return map && { at: applyToPoint(map, this.reference[index]!), off: off.affine };
  }

  /** Through the pose of the rigid plane. */
  private byPose(index: number, others: readonly (Point | null)[]): Point | null {
    const plane = this.corners && this.camera && this.pose && this.onSurface();
    if (!plane || !this.pose || !this.camera) return null;
    const left = this.pose.left;
    const known = others.flatMap((p, i) =>
      p ? [{ on: plane[i]!, at: [p[0] - left[i]![0], p[1] - left[i]![1]] as Point }] : [],
    );
    const found = refinePose(
      this.pose.pose,
      known.map((k) => k.on),
      known.map((k) => k.at),
      this.camera,
    );
    const at = found && found.rms < 2 ? project(found.pose, this.camera, [plane[index]!]) : null;
    return at && [at[0]![0] + left[index]![0], at[0]![1] + left[index]![1]];
  }

  /** Remembers how far off each point would have been reckoned from the others, on a frame on which all are seen. */
  private compare(seen: readonly Point[]): void {
    if (seen.length > 4) return;
    for (const [i, at] of seen.entries()) {
      const others = seen.map((p, k) => (k === i ? null : p));
      const map = this.mapBy(others);
      const byPose = this.byPose(i, others);
      const off = this.off[i]!;
      const after = (known: number, place: Point | null) =>
        place
          ? Math.max(Math.hypot(place[0] - at[0], place[1] - at[1]), known < Infinity ? REMEMBERED * known : 0)
          : known;
      this.off[i] = {
        pose: after(off.pose, byPose),
        affine: after(off.affine === Infinity ? UNKNOWN_OFF : off.affine, map && applyToPoint(map, this.reference[i]!)),
      };
    }
  }

  /** Keeps the pose near what three points say, so that it goes on while the fourth is hidden. */
  goOn(frame: number, seen: readonly (Point | null)[]): void {
    const camera = this.camera;
    const plane = this.corners && camera && this.onSurface();
    if (!plane || !camera || !this.pose) return;
    const left = this.pose.left;
    const known = seen.flatMap((p, i) =>
      p ? [{ on: plane[i]!, at: [p[0] - left[i]![0], p[1] - left[i]![1]] as Point }] : [],
    );
    const found =
      known.length >= 3
        ? refinePose(
            this.pose.pose,
            known.map((k) => k.on),
            known.map((k) => k.at),
            camera,
          )
        : null;
    if (found && found.rms < 2) this.pose = { frame, pose: found.pose, left };
  }
}

interface Pair {
  readonly from: Point;
  readonly to: Point;
}

function affineOf([a, b, c]: readonly Pair[]): Homography | null {
  const [x1, y1] = [b!.from[0] - a!.from[0], b!.from[1] - a!.from[1]];
  const [x2, y2] = [c!.from[0] - a!.from[0], c!.from[1] - a!.from[1]];
  const det = x1 * y2 - x2 * y1;
  if (Math.abs(det) < 1e-6) return null;
  const row = (k: 0 | 1): [number, number, number] => {
    const u1 = b!.to[k] - a!.to[k];
    const u2 = c!.to[k] - a!.to[k];
    const p = (u1 * y2 - u2 * y1) / det;
    const q = (x1 * u2 - x2 * u1) / det;
    return [p, q, a!.to[k] - p * a!.from[0] - q * a!.from[1]];
  };
  return [...row(0), ...row(1), 0, 0, 1];
}

function similarityOf(a: Pair, b: Pair): Homography {
  const [x, y] = [b.from[0] - a.from[0], b.from[1] - a.from[1]];
  const [u, v] = [b.to[0] - a.to[0], b.to[1] - a.to[1]];
  const square = Math.max(1e-12, x * x + y * y);
  const p = (u * x + v * y) / square;
  const q = (v * x - u * y) / square;
  return [p, -q, a.to[0] - p * a.from[0] + q * a.from[1], q, p, a.to[1] - q * a.from[0] - p * a.from[1], 0, 0, 1];
}
