import { describe, expect, test } from 'vitest';
import { cornerSpread } from '../follow/certainty.ts';
import { applyToPoints, IDENTITY } from '../../base/geometry/homography.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import { rotationFromVector, type Vector3 } from '../pose/rotation.ts';
import { planeAtDistance, planeThroughDrag, planeTurned } from './move-plane.ts';
import { edgeOnNote } from './place-plane.ts';
import { cornersOnFrame, planeSeenFrom, type ScenePlane } from './scene-plane.ts';
import { readScene, writeScene } from './scene-file.ts';
import { certaintyFromCorners, motionOfPlane } from './scene-track.ts';
import type { Scene } from './scene.ts';

/** Three frames of a camera that walks; the plane faces its first frame at depth 5. */
const covariance = new Float64Array(49);
for (let k = 0; k < 7; k++) covariance[8 * k] = 1e-9;
const scene: Scene = {
  motion: 'walks',
  zooms: false,
  focalKnown: false,
  centre: [640, 360],
  k1: -0.05,
  k2: 0,
  rms: 0.2,
  sigma: 0.15,
  share: 1,
  notes: [],
  points: [{ track: 0, at: [1, 2, 7] }],
  frames: [0, 1, 2].map((frame) => ({
    frame,
    camera: {
      rotation: rotationFromVector([0.01 * frame, 0.05 * frame, 0]),
      position: [-0.5 * frame, 0.05 * frame, 0.1 * frame],
      focal: 1000,
    },
    holds: 60,
    rms: 0.2,
    covariance,
  })),
};
const plane: ScenePlane = { frame: 0, normal: [0, 0, 0.2], covariance: [1e-8, 0, 0, 0, 1e-8, 0, 0, 0, 1e-8] };
const corners: Quad = [
  [500, 260],
  [780, 260],
  [780, 460],
  [500, 460],
];

describe('a plane in a solved scene', () => {
  test('its track: nothing moves on its own frame; on others where the camera has it; beyond them it is lost', () => {
    const carried = motionOfPlane(scene, plane, corners, [0, 3]);
    expect(carried[0]).toMatchObject({ homography: IDENTITY, confidence: 1 });
    const there = cornersOnFrame(scene, plane, corners, scene.frames[2]!)!;
    expect(
      Math.max(...applyToPoints(carried[2]!.homography!, corners).map((p, i) => distance(p, there[i]!))),
    ).toBeLessThan(1e-6);
    expect(carried[3]).toMatchObject({ homography: null, lost: expect.stringContaining('eight') as unknown });
    // Farther from the plane's own frame its depth tells more.
    const spread = (f: number) =>
      Math.max(...corners.map((c) => cornerSpread(carried[f]!.certainty!, carried[f]!.homography!, c)));
    expect(spread(2)).toBeGreaterThan(spread(1));
    expect(spread(2)).toBeLessThan(1);
  });
  test('a covariance of corners comes back as bounds of the corners', () => {
    const covariance8 = new Float64Array(64);
    for (let k = 0; k < 8; k++) covariance8[9 * k] = 0.04;
    const certainty = certaintyFromCorners(covariance8, corners, IDENTITY)!;
    // σ = 0.2 px both ways: 95 % lie within 2.447 σ (χ² of two), as cornerSpread has it.
    for (const c of corners) expect(cornerSpread(certainty, IDENTITY, c)).toBeCloseTo(0.2 * Math.sqrt(3.84 + 2.15), 3);
  });
  test('one that is seen nearly edge-on is reported, with what to do', () => {
    const rays: Vector3[] = [
      [-0.1, -0.1, 1],
      [0.1, -0.1, 1],
      [0.1, 0.1, 1],
      [-0.1, 0.1, 1],
    ];
    expect(edgeOnNote([0, 0, 0.2], rays)).toEqual([]);
    expect(edgeOnNote([0.3, 0, 0.02], rays)[0]).toMatch(/nearly edge-on.*a frame that shows more of it/);
  });
  test('seen from another frame it is the same plane', () => {
    const other = planeSeenFrom(scene, plane, 2)!;
    const there = cornersOnFrame(scene, plane, corners, scene.frames[2]!)!;
    const back = cornersOnFrame(scene, other, there, scene.frames[0]!)!;
    expect(Math.max(...back.map((p, i) => distance(p, corners[i]!)))).toBeLessThan(1e-6);
    expect(planeSeenFrom(scene, plane, 9)).toBeNull();
  });
  test('a dragged corner goes where it is put, as far as its ray allows, and the others stay near', () => {
    const farther = planeAtDistance(plane, 1.1);
    const goal = cornersOnFrame(scene, farther, corners, scene.frames[2]!)!;
    const before = cornersOnFrame(scene, plane, corners, scene.frames[2]!)!;
    const moved = planeThroughDrag(scene, plane, corners, 1, 2, goal[1])!;
    const now = cornersOnFrame(scene, moved, corners, scene.frames[2]!)!;
    expect(distance(now[1], goal[1])).toBeLessThan(0.05);
    expect(distance(now[3], before[3])).toBeLessThan(distance(now[1], before[1]));
    expect(planeThroughDrag(scene, plane, corners, 1, 0, [1, 1])).toBeNull();
  });
  test('turned about its middle, the side named goes away', () => {
    const turned = planeTurned(scene, plane, corners, 10, 0)!;
    const depth = (p: ScenePlane, x: number, y: number) => 1 / (p.normal[0] * x + p.normal[1] * y + p.normal[2]);
    expect(depth(turned, 0, 0)).toBeCloseTo(5, 6);
    expect(depth(turned, 0.14, 0)).toBeGreaterThan(depth(turned, -0.14, 0));
    const lower = planeTurned(scene, plane, corners, 0, 10)!;
    expect(depth(lower, 0, 0.1)).toBeGreaterThan(depth(lower, 0, -0.1));
  });
  test('a scene comes back from its file', () => {
    const file = writeScene(
      scene,
      { width: 1280, height: 720, rate: [25, 1], pixelCentre: 'integer' },
      [{ first: 0, xs: [1, 2], ys: [1, 2] }],
      { plane, corners },
    );
    const back = readScene(JSON.parse(JSON.stringify(file)) as typeof file);
    expect(back.centre).toEqual([640, 360]);
    expect(back.frames[1]!.camera.position).toEqual(scene.frames[1]!.camera.position);
    expect([...back.frames[0]!.covariance]).toEqual([...covariance]);
    expect(back.placed).toEqual({ plane, corners });
  });
});
