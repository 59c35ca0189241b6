import { clamp } from '../../base/geometry/clamp.ts';
import { upperMedian } from '../../base/image/statistics.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { straighten } from '../lens/lens.ts';
import type { Vector3 } from '../pose/rotation.ts';
import { adjust, distancesOf, type Bundle, type BundleFreedom, type BundleSettings } from './bundle-adjustment.ts';
import { meet, type Ray } from './essential-matrix.ts';
import { placeAt, type FeatureTrack } from './feature-tracks.ts';
import { resect, type Resected, type Seen } from './camera-resection.ts';
import type { CameraState } from './scene-camera.ts';
import { inWorld, seenAt, relative } from './camera-frames.ts';

export interface StructureSettings {
  readonly freedom: BundleFreedom;
  /** Where the camera looks, continuous px. */
  readonly centre: Point;
  readonly usualFocal: number;
  /** Lens that is known beforehand. */
  readonly k1?: number | undefined;
  readonly k2?: number | undefined;
}

/** Rays must differ by so much (radians) for a place to be determined from them. */
const LEAST_ANGLE = 0.006;
/** An observation that is off by more than so many σ, or so many px where σ is small, is left out; a feature that fits on fewer frames, too. */
const FAR_OFF = 4;
const OFF_AT_LEAST = 0.7;
const LEAST_FRAMES = 3;
const FITS_SHARE = 0.6;
const LEAST_SIGMA = 0.05;
const MOST_SIGMA = 1.5;
/** How freely the focal length changes from a key frame to its neighbour (its logarithm). */
export const ZOOM_STEP = 0.08;

/** Cameras of some frames and places of features, as they are found step by step. */
export class Structure {
  readonly cameras = new Map<number, CameraState>();
  /** By track. */
  readonly points = new Map<number, Vector3>();
  /** Tracks that fit nothing rigid. */
  readonly wrong = new Set<number>();
  private readonly off = new Set<number>();
  k1: number;
  k2: number;
  /** What an observation is off along one axis, px. */
  sigma = 0.6;
  rms = Infinity;

  constructor(
    readonly tracks: readonly FeatureTrack[],
    readonly settings: StructureSettings,
  ) {
    this.k1 = settings.k1 ?? 0;
    this.k2 = settings.k2 ?? 0;
  }

  /** The same cameras and places over other tracks. `index`: which of them a track of these is. */
  over(tracks: readonly FeatureTrack[], index: (track: number) => number, settings = this.settings): Structure {
    const out = new Structure(tracks, settings);
    for (const [frame, camera] of this.cameras) out.cameras.set(frame, camera);
    for (const [track, point] of this.points) out.points.set(index(track), point);
    out.k1 = this.k1;
    out.k2 = this.k2;
    out.sigma = this.sigma;
    return out;
  }

  /** Where a feature is seen without the lens, in focal lengths from the middle. */
  ray(track: number, frame: number, camera: CameraState): Ray | null {
    const at = placeAt(this.tracks[track]!, frame);
    if (!at) return null;
    const { centre } = this.settings;
    const [x, y] =
      this.k1 === 0 && this.k2 === 0
        ? at
        : straighten({ k1: this.k1, k2: this.k2, k3: 0, centre, focal: camera.focal }, at);
    return [(x - centre[0]) / camera.focal, (y - centre[1]) / camera.focal];
  }

  /** What is known of a frame: places of features seen on it. */
  seenOn(frame: number): { seen: Seen; tracks: number[] } {
    const points: number[] = [];
    const x: number[] = [];
    const y: number[] = [];
    const tracks: number[] = [];
    const { centre } = this.settings;
    for (const [track, point] of this.points) {
      const at = placeAt(this.tracks[track]!, frame);
      if (!at || this.off.has(key(track, frame))) continue;
      points.push(...point);
      x.push(at[0] - centre[0]);
      y.push(at[1] - centre[1]);
      tracks.push(track);
    }
    return { seen: { points: Float64Array.from(points), x: Float64Array.from(x), y: Float64Array.from(y) }, tracks };
  }

