import { expect, test } from 'vitest';
import { translation } from '../../base/geometry/homography.ts';
import { picturesOf } from '../../test/follow-memory.ts';
import { wavePlane } from '../../test/planes.ts';
import { accumulatePieces, computeResiduals, createScratch, MEAN_MIX } from './align-level.ts';
import { blurTemplate, NO_MOTION } from './motion-blurred-template.ts';
import { confidenceOf, trustOf } from './confidence.ts';
import { measureFit } from './fit-quality.ts';
import { buildTemplate, type Template } from './template.ts';

const W = 120;
const H = 100;
const mask = new Uint8Array(W * H);
for (let j = 20; j < 80; j++) mask.fill(1, j * W + 20, j * W + 100);
const [reference, slot] = picturesOf([wavePlane(W, H), wavePlane(W, H)]);
const level = (buildTemplate(reference!, mask) as Template).levels[0]!;

function qualityOf(shift: number, cover = 0) {
  const picture = wavePlane(W, H);
  for (let j = 0; j < H; j++) picture.data.fill(0.95, j * W + 20, j * W + 20 + 80 * cover);
  const s = createScratch(slot!.set, level);
  const h = translation(shift, 0);
  blurTemplate(slot!.set, level, h, NO_MOTION, 0.5, s.blurred);
  computeResiduals(level, slot!.fillSignal(picture), h, { gain: 1, offset: 0 }, s);
  accumulatePieces(slot!.set, level, 1, 0.01, 0.1, MEAN_MIX, true, s);
  return measureFit(level, h, 1, 0.01, 0.01, s);
}

test('a perfect fit: full agreement, no misfit, full confidence', () => {
  const fit = qualityOf(0);
  expect(fit.agreement).toBe(1);
  expect(fit.correlation).toBeGreaterThan(0.999);
  expect(fit.error).toBeLessThan(0.01);
  expect(fit.detail).toBe(1);
  expect(confidenceOf(trustOf(fit, 1), 0.05)).toBeGreaterThan(0.98);
});

test('a small shift shows as misfit of about its size', () => {
  expect(qualityOf(0.3).error).toBeGreaterThan(0.2);
  expect(qualityOf(0.3).error).toBeLessThan(0.45);
});

test('what is covered disagrees, and lowers the trust', () => {
  const half = qualityOf(0, 0.5);
  const most = qualityOf(0, 0.85);
  expect(half.agreement).toBeCloseTo(0.5, 1);
  expect(trustOf(most, 1)).toBeLessThan(trustOf(half, 1));
  expect(trustOf(most, 1)).toBeLessThan(0.3);
});

test('a region mostly outside the picture is hardly visible', () => {
  const fit = qualityOf(85);
  expect(fit.visibility).toBeLessThan(0.3);
  expect(trustOf(qualityOf(98), 1)).toBeLessThan(0.2);
});

test('confidence: a bound of 6.4 px halves it, 10 px is doubtful, no bound is none', () => {
  expect(confidenceOf(1, 0)).toBe(1);
  expect(confidenceOf(0.8, 6.4)).toBeCloseTo(0.4, 9);
  expect(confidenceOf(1, 10)).toBeLessThan(0.3);
  expect(confidenceOf(1, Infinity)).toBe(0);
});
