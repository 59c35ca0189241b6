import { describe, expect, test } from 'vitest';
import { gaussianFrom, randomFrom } from '../../../demo/scene/random.ts';
import { rotationFromVector, turnedBy } from '../pose/rotation.ts';
import { adjust, covarianceOf, type Bundle, type BundleFreedom } from './bundle-adjustment.ts';
import { CAMERA_UNKNOWNS, projectWithSlopes, type CameraState, type Projected } from './scene-camera.ts';

const SIGMA = 0.2;
const USUAL = 1000;
const blank = (): Projected => ({
  at: new Float64Array(2),
  camera: new Float64Array(2 * CAMERA_UNKNOWNS),
  shared: new Float64Array(6),
  point: new Float64Array(6),
});

/** Cameras on a path past points in a box; seen with noise, and as `freedom` says. */
function made(
  { turning, focal }: BundleFreedom,
  k1: number,
  seed: number,
  noise = SIGMA,
): { bundle: Bundle; truth: CameraState[]; points: Float64Array } {
  const random = randomFrom(seed);
  const gauss = gaussianFrom(random);
  const cameras = 9;
  const n = 150;
  const points = Float64Array.from({ length: 3 * n }, (_, i) => (i % 3 === 2 ? 5 + 5 * random() : 6 * random() - 3));
  const truth = Array.from({ length: cameras }, (_, i): CameraState => ({
    rotation: rotationFromVector([0.01 * i, 0.04 * (i - 4), 0.01 * Math.sin(i)]),
    position: turning ? [0, 0, 0] : [0.25 * (4 - i), 0.03 * i, 0.05 * Math.cos(i)],
    focal: focal === 'zoom' ? 900 * 1.06 ** i : 900,
  }));
  const starts = [0];
  const camera: number[] = [];
  const x: number[] = [];
  const y: number[] = [];
  const p = blank();
  for (let i = 0; i < n; i++) {
    truth.forEach((c, k) => {
      if (!projectWithSlopes(c, k1, 0, points, 3 * i, p) || Math.abs(p.at[0]!) > 640 || Math.abs(p.at[1]!) > 360)
        return;
      camera.push(k);
      x.push(p.at[0]! + noise * gauss());
      y.push(p.at[1]! + noise * gauss());
    });
    starts.push(camera.length);
  }
  const bundle: Bundle = {
    cameras: truth.map((c, i) => ({
      rotation: turnedBy(
        rotationFromVector(i === 0 ? [0, 0, 0] : [0.01 * gauss(), 0.01 * gauss(), 0.01 * gauss()]),
        c.rotation,
      ),
      position:
        turning || i === 0
          ? c.position
          : [c.position[0] + 0.02 * gauss(), c.position[1] + 0.02 * gauss(), c.position[2] + 0.02 * gauss()],
      focal: focal === 'known' ? c.focal : 1000,
    })),
    k1: 0,
    k2: 0,
    points: points.map((v) => v * (1 + 0.02 * gauss())),
    starts: Int32Array.from(starts),
    camera: Int32Array.from(camera),
    x: Float64Array.from(x),
    y: Float64Array.from(y),
  };
  return { bundle, truth, points };
}

