import { describe, expect, test } from 'vitest';
import { gaussianFrom, randomFrom } from '../../../demo/scene/random.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import { rotationFromVector, type Vector3 } from '../pose/rotation.ts';
import type { FeatureTrack } from './feature-tracks.ts';
import {
  filmedByRows,
  filmedCorners,
  rowsLate,
  standingCorners,
  standingTracks,
  type RollingRows,
} from './rolling-shutter.ts';
import type { CameraState } from './scene-camera.ts';
import { readScene, writeScene } from './scene-file.ts';
import { cornersOnFrame, type ScenePlane } from './scene-plane.ts';
import { motionOfPlane } from './scene-track.ts';
import { solveRolling } from './solve-rolling-shutter.ts';
import { inCamera } from './camera-frames.ts';

const WIDTH = 960;
const HEIGHT = 540;
const FRAMES = 28;
const FOCAL = 900;
const ROWS: RollingRows = { rowTime: 0.45, height: HEIGHT };
/** Fast pans to and fro while the camera is carried sideways. */
const path = (t: number): CameraState => ({
  rotation: rotationFromVector([0.03 * Math.sin(t / 5), 0.13 * Math.sin(t / 6), 0.02 * Math.cos(t / 9)]),
  position: [1.4 - (2.8 * t) / FRAMES, 0.1 * Math.sin(t / 8), 0.2 * Math.cos(t / 11)],
  focal: FOCAL,
});
const seen = (at: Vector3, t: number): Point => {
  const camera = path(t);
  const [x, y, z] = inCamera(camera, at);
  return [WIDTH / 2 + (FOCAL * x) / z, HEIGHT / 2 + (FOCAL * y) / z];
};
/** Where something is filmed on a frame, each row at its own time. */
function filmed(at: Vector3, frame: number, rows: RollingRows | null): Point {
  let p = seen(at, frame);
  for (let k = 0; rows && k < 30; k++) p = seen(at, frame + rowsLate(rows, p[1]));
  return p;
}
function tracksOf(rows: RollingRows | null, noise: number, count = 80): FeatureTrack[] {
  const random = randomFrom(5);
  const gauss = gaussianFrom(random);
  return Array.from({ length: count }, () => [9 * random() - 4.5, 5 * random() - 2.5, 5 + 7 * random()] as const).map(
    (at) => {
      const places = Array.from({ length: FRAMES }, (_, f) => filmed(at, f, rows));
      return { first: 0, xs: places.map(([x]) => x + noise * gauss()), ys: places.map(([, y]) => y + noise * gauss()) };
    },
  );
}

describe('rows read one after the other', () => {
  test('tracks are carried to their frames’ own times, and places back to their rows’', () => {
    const rolled = tracksOf(ROWS, 0, 60);
    const standing = standingTracks(rolled, ROWS);
    const truth = tracksOf(null, 0, 60);
    let off = 0;
    let before = 0;
    let back = 0;
    standing.forEach((track, i) => {
      for (let f = 1; f < FRAMES - 1; f++) {
        const now: Point = [truth[i]!.xs[f]!, truth[i]!.ys[f]!];
        const at = (g: number): Point => [truth[i]!.xs[g]!, truth[i]!.ys[g]!];
        if (now[1] < 0 || now[1] > HEIGHT) continue;
        off = Math.max(off, Math.hypot(track.xs[f]! - now[0], track.ys[f]! - now[1]));
        before = Math.max(before, Math.hypot(rolled[i]!.xs[f]! - now[0], rolled[i]!.ys[f]! - now[1]));
        back = Math.max(
          back,
          distance(filmedByRows(ROWS, { before: at(f - 1), now, after: at(f + 1) }), [
            rolled[i]!.xs[f]!,
            rolled[i]!.ys[f]!,
          ]),
        );
      }
    });
    expect(before).toBeGreaterThan(3);
    expect(off).toBeLessThan(0.06);
    expect(back).toBeLessThan(0.06);
  });
  test('corners that were filmed are placed where they stand, and filmed again are where they were', () => {
    const moves = (now: Quad, dx: number, dy: number) =>
      now.map(([x, y]): Point => [x + dx * (1 + y / 900), y + dy]) as unknown as Quad;
    const corners: Quad = [
      [200, 40],
      [500, 60],
      [510, 500],
      [190, 480],
    ];
    const around = (now: Quad) => ({ before: moves(now, -18, 4), after: moves(now, 21, -3) });
    const standing = standingCorners(ROWS, corners, around);
    const { before, after } = around(standing);
    expect(distance(standing[0], corners[0])).toBeGreaterThan(2);
    expect(
      Math.max(...filmedCorners(ROWS, before, standing, after).map((p, i) => distance(p, corners[i]!))),
    ).toBeLessThan(1e-6);
    // With neither neighbour known nothing moves.
    expect(filmedCorners(ROWS, null, corners, null)).toEqual(corners);
  });
});

