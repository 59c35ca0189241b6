import { translation, type Homography } from '../base/geometry/homography.ts';
import { wavePlane } from './planes.ts';
import {
  EQUATION_ENTRIES,
  RESIDUAL_BINS,
  type KernelFactory,
  type KernelSet,
  type PointSet,
  type TexelPlane,
} from '../base/kernels/index.ts';

export const H: Homography = [1.02, 0.04, 3.2, -0.03, 0.97, 2.1, 4e-4, -3e-4, 1];

export function put(set: KernelSet, values: ArrayLike<number>): Float32Array {
  const out = set.floats(values.length);
  out.set(values);
  return out;
}

export function texelsOf(
  set: KernelSet,
  { width, height, data }: { width: number; height: number; data: Float32Array },
): TexelPlane {
  const texels = set.floats(4 * width * height);
  set.texels(put(set, data), width, height, null, width, 0, { left: 0, top: 0, right: width, bottom: height }, texels);
  return { width, height, texels };
}

/** Points all over a picture, a few of them outside or without a say. */
export function pointsOf(set: KernelSet, count: number, width: number, height: number): PointSet {
  return {
    count,
    xs: put(
      set,
      Array.from({ length: count }, (_, i) => 1 + ((i * 7) % (width - 2))),
    ),
    ys: put(
      set,
      Array.from({ length: count }, (_, i) => 1 + ((i * 5) % (height - 2))),
    ),
    prior: put(
      set,
      Array.from({ length: count }, (_, i) => (i % 11 === 0 ? 0 : 0.3 + 0.7 * ((i % 5) / 4))),
    ),
  };
}

export const TAPS = Float32Array.from(
  [
    [-0.2, 0.3, 0, 0.25],
    [0, 0, -0.4, 0.5],
    [0.2, -0.1, 0.2, 0.25],
  ].flat(),
);

/** Everything that a round of alignment computes, with one set. */
export function roundOf(factory: KernelFactory) {
  const width = 64;
  const height = 48;
  const count = 400;
  const set = factory.open(4_000_000);
  const reference = texelsOf(set, wavePlane(width, height));
  const picture = texelsOf(set, wavePlane(width, height, 0.05));
  const points = pointsOf(set, count, width, height);
  const blurred = set.floats(4 * count);
  const sampled = set.floats(4 * count);
  set.blurTemplate(reference, points, translation(-6, 2), [1.02, 0, 5, 0, 1.01, -1, 1e-4, 0, 1], TAPS, 3, blurred);
  const histogram = new Uint32Array(2 * RESIDUAL_BINS);
  const visible = set.residuals(picture, points, blurred, H, 0.9, 0.04, 0.02, histogram, sampled);
  const settings = {
    scaleX: 1 / 30,
    offsetX: -1,
    scaleY: 1 / 30,
    offsetY: -0.8,
    gain: 0.9,
    tolerance: 0.2,
    scale: 0.05,
    mix: 0.5,
  };
  const [tukey, huber, sums] = [set.doubles(2 * EQUATION_ENTRIES), set.doubles(EQUATION_ENTRIES), new Float64Array(6)];
  const starts = (values: number[]) => {
    const out = set.ints(values.length);
    out.set(values);
    return out;
  };
  set.accumulate(points, starts([40, 200, 360]), blurred, sampled, { ...settings, redescending: true }, tukey);
  set.accumulate(points, starts([0, count]), blurred, sampled, { ...settings, redescending: false }, huber);
  const value = put(set, wavePlane(width, height).data);
  set.correlate(value, width, height, points, blurred, H, 3, sums);
  return { points, picture, blurred, sampled, histogram, visible, tukey, huber, sums, settings };
}

/** Largest difference in units of the largest magnitude. */
export function apart(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let most = 0;
  let size = 1e-9;
  for (let i = 0; i < a.length; i++) {
    most = Math.max(most, Math.abs(a[i]! - b[i]!));
    size = Math.max(size, Math.abs(b[i]!));
  }
  return most / size;
}