test('slopes of a projection agree with differences', () => {
  const camera: CameraState = {
    rotation: rotationFromVector([0.3, -0.4, 0.2]),
    position: [0.2, -0.1, 0.5],
    focal: 1100,
  };
  const point = Float64Array.from([1, -0.7, 4]);
  const p = blank();
  const q = blank();
  const h = 1e-6;
  projectWithSlopes(camera, -0.12, 0.04, point, 0, p);
  const change = (c: CameraState, k1: number, k2: number, at: Float64Array) => {
    projectWithSlopes(c, k1, k2, at, 0, q);
    return [(q.at[0]! - p.at[0]!) / h, (q.at[1]! - p.at[1]!) / h];
  };
  const unit = (k: number) => [0, 1, 2].map((i) => (i === k ? h : 0)) as unknown as [number, number, number];
  const differences = [
    ...[0, 1, 2].map((k) =>
      change({ ...camera, rotation: turnedBy(rotationFromVector(unit(k)), camera.rotation) }, -0.12, 0.04, point),
    ),
    ...[0, 1, 2].map((k) =>
      change(
        { ...camera, position: camera.position.map((v, i) => v + unit(k)[i]!) as unknown as [number, number, number] },
        -0.12,
        0.04,
        point,
      ),
    ),
    change({ ...camera, focal: 1100 * Math.exp(h) }, -0.12, 0.04, point),
    change(camera, -0.12 + h, 0.04, point),
    change(camera, -0.12, 0.04 + h, point),
    ...[0, 1, 2].map((k) =>
      change(
        camera,
        -0.12,
        0.04,
        point.map((v, i) => v + unit(k)[i]!),
      ),
    ),
  ];
  const slopes = [
    ...Array.from({ length: 7 }, (_, k) => [p.camera[k]!, p.camera[7 + k]!]),
    [p.shared[1]!, p.shared[4]!],
    [p.shared[2]!, p.shared[5]!],
    ...[0, 1, 2].map((k) => [p.point[k]!, p.point[3 + k]!]),
  ];
  expect(
    Math.max(...differences.flatMap((d, i) => d.map((v, k) => Math.abs(v - slopes[i]![k]!) / (1 + Math.abs(v))))),
  ).toBeLessThan(1e-4);
});

describe.each<[string, BundleFreedom, number]>([
  ['a camera that walks, focal length known', { turning: false, focal: 'known', terms: 0 }, 0],
  ['focal length and k1 unknown', { turning: false, focal: 'constant', terms: 1 }, -0.08],
  ['a zoom', { turning: false, focal: 'zoom', terms: 0 }, 0],
  ['a camera that turns, focal length unknown', { turning: true, focal: 'constant', terms: 0 }, 0],
])('bundle adjustment: %s', (_, freedom, k1) => {
  const { bundle, truth } = made(freedom, k1, 7);
  const settings = { freedom, sigma: SIGMA, rounds: 40, usualFocal: USUAL };
  const { rms } = adjust(bundle, settings);
  test('what is left is the noise', () => {
    // Two coordinates each of 0.2 px, as far as they are listened to.
    expect(rms).toBeGreaterThan(0.2);
    expect(rms).toBeLessThan(0.29);
  });
  test('focal length, distortion and turns are found, within three of their stated standard deviations', () => {
    const covariance = covarianceOf(bundle, settings)!;
    const size = truth.length * CAMERA_UNKNOWNS + 3;
    const sd = (i: number) => SIGMA * Math.sqrt(covariance[i * (size + 1)]!);
    const offs: number[] = [];
    truth.forEach((c, i) => {
      if (i === 0) return;
      const off = turnedBy(bundle.cameras[i]!.rotation, [
        c.rotation[0]!,
        c.rotation[3]!,
        c.rotation[6]!,
        c.rotation[1]!,
        c.rotation[4]!,
        c.rotation[7]!,
        c.rotation[2]!,
        c.rotation[5]!,
        c.rotation[8]!,
      ]);
      offs.push((off[2]! - off[6]!) / 2 / sd(i * CAMERA_UNKNOWNS + 1));
      if (freedom.focal === 'zoom')
        offs.push(Math.log(bundle.cameras[i]!.focal / c.focal) / sd(i * CAMERA_UNKNOWNS + 6));
    });
    if (freedom.focal === 'constant') offs.push(Math.log(bundle.cameras[0]!.focal / 900) / sd(size - 3));
    if (freedom.terms > 0) offs.push((bundle.k1 - k1) / sd(size - 2));
    expect(Math.max(...offs.map(Math.abs))).toBeLessThan(3.5);
    expect(Math.abs(bundle.cameras[4]!.focal / truth[4]!.focal - 1)).toBeLessThan(0.02);
  });
});

test('a tenth of the observations 30 px off changes little', () => {
  const freedom: BundleFreedom = { turning: false, focal: 'constant', terms: 0 };
  const { bundle } = made(freedom, 0, 3);
  const random = randomFrom(1);
  bundle.x.forEach((_, i) => {
    if (random() < 0.1) bundle.x[i]! += 30;
  });
  adjust(bundle, { freedom, sigma: SIGMA, rounds: 60, usualFocal: USUAL });
  expect(Math.abs(bundle.cameras[0]!.focal / 900 - 1)).toBeLessThan(0.01);
});
