import type { Point } from '../../base/geometry/homography.ts';
import type { FeatureTrack } from './feature-tracks.ts';
import type { CameraState } from './scene-camera.ts';
import type { SceneInput, Scene } from './scene.ts';
import { range, countAt } from './shared-features.ts';

/** A camera that stands: nothing can be determined of depth, nor is there need. */
export function stillScene(input: SceneInput, centre: Point, usual: number, tracks: readonly FeatureTrack[]): Scene {
  const camera: CameraState = {
    rotation: [1, 0, 0, 0, 1, 0, 0, 0, 1],
    position: [0, 0, 0],
    focal: input.focal ?? usual,
  };
  const none = new Float64Array(49);
  return {
    motion: 'still',
    zooms: false,
    focalKnown: input.focal !== undefined,
    centre,
    k1: 0,
    k2: 0,
    points: [],
    rms: 0,
    sigma: 0.1,
    share: 1,
    frames: range(input.frames).map((frame) => ({
      frame,
      camera,
      holds: countAt(tracks, frame),
      rms: 0,
      covariance: none,
    })),
    notes: [
      'The camera stands still: corners placed on one frame hold for all; focal length and depth cannot be determined.',
    ],
  };
}
