import type { Point } from '../../base/geometry/homography.ts';
import type { Vector3 } from '../pose/rotation.ts';
import type { FeatureTrack } from './feature-tracks.ts';
import type { RollingRows } from './rolling-shutter.ts';
import type { CameraState } from './scene-camera.ts';

/** How the camera moves: not at all, only turning, or from place to place. */
export type CameraMotion = 'still' | 'turns' | 'walks';

export interface SceneInput {
  readonly width: number;
  readonly height: number;
  /** First and last frame. */
  readonly frames: readonly [number, number];
  readonly tracks: readonly FeatureTrack[];
  /** Focal length, px, where it is known. */
  readonly focal?: number | undefined;
  /** A focal length to begin with, px, where it is nearly known: no others are tried. */
  readonly begin?: number | undefined;
  /** Where the camera looks; the middle of the picture unless given. */
  readonly centre?: Point | undefined;
  /** What is known of the lens; estimated (k1, or k1 and k2) where a number of terms is asked for. */
  readonly lens?: { readonly k1: number; readonly k2: number } | { readonly terms: 0 | 1 | 2 } | undefined;
  readonly random: () => number;
  readonly progress?: ((done: number, of: number) => void) | undefined;
  /** Called between long pieces of work: lets others run, and may throw to break off. */
  readonly breathe?: (() => Promise<void>) | undefined;
}

export interface SceneFrame {
  readonly frame: number;
  readonly camera: CameraState;
  /** Static points that fit on this frame, and what they are off, px. */
  readonly holds: number;
  readonly rms: number;
  /** Covariance of the camera (turn, t, log focal) for observations of σ = 1 px. */
  readonly covariance: Float64Array;
}

export interface ScenePoint {
  readonly track: number;
  readonly at: Vector3;
}

export interface Scene {
  readonly motion: CameraMotion;
  readonly zooms: boolean;
  readonly focalKnown: boolean;
  readonly centre: Point;
  readonly k1: number;
  readonly k2: number;
  readonly frames: readonly SceneFrame[];
  readonly points: readonly ScenePoint[];
  /** Root mean square reprojection error, px. */
  readonly rms: number;
  /** What one observation is off along one axis, px. */
  readonly sigma: number;
  /** Of the features that are seen long enough, the share that fits one still scene. */
  readonly share: number;
  /** What is to be known about it, in sentences. */
  readonly notes: readonly string[];
  /** How the camera reads its rows, where not all at once: cameras are those of the frames' own times, corners are stated as filmed. */
  readonly rows?: RollingRows | undefined;
}