describe('a scene by a camera that reads its rows one after the other', () => {
  const input = (tracks: FeatureTrack[]) => ({
    width: WIDTH,
    height: HEIGHT,
    frames: [0, FRAMES - 1] as const,
    tracks,
    random: randomFrom(9),
  });
  test('told by the shot: its time, the focal length, and where a plane’s corners are filmed; as a file and back', async () => {
    const tracks = tracksOf(ROWS, 0.05);
    const solved = await solveRolling(input(tracks), 'estimate');
    expect(Math.abs(solved.rows!.rowTime - ROWS.rowTime)).toBeLessThan(0.01);
    expect(solved.notes.at(-1)).toMatch(
      /the last 4[45]\.\d % of a frame’s time after the first: points then fit to 0\.\d+ px, and to \d\.\d+ px without/,
    );
    const scene = readScene(
      writeScene(solved, { width: WIDTH, height: HEIGHT, rate: [25, 1], pixelCentre: 'integer' }, tracks),
    );
    expect(scene.rows).toEqual({ rowTime: Number(solved.rows!.rowTime.toPrecision(6)), height: HEIGHT });
    expect(Math.max(...scene.frames.map(({ camera }) => Math.abs(camera.focal / FOCAL - 1)))).toBeLessThan(0.01);
    // A plane at z = 8 of the world; its normal as the solved camera has it, by its own scale: from three of the corners' depths.
    const world: readonly Vector3[] = [
      [-1, -1.6, 8],
      [1.2, -1.6, 8],
      [1.2, 1.4, 8],
      [-1, 1.4, 8],
    ];
    const home = 14;
    const corners = world.map((at) => filmed(at, home, ROWS)) as unknown as Quad;
    const camera = scene.frames[home]!.camera;
    const truth = path(home);
    const turned = [0, 1, 2].map((k) => truth.rotation[3 * k + 2]!) as unknown as Vector3;
    const far =
      8 +
      (truth.rotation[2]! * truth.position[0] +
        truth.rotation[5]! * truth.position[1] +
        truth.rotation[8]! * truth.position[2]);
    const base = (a: CameraState, b: CameraState) => {
      const at = (c: CameraState) =>
        [0, 1, 2].map(
          (k) =>
            -(c.rotation[k]! * c.position[0] + c.rotation[3 + k]! * c.position[1] + c.rotation[6 + k]! * c.position[2]),
        );
      return Math.hypot(...at(a).map((v, i) => v - at(b)[i]!));
    };
    const scale = base(camera, scene.frames[2]!.camera) / base(truth, path(2));
    const plane: ScenePlane = {
      frame: home,
      normal: turned.map((v) => v / (far * scale)) as unknown as Vector3,
      covariance: Array<number>(9).fill(0),
    };
    const off = (of: typeof scene) =>
      Math.max(
        ...[3, 9, 18, 25].map((f) =>
          Math.max(
            ...cornersOnFrame(of, plane, corners, of.frames[f]!)!.map((p, i) =>
              distance(p, filmed(world[i]!, f, ROWS)),
            ),
          ),
        ),
      );
    expect(off(scene)).toBeLessThan(0.35);
    expect(off({ ...scene, rows: undefined })).toBeGreaterThan(4 * off(scene));
    expect(motionOfPlane(scene, plane, corners, [0, FRAMES - 1]).every((row) => row.homography !== null)).toBe(true);
  }, 120_000);
  test('where all rows are read at once it is left out, and that is said', async () => {
    const scene = await solveRolling(input(tracksOf(null, 0.05)), 'estimate');
    expect(scene.rows).toBeUndefined();
    expect(scene.notes.at(-1)).toContain('is not seen in this shot');
    expect(await solveRolling(input(tracksOf(null, 0.05)), undefined)).not.toHaveProperty('rows');
  }, 120_000);
});
