import { expect, test } from 'vitest';
import { translation } from '../geometry/homography.ts';
import { kernels } from '../kernels/index.ts';
import { wavePlane } from '../test/planes.ts';
import { computeResiduals, createScratch } from './align-level.ts';
import { blurTemplate, NO_MOTION } from './blurred-template.ts';
import { confidenceOf, measureFit } from './fit-quality.ts';
import { buildTemplate, type Template } from './template.ts';

const W = 120, H = 100;
const mask = new Uint8Array(W * H);
for (let j = 20; j < 80; j++) mask.fill(1, j * W + 20, j * W + 100);
const level = (buildTemplate(wavePlane(W, H), mask) as Template).levels[0]!;

function qualityOf(shift: number, cover = 0) {
  const picture = wavePlane(W, H);
  for (let j = 0; j < H; j++) picture.data.fill(0.95, j * W + 20, j * W + 20 + 80 * cover);
  const s = createScratch(level.count);
  blurTemplate(level, NO_MOTION, 0.5, s.blurred);
  computeResiduals(level, { plane: kernels().gradients(picture), allowed: null }, translation(shift, 0), { gain: 1, offset: 0 }, s);
  return measureFit(level, translation(shift, 0), 1, 0.01, 0.01, s);
}

test('a perfect fit: full agreement, no misfit, full confidence', () => {
  const fit = qualityOf(0);
  expect(fit.agreement).toBe(1);
  expect(fit.correlation).toBeGreaterThan(0.999);
  expect(fit.error).toBeLessThan(0.01);
  expect(confidenceOf(fit)).toBeGreaterThan(0.98);
});

test('a small shift shows as misfit of about its size', () => {
  expect(qualityOf(0.3).error).toBeGreaterThan(0.2);
  expect(qualityOf(0.3).error).toBeLessThan(0.45);
});

test('what is covered disagrees, and lowers the confidence', () => {
  const half = qualityOf(0, 0.5), most = qualityOf(0, 0.85);
  expect(half.agreement).toBeCloseTo(0.5, 1);
  expect(confidenceOf(most)).toBeLessThan(confidenceOf(half));
  expect(confidenceOf(most)).toBeLessThan(0.3);
});

test('a region mostly outside the picture is hardly visible', () => {
  const fit = qualityOf(85);
  expect(fit.visibility).toBeLessThan(0.3);
  expect(confidenceOf(fit)).toBeLessThan(0.2);
});
