import { describe, expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import { fitCamera } from './fit-camera.ts';
import {
  cornersOfPose,
  homographyOfPose,
  posesOfQuad,
  project,
  surfaceCorners,
  type PlanePose,
  type SurfaceCamera,
} from './plane-pose.ts';
import { applyToPoints } from '../../base/geometry/homography.ts';
import { PosePath } from './pose-path.ts';
import {
  rotationFromVector,
  turnBetween,
  turnedBy,
  turnPartly,
  vectorFromRotation,
  type Rotation,
  type Vector3,
} from './rotation.ts';

const CAMERA: SurfaceCamera = { focal: 900, cx: 480, cy: 270, ratio: 0.5 };
const pose = (turn: Vector3, position: Vector3): PlanePose => ({ rotation: rotationFromVector(turn), position });
const off = (a: readonly number[], b: readonly number[]) => Math.hypot(...a.map((v, i) => v - b[i]!));
const worst = (a: Quad, b: Quad) => Math.max(...a.map((p, i) => Math.hypot(p[0] - b[i]![0], p[1] - b[i]![1])));

describe('turns', () => {
  test('axis and angle come back, near half a turn, too', () => {
    for (const v of [
      [0, 0, 0],
      [1e-9, 0, 0],
      [0.3, -0.2, 0.1],
      [0, 3.1, 0.1],
      [1.8, -1.8, 1.7],
    ] as const)
      expect(off(vectorFromRotation(rotationFromVector(v)), v)).toBeLessThan(1e-9);
    const half = vectorFromRotation(rotationFromVector([0, Math.PI, 0]));
    expect(Math.abs(half[1])).toBeCloseTo(Math.PI, 9);
  });
  // K. Shoemake, Animating rotation with quaternion curves, SIGGRAPH 1985: Slerp(q1, q2; u) = sin((1−u)θ)/sin θ · q1 + sin(uθ)/sin θ · q2, cos θ = q1·q2.
  test("partly turned is Shoemake's great arc, at an even speed", () => {
    const a: Vector3 = [0.4, -0.7, 0.2];
    const b: Vector3 = [-0.5, 0.9, 1.1];
    const qa = quaternion(a);
    const qb = quaternion(b);
    const dot = qa.reduce((s, v, i) => s + v * qb[i]!, 0);
    const theta = Math.acos(dot);
    const from = rotationFromVector(a);
    const to = rotationFromVector(b);
    for (const u of [0, 0.25, 0.5, 0.9, 1]) {
      const slerp = qa.map((v, i) => (Math.sin((1 - u) * theta) * v + Math.sin(u * theta) * qb[i]!) / Math.sin(theta));
      expect(off(turnPartly(from, to, u), fromQuaternion(slerp))).toBeLessThan(1e-12);
    }
    const steps = [0, 0.2, 0.4, 0.6, 0.8].map((u) =>
      Math.hypot(...turnBetween(turnPartly(from, to, u), turnPartly(from, to, u + 0.2))),
    );
    steps.forEach((s) => expect(s).toBeCloseTo(steps[0]!, 12));
  });
});

describe('a pose from four corners', () => {
  test('is the one they were drawn from, from the front, leaning, upside down and from behind', () => {
    for (const turn of [
      [0, 0, 0],
      [0.5, 0.2, 0],
      [-0.4, 0.6, 2.9],
      [0, Math.PI - 0.4, 0.2],
    ] as const) {
      const p = pose(turn, [0.3, -0.2, 6]);
      const corners = cornersOfPose(p, CAMERA)!;
      const [best] = posesOfQuad(corners, CAMERA);
      expect(best!.rms).toBeLessThan(1e-6);
      expect(off(best!.pose.rotation, p.rotation)).toBeLessThan(1e-6);
      expect(off(best!.pose.position, p.position)).toBeLessThan(1e-5);
      expect(
        off(applyToPoints(homographyOfPose(p, CAMERA), surfaceCorners(CAMERA.ratio)).flat(), corners.flat()),
      ).toBeLessThan(1e-9);
    }
  });
  test('far away the opposite leaning fits almost as well, and is reported as well', () => {
    const p = pose([0.5, 0, 0], [0, 0, 14]);
    const found = posesOfQuad(cornersOfPose(p, CAMERA)!, CAMERA);
    expect(found).toHaveLength(2);
    expect(found[1]!.rms).toBeLessThan(1.5);
    expect(vectorFromRotation(found[1]!.pose.rotation)[0]).toBeLessThan(-0.3);
  });
  test('three corners on a line have none; behind the camera nothing is seen', () => {
    expect(
      posesOfQuad(
        [
          [0, 0],
          [10, 0],
          [20, 0],
          [5, 30],
        ],
        CAMERA,
      ),
    ).toEqual([]);
    expect(project(pose([0, 0, 0], [0, 0, -1]), CAMERA, [[0, 0]])).toBeNull();
  });
});

describe('the camera', () => {
  const quads = [0, 1, 2, 3, 4, 5].map((i) =>
    cornersOfPose(pose([0.5 * Math.sin(i), 0.7 * Math.cos(1.7 * i), 0.9 * i], [0.2 * i - 0.4, 0.1, 3.2]), CAMERA)!,
  );
  test('is found from quads that lean, with their proportions', () => {
    const fit = fitCamera(quads, 960, 540)!;
    expect(fit.camera.focal / 900).toBeCloseTo(1, 2);
    expect(fit.camera.ratio).toBeCloseTo(0.5, 3);
    expect(fit.rms).toBeLessThan(0.05);
  });
  test('what is known is kept', () =>
    expect(fitCamera(quads, 960, 540, { focal: 1234, ratio: 0.6 })!.camera).toEqual({
      focal: 1234,
      ratio: 0.6,
      cx: 480,
      cy: 270,
    }));
  test('frontal quads leave it near what cameras have', () => {
    const flat = [0, 1, 2].map((i) => cornersOfPose(pose([0, 0, 0.2 * i], [0, 0.1 * i, 5]), CAMERA)!);
    const fit = fitCamera(flat, 960, 540)!;
    expect(fit.camera.focal).toBeGreaterThan(500);
    expect(fit.camera.focal).toBeLessThan(2500);
  });
});

describe('a way through poses', () => {
  const knots = (frames: readonly number[], at: (frame: number) => PlanePose) =>
    frames.map((frame) => ({ frame, poses: posesOfQuad(cornersOfPose(at(frame), CAMERA)!, CAMERA) }));
  const thrown = (f: number): PlanePose => pose([0, 0, 0.12 * f], [0.05 * f - 0.4, 1.2 - 0.24 * f + 0.01 * f * f, 7]);
  test('a throw with an even spin is one exactly', () => {
    const path = new PosePath(knots([0, 6, 13, 24], thrown));
    for (let f = 0; f <= 24; f++)
      expect(worst(cornersOfPose(path.at(f), CAMERA)!, cornersOfPose(thrown(f), CAMERA)!)).toBeLessThan(0.02);
  });
  test('a tumble about two axes stays within a pixel or so, far nearer than straight turning', () => {
    const tumble = (f: number): PlanePose => ({
      rotation: turnedBy(
        rotationFromVector([0, 0, 0.13 * f]),
        rotationFromVector([0.5 * Math.sin(0.15 * f), 0.5 * Math.cos(0.12 * f), 0]),
      ),
      position: [0.02 * f, 0.3 - 0.06 * f + 0.003 * f * f, 6],
    });
    const path = new PosePath(knots([0, 5, 10, 15, 20], tumble));
    const errors: number[] = [];
    const straight: number[] = [];
    for (let f = 0; f <= 20; f++) {
      errors.push(worst(cornersOfPose(path.at(f), CAMERA)!, cornersOfPose(tumble(f), CAMERA)!));
      straight.push(worst(cornersOfPose(path.straightAt(f), CAMERA)!, cornersOfPose(tumble(f), CAMERA)!));
    }
    expect(Math.max(...errors)).toBeLessThan(1.6);
    expect(Math.max(...straight)).toBeGreaterThan(2 * Math.max(...errors));
  });
  test('more than half round between two keys is turned the way that the neighbours turn', () => {
    const spin = (f: number): PlanePose => pose([0, 0, 0.3 * f], [0, 0, 6]);
    const path = new PosePath(knots([0, 1, 2, 14, 15, 16], spin));
    expect(off(path.at(8).rotation, rotationFromVector([0, 0, 2.4]))).toBeLessThan(0.02);
  });
  test('from one knot it stands still, before the first and after the last as well', () => {
    const path = new PosePath(knots([4, 8], thrown));
    expect(path.at(-5)).toEqual(path.at(4));
    expect(path.at(99)).toEqual(path.at(8));
    expect(() => new PosePath([])).toThrow(RangeError);
  });
});

function quaternion([x, y, z]: Vector3): number[] {
  const angle = Math.hypot(x, y, z);
  const s = Math.sin(angle / 2) / angle;
  return [Math.cos(angle / 2), s * x, s * y, s * z];
}

function fromQuaternion([w, x, y, z]: readonly number[]): Rotation {
  return [
    1 - 2 * (y! * y! + z! * z!),
    2 * (x! * y! - w! * z!),
    2 * (x! * z! + w! * y!),
    2 * (x! * y! + w! * z!),
    1 - 2 * (x! * x! + z! * z!),
    2 * (y! * z! - w! * x!),
    2 * (x! * z! - w! * y!),
    2 * (y! * z! + w! * x!),
    1 - 2 * (x! * x! + y! * y!),
  ];
}