  /** The camera of a frame from the known places seen on it, near the camera of another frame. */
  resectNear(frame: number, start: CameraState, zoomStep = ZOOM_STEP): Resected | null {
    const { seen } = this.seenOn(frame);
    const { turning, focal } = this.settings.freedom;
    return seen.x.length < 6
      ? null
      : resect(start, seen, {
          k1: this.k1,
          k2: this.k2,
          sigma: Math.max(0.3, this.sigma),
          turning,
          ...(focal === 'zoom' ? { zoom: zoomStep } : {}),
        });
  }

  /** Finds the places of features that are seen from cameras far enough apart. */
  findPoints(): void {
    const frames = [...this.cameras.keys()].sort((a, b) => a - b);
    this.tracks.forEach((track, i) => {
      if (this.points.has(i) || this.wrong.has(i)) return;
      const seen = frames.filter((f) => placeAt(track, f) && !this.off.has(key(i, f)));
      const place =
        seen.length < 2 ? null : this.settings.freedom.turning ? this.direction(i, seen[0]!) : this.placeOf(i, seen);
      if (place) this.points.set(i, place);
    });
  }

  private direction(track: number, frame: number): Vector3 | null {
    const camera = this.cameras.get(frame)!;
    const ray = this.ray(track, frame, camera);
    return ray && inWorld(camera, [ray[0], ray[1], 1]);
  }

  /** From the two cameras that see it from farthest apart. */
  private placeOf(track: number, frames: readonly number[]): Vector3 | null {
    const rays = frames.map((f) => {
      const camera = this.cameras.get(f)!;
      const ray = this.ray(track, f, camera)!;
      const d = inWorld(camera, [ray[0], ray[1], 1]);
      const length = Math.hypot(...d);
      return { f, ray, camera, d: d.map((v) => v / length) };
    });
    let best: [number, number] | null = null;
    let widest = LEAST_ANGLE;
    for (let a = 0; a < rays.length; a++)
      for (let b = a + 1; b < rays.length; b++) {
        const cos = rays[a]!.d[0]! * rays[b]!.d[0]! + rays[a]!.d[1]! * rays[b]!.d[1]! + rays[a]!.d[2]! * rays[b]!.d[2]!;
        const angle = Math.acos(Math.min(1, cos));
        if (angle > widest) [best, widest] = [[a, b], angle];
      }
    if (!best) return null;
    const p = rays[best[0]]!;
    const q = rays[best[1]]!;
    const R = relative(p.camera, q.camera);
    const at = meet(R, p.ray, q.ray);
    if (!at) return null;
    const place = inWorld(p.camera, [
      at[0] - p.camera.position[0],
      at[1] - p.camera.position[1],
      at[2] - p.camera.position[2],
    ]);
    // Where it does not fit the other frames it is no place yet.
    const limit = 4 * Math.max(1, this.sigma);
    const fits = rays.filter(({ camera, ray }) => {
      const x = seenAt(camera, place);
      return x && Math.hypot(x[0] - ray[0], x[1] - ray[1]) * camera.focal < limit;
    }).length;
    return fits >= Math.max(2, 0.6 * rays.length) ? place : null;
  }

  /** All together; then what does not fit is left out. */
  adjust(rounds: number, freedom = this.settings.freedom): void {
    this.adjusted(rounds, freedom);
  }

  /** The same with the time between rows: `ahead` are the tracks as they would be were it longer by `by`. Returns by how much it is longer. */
  adjustRows(rounds: number, ahead: readonly FeatureTrack[], by: number): number {
    return this.adjusted(rounds, { ...this.settings.freedom, rows: true }, { ahead, by });
  }

