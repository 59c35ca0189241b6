import { describe, expect, test } from 'vitest';
import { gaussianFrom, randomFrom } from '../../../demo/scene/random.ts';
import { rotationFromVector, type Vector3 } from '../pose/rotation.ts';
import type { FeatureTrack } from './feature-tracks.ts';
import { solveScene } from './solve-scene.ts';
import type { Scene, SceneInput } from './scene.ts';
import { inCamera } from './camera-frames.ts';
import type { CameraState } from './scene-camera.ts';

const WIDTH = 1280;
const HEIGHT = 720;
const FRAMES = 60;
const FOCAL = 1100;

/** Tracks of points in a hall, seen by a camera that goes `way` (0: only turns), with noise; a share of them ride on something else. */
function seenBy(path: (frame: number) => CameraState, noise: number, seed: number, riding = 0): FeatureTrack[] {
  const random = randomFrom(seed);
  const gauss = gaussianFrom(random);
  const tracks: FeatureTrack[] = [];
  for (let i = 0; i < 280; i++) {
    const at: Vector3 = [16 * random() - 8, 8 * random() - 4, 5 + 9 * random()];
    const rides = random() < riding;
    let track: FeatureTrack | null = null;
    for (let f = 0; f < FRAMES; f++) {
      const camera = path(f);
      const [x, y, z] = inCamera(
        camera,
        rides ? [at[0] + 0.06 * f, at[1] + 0.02 * Math.sin(f / 5), at[2] - 0.03 * f] : at,
      );
      const u = WIDTH / 2 + (camera.focal * x) / z;
      const v = HEIGHT / 2 + (camera.focal * y) / z;
      if (!(z > 1 && u > 4 && v > 4 && u < WIDTH - 4 && v < HEIGHT - 4)) {
        if (track && track.xs.length > 2) tracks.push(track);
        track = null;
        continue;
      }
      track ??= { first: f, xs: [], ys: [] };
      track.xs.push(u + noise * gauss());
      track.ys.push(v + noise * gauss());
    }
    if (track && track.xs.length > 2) tracks.push(track);
  }
  return tracks;
}

const walking = (f: number): CameraState => ({
  rotation: rotationFromVector([0.02 * Math.sin(f / 9), 0.25 * (f / FRAMES - 0.5), 0.01 * Math.cos(f / 7)]),
  position: [2 - (4 * f) / FRAMES, 0.1 * Math.sin(f / 8), 0.2 * Math.cos(f / 11)],
  focal: FOCAL,
});
const turningOnly = (f: number): CameraState => ({
  ...walking(f),
  rotation: rotationFromVector([0.06 * Math.sin(f / 9), 0.5 * (f / FRAMES - 0.5), 0.02 * Math.cos(f / 7)]),
  position: [0, 0, 0],
});
const zooming = (f: number): CameraState => ({ ...walking(f), focal: FOCAL * 1.8 ** (f / (FRAMES - 1)) });
const solve = (tracks: FeatureTrack[], more: Partial<SceneInput> = {}): Promise<Scene> =>
  solveScene({ width: WIDTH, height: HEIGHT, frames: [0, FRAMES - 1], tracks, random: randomFrom(9), ...more });
const offBy = (scene: Scene, path: (f: number) => CameraState) =>
  Math.max(...scene.frames.map(({ frame, camera }) => Math.abs(camera.focal / path(frame).focal - 1)));

describe('a scene from tracks', () => {
  test('a camera that walks: focal length, every frame, what is left', async () => {
    const scene = await solve(seenBy(walking, 0.15, 1));
    expect(scene).toMatchObject({ motion: 'walks', zooms: false, notes: [] });
    expect(scene.frames).toHaveLength(FRAMES);
    expect(offBy(scene, walking)).toBeLessThan(0.01);
    expect(scene.rms).toBeLessThan(0.24);
    expect(scene.share).toBeGreaterThan(0.95);
  }, 60_000);
  test('a third of the points riding on a bus: they are left out', async () => {
    const scene = await solve(seenBy(walking, 0.15, 2, 0.33));
    expect(scene.motion).toBe('walks');
    expect(offBy(scene, walking)).toBeLessThan(0.015);
    expect(scene.share).toBeLessThan(0.75);
  }, 60_000);
  test('a camera that only turns is recognised as one', async () => {
    const scene = await solve(seenBy(turningOnly, 0.15, 3));
    expect(scene).toMatchObject({ motion: 'turns', zooms: false });
    expect(offBy(scene, turningOnly)).toBeLessThan(0.01);
  }, 60_000);
  test('a zoom, walking', async () => {
    const scene = await solve(seenBy(zooming, 0.15, 4));
    expect(scene).toMatchObject({ motion: 'walks', zooms: true });
    expect(offBy(scene, zooming)).toBeLessThan(0.03);
  }, 60_000);
  test('a camera that stands, and too few points', async () => {
    expect((await solve(seenBy(() => walking(20), 0.1, 5))).motion).toBe('still');
    await expect(solve(seenBy(walking, 0.1, 6).slice(0, 6))).rejects.toThrow(/eight/);
  });
});
