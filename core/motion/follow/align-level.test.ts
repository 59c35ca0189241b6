import { describe, expect, test } from 'vitest';
import {
  applyToPoint,
  compose,
  invert,
  translation,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import type { Motion } from '../../base/geometry/motion-model.ts';
import { createPlane, type Plane } from '../../base/image/plane.ts';
import { picturesOf } from '../../test/follow-memory.ts';
import { waveAt, wavePlane } from '../../test/planes.ts';
import { alignLevel, createScratch, type AlignSettings } from './align-level.ts';
import { NO_MOTION } from './motion-blurred-template.ts';
import { buildTemplate, type Template } from './template.ts';

const W = 160;
const HGT = 120;
const mask = new Uint8Array(W * HGT);
for (let j = 15; j < 105; j++) mask.fill(1, j * W + 20, j * W + 140);
const [reference, slot] = picturesOf([wavePlane(W, HGT), wavePlane(W, HGT)]);
const level = (buildTemplate(reference!, mask) as Template).levels[0]!;
const scratch = createScratch(reference!.set, level);
const CORNERS: Point[] = [
  [20, 15],
  [140, 15],
  [140, 105],
  [20, 105],
];

/** The wave picture seen through a map of sample indices, exactly evaluated. */
function seenThrough(h: Homography, change: (v: number, x: number, y: number) => number = (v) => v): Plane {
  const back = invert(h)!;
  const plane = createPlane(W, HGT);
  for (let j = 0; j < HGT; j++) {
    for (let i = 0; i < W; i++) {
      const [x, y] = applyToPoint(back, [i, j]);
      plane.data[j * W + i] = change(waveAt(x + 0.5, y + 0.5), i, j);
    }
  }
  return plane;
}

const settings = (motion: Motion): AlignSettings => ({
  motion,
  iterations: 20,
  tolerance: 1e-4,
  stepLimit: 6,
  gains: [0.1, 8],
  motionAt: () => NO_MOTION,
  shutter: 0.5,
});

function align(picture: Plane, motion: Motion, start: Homography, allowed: Uint8Array | null = null) {
  return alignLevel(
    level,
    slot!.fillSignal(picture).permit(allowed),
    start,
    { gain: 1, offset: 0 },
    settings(motion),
    scratch,
  );
}

function worstCorner(found: Homography, truth: Homography): number {
  return Math.max(
    ...CORNERS.map((c) => {
      const [x, y] = applyToPoint(found, c);
      const [u, v] = applyToPoint(truth, c);
      return Math.hypot(x - u, y - v);
    }),
  );
}

describe('alignLevel', () => {
  test.each<[Motion, Homography]>([
    ['translation', translation(1.4, -2.3)],
    ['similarity', [1.02, -0.03, 2, 0.03, 1.02, -1.5, 0, 0, 1]],
    ['affine', [1.03, 0.02, -2, -0.01, 0.97, 2, 0, 0, 1]],
    ['perspective', [1.02, 0.03, -1.5, -0.02, 0.98, 2, 1e-4, -8e-5, 1]],
  ])('finds a %s to a hundredth of a pixel', (motion, truth) => {
    const result = align(seenThrough(truth), motion, translation(0, 0));
    expect(worstCorner(result.homography, truth)).toBeLessThan(0.012);
  });

  test('solves gain and offset together with the motion', () => {
    const truth = translation(1.3, 0.8);
    const result = align(
      seenThrough(truth, (v) => 0.7 * v + 0.12),
      'perspective',
      translation(0, 0),
    );
    expect(Math.abs(result.light.gain - 0.7)).toBeLessThan(0.012);
    expect(Math.abs(result.light.offset - 0.12)).toBeLessThan(0.006);
    expect(worstCorner(result.homography, truth)).toBeLessThan(0.02);
  });

  test('what covers a third of the region has no say', () => {
    const truth: Homography = [1.01, 0.02, 1.2, -0.01, 0.99, 1.1, 5e-5, 0, 1];
    const result = align(
      seenThrough(truth, (v, x) => (x > 100 ? 0.15 : v)),
      'perspective',
      translation(0.6, 0.5),
    );
    expect(worstCorner(result.homography, truth)).toBeLessThan(0.05);
  });

  test('pixels under a fixed keep-out are not looked at', () => {
    const truth = translation(0.8, -0.6);
    const shut = new Uint8Array(W * HGT).fill(1);
    for (let j = 0; j < HGT; j++) shut.fill(0, j * W, j * W + 70);
    // The left part moves otherwise, exactly as textured, and would pull a lot.
    const picture = seenThrough(truth, (v, x, y) => (x < 70 ? waveAt(x + 2.5, y + 2.5) : v));
    expect(worstCorner(align(picture, 'translation', translation(0, 0), shut).homography, truth)).toBeLessThan(0.02);
  });

  test('a step never goes further than its limit', () => {
    const result = alignLevel(
      level,
      slot!.fillSignal(seenThrough(translation(5, 0))).permit(null),
      translation(0, 0),
      { gain: 1, offset: 0 },
      { ...settings('translation'), iterations: 1, stepLimit: 0.5 },
      scratch,
    );
    expect(worstCorner(result.homography, translation(0, 0))).toBeLessThanOrEqual(0.5001);
  });

  test('a start outside the picture leaves the map as it is', () => {
    const far = translation(4000, 0);
    const result = align(wavePlane(W, HGT), 'perspective', far);
    expect(result.visible).toBe(0);
    expect(worstCorner(result.homography, compose(far))).toBe(0);
  });
});