  private adjusted(
    rounds: number,
    freedom: BundleFreedom,
    rows?: { ahead: readonly FeatureTrack[]; by: number },
  ): number {
    const { bundle, frames, tracks } = this.bundle(rows);
    if (frames.length < 2 || tracks.length < 8) return 0;
    const { rms } = adjust(bundle, this.bundleSettings(rounds, frames, freedom));
    frames.forEach((f, i) => this.cameras.set(f, bundle.cameras[i]!));
    tracks.forEach((t, i) =>
      this.points.set(t, [bundle.points[3 * i]!, bundle.points[3 * i + 1]!, bundle.points[3 * i + 2]!]),
    );
    this.k1 = bundle.k1;
    this.k2 = bundle.k2;
    this.rms = rms;
    const distances = distancesOf(bundle);
    // The middle of the distances of two normal coordinates is 1.177 σ.
    this.sigma = clamp(upperMedian(distances) / 1.177, LEAST_SIGMA, MOST_SIGMA);
    this.prune(bundle, frames, tracks, distances);
    return bundle.rows?.time ?? 0;
  }

  bundleSettings(rounds: number, frames: readonly number[], freedom = this.settings.freedom): BundleSettings {
    return { freedom, sigma: this.sigma, rounds, usualFocal: this.settings.usualFocal, still: frames.length >> 1 };
  }

  private prune(bundle: Bundle, frames: readonly number[], tracks: readonly number[], distances: Float64Array): void {
    const limit = Math.max(OFF_AT_LEAST, FAR_OFF * this.sigma);
    tracks.forEach((track, i) => {
      let fits = 0;
      let all = 0;
      for (let o = bundle.starts[i]!; o < bundle.starts[i + 1]!; o++, all++) {
        if (distances[o]! < limit) fits++;
        else this.off.add(key(track, frames[bundle.camera[o]!]!));
      }
      if (fits >= Math.min(LEAST_FRAMES, all) && fits >= FITS_SHARE * all) return;
      this.points.delete(track);
      this.wrong.add(track);
    });
  }

  /** Gives what was left out another chance. */
  forgive(): void {
    this.off.clear();
    this.wrong.clear();
  }

  bundle(rows?: { ahead: readonly FeatureTrack[]; by: number }): {
    bundle: Bundle;
    frames: number[];
    tracks: number[];
  } {
    const dx: number[] = [];
    const dy: number[] = [];
    const frames = [...this.cameras.keys()].sort((a, b) => a - b);
    const starts = [0];
    const camera: number[] = [];
    const x: number[] = [];
    const y: number[] = [];
    const points: number[] = [];
    const tracks: number[] = [];
    const { centre } = this.settings;
    for (const [track, point] of this.points) {
      const from = camera.length;
      frames.forEach((f, i) => {
        const at = placeAt(this.tracks[track]!, f);
        if (!at || this.off.has(key(track, f))) return;
        camera.push(i);
        x.push(at[0] - centre[0]);
        y.push(at[1] - centre[1]);
        if (!rows) return;
        const there = placeAt(rows.ahead[track]!, f)!;
        dx.push((there[0] - at[0]) / rows.by);
        dy.push((there[1] - at[1]) / rows.by);
      });
      if (camera.length - from < 2) {
        camera.length = x.length = y.length = from;
        if (rows) dx.length = dy.length = from;
        continue;
      }
      starts.push(camera.length);
      tracks.push(track);
      points.push(...point);
    }
    return {
      frames,
      tracks,
      bundle: {
        cameras: frames.map((f) => this.cameras.get(f)!),
        k1: this.k1,
        k2: this.k2,
        points: Float64Array.from(points),
        starts: Int32Array.from(starts),
        camera: Int32Array.from(camera),
        x: Float64Array.from(x),
        y: Float64Array.from(y),
        ...(rows ? { rows: { x: Float64Array.from(dx), y: Float64Array.from(dy), time: 0 } } : {}),
      },
    };
  }
}

const key = (track: number, frame: number) => track * 1_000_003 + frame;
