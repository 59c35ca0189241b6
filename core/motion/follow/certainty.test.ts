import { describe, expect, test } from 'vitest';
import {
  applyToPoint,
  compose,
  IDENTITY,
  translation,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { MOTIONS } from '../../base/geometry/motion-model.ts';
import { createPlane } from '../../base/image/plane.ts';
import { quantile } from '../../base/image/statistics.ts';
import { picturesOf } from '../../test/follow-memory.ts';
import { noisyPlane, waveAt, wavePlane } from '../../test/planes.ts';
import { accumulatePieces, alignLevel, computeResiduals, createScratch, MEAN_MIX } from './align-level.ts';
import { blurTemplate, NO_MOTION } from './motion-blurred-template.ts';
import {
  certaintyFrom,
  certaintyFromElsewhere,
  cornerBound,
  cornerSpread,
  packCertainty,
  timingOf,
  unpackCertainty,
  type Certainty,
} from './certainty.ts';
import { scaleFromHistogram, toleranceFromHistogram } from './robust-weights.ts';
import { buildTemplate, type Template } from './template.ts';

const W = 120;
const HGT = 90;
const NOISE = 0.02;
const CORNERS: Point[] = [
  [20, 15],
  [100, 15],
  [100, 75],
  [20, 75],
];

/** Gaussian noise (twelve uniform samples, central limit), smoothed by 1-2-1 as the signal is. */
function noise(seed: number): Float32Array {
  const layers = Array.from({ length: 12 }, (_, k) => noisyPlane(W, HGT, seed * 12 + k).data);
  const raw = Float32Array.from(layers[0]!, (_, i) => NOISE * (layers.reduce((s, l) => s + l[i]!, 0) - 6));
  const at = (x: number, y: number) => raw[Math.min(HGT - 1, Math.max(0, y)) * W + Math.min(W - 1, Math.max(0, x))]!;
  return raw.map((_, i) => {
    const x = i % W;
    const y = Math.floor(i / W);
    let sum = 0;
    for (let v = -1; v <= 1; v++)
      for (let u = -1; u <= 1; u++) sum += ((2 - Math.abs(u)) * (2 - Math.abs(v)) * at(x + u, y + v)) / 16;
    return sum;
  });
}

describe('the covariance against Monte Carlo', () => {
  const mask = new Uint8Array(W * HGT);
  for (let j = 15; j < 75; j++) mask.fill(1, j * W + 20, j * W + 100);
  const [reference, slot] = picturesOf([wavePlane(W, HGT), wavePlane(W, HGT)]);
  const set = reference!.set;
  const level = (buildTemplate(reference!, mask) as Template).levels[0]!;
  const s = createScratch(set, level);
  const truth = translation(1.3, -0.7);

  test('says how far corners stray when noise changes, within a factor of two', () => {
    const strays: number[][] = [[], [], [], []];
    const told: number[][] = [[], [], [], []];
    for (let run = 0; run < 40; run++) {
      const picture = createPlane(W, HGT);
      const random = noise(run + 1);
      for (let j = 0; j < HGT; j++)
        for (let i = 0; i < W; i++) picture.data[j * W + i] = waveAt(i + 0.5 - 1.3, j + 0.5 + 0.7) + random[j * W + i]!;
      const levels = slot!.fillSignal(picture).permit(null);
      const { homography, light } = alignLevel(
        level,
        levels,
        IDENTITY,
        { gain: 1, offset: 0 },
        {
          motion: 'perspective',
          iterations: 20,
          tolerance: 1e-4,
          stepLimit: 6,
          gains: [0.1, 8],
          motionAt: () => NO_MOTION,
          shutter: 0.5,
        },
        s,
      );
      blurTemplate(set, level, homography, NO_MOTION, 0.5, s.blurred);
      const scale = scaleFromHistogram(s.histogram, computeResiduals(level, levels, homography, light, s));
      accumulatePieces(set, level, light.gain, scale, toleranceFromHistogram(s.histogram), MEAN_MIX, true, s);
      const { certainty } = certaintyFrom('perspective', s.pieces, scale, level.toUnit)!;
      CORNERS.forEach((corner, i) => {
        const [x, y] = applyToPoint(homography, corner);
        const [u, v] = applyToPoint(truth, corner);
        strays[i]!.push(Math.hypot(x - u, y - v));
        told[i]!.push(cornerSpread(certainty, homography, corner));
      });
    }
    strays.forEach((found, i) => {
      const ratio = quantile(found, 0.95) / quantile(told[i]!, 0.5);
      expect(ratio, `corner ${i}`).toBeGreaterThan(1 / 2);
      expect(ratio, `corner ${i}`).toBeLessThan(2);
    });
  });
});

describe('bounds', () => {
  const certainty = (dof: number): Certainty => ({
    motion: MOTIONS[dof / 2 - 1]!,
    toUnit: [0.01, 0, -1, 0, 0.01, -1, 0, 0, 1],
    covariance: Array.from({ length: dof * dof }, (_, i) => (i % (dof + 1) === 0 ? 1e-6 * (1 + i) : 1e-8)),
    timing: 0.25,
  });

  test('a shift of one standard deviation σ each way holds 95 % within 2.45 σ (χ² of two)', () => {
    const shift: Certainty = {
      motion: 'translation',
      toUnit: [0.01, 0, -1, 0, 0.01, -1, 0, 0, 1],
      covariance: [1e-6, 0, 0, 1e-6],
    };
    expect(cornerSpread(shift, IDENTITY, [150, 30])).toBeCloseTo(2.447 * 0.1, 3);
    expect(cornerSpread(shift, [2, 0, 0, 0, 2, 0, 0, 0, 1], [150, 30])).toBeCloseTo(2 * 2.447 * 0.1, 3);
  });

  test('led from another frame it says the same of the same places, and is kept with all nine of its map', () => {
    const covariance = Array.from({ length: 64 }, (_, i) => (i % 9 === 0 ? 1e-6 * (1 + i) : 0));
    const certainty: Certainty = { motion: 'perspective', toUnit: [0.01, 0, -3, 0, 0.01, -2, 0, 0, 1], covariance };
    const h: Homography = [1.02, 0.03, 4, -0.02, 0.98, -3, 1e-5, 2e-5, 1];
    const there: Homography = [0.97, 0.05, 12, -0.04, 1.03, -7, 3e-5, -1e-5, 1];
    const elsewhere = certaintyFromElsewhere(certainty, there, 0);
    const corner: [number, number] = [310, 190];
    expect(cornerSpread(elsewhere, compose(h, there), corner)).toBeCloseTo(
      cornerSpread(certainty, h, applyToPoint(there, corner)),
      9,
    );
    const kept = unpackCertainty(packCertainty(elsewhere))!;
    expect(cornerSpread(kept, compose(h, there), corner)).toBeCloseTo(
      cornerSpread(elsewhere, compose(h, there), corner),
      6,
    );
    expect(cornerBound(certaintyFromElsewhere(certainty, there, 0.5), compose(h, there), corner)).toBeGreaterThan(0.5);
  });

  test('what a smear leaves open is added; one as long as expected leaves little', () => {
    const { timing: _, ...still } = certainty(8);
    expect(cornerBound(certainty(8), IDENTITY, [10, 20])).toBeCloseTo(
      Math.hypot(cornerBound(still, IDENTITY, [10, 20]), 0.25),
      9,
    );
    expect(timingOf(20, 20)).toBeCloseTo(0.4, 9);
    expect(timingOf(2, 12)).toBeGreaterThan(0.7);
  });

  test.each([2, 4, 6, 8])('%i unknowns are packed and come back', (dof) => {
    const given = certainty(dof);
    const back = unpackCertainty(packCertainty(given))!;
    expect(back).toMatchObject({ motion: given.motion, toUnit: given.toUnit, timing: 0.25 });
    back.covariance.forEach((v, i) => expect(v).toBeCloseTo(given.covariance[i]!, 12));
    expect(unpackCertainty([1, 2, 3])).toBeNull();
  });
});
