import { expect, test } from 'vitest';
import { translation } from '../geometry/homography.ts';
import { waveAt, wavePlane } from '../test/planes.ts';
import { blurLength, blurTemplate, createBlurredTemplate, NO_MOTION } from './blurred-template.ts';
import { buildTemplate, type Template } from './template.ts';

const level = (buildTemplate(wavePlane(90, 70), new Uint8Array(90 * 70).fill(1)) as Template).levels[0]!;

test('without motion the template is itself', () => {
  const out = createBlurredTemplate(level.count);
  blurTemplate(level, NO_MOTION, 0.5, out);
  for (let i = 0; i < level.count; i += 97) expect(out.value[i]).toBe(level.plane.value[level.ys[i]! * 90 + level.xs[i]!]);
  expect(out.complete.every((c) => c === 1)).toBe(true);
});

test('motion smears it over the open shutter, in light', () => {
  const motion = { back: translation(-16, 0), ahead: translation(16, 0) };
  expect(blurLength(level, motion, 0.5)).toBeCloseTo(8, 9);
  const out = createBlurredTemplate(level.count);
  blurTemplate(level, motion, 0.5, out);
  for (let i = 0; i < level.count; i += 53) {
    const x = level.xs[i]! + 0.5, y = level.ys[i]! + 0.5;
    if (x < 10 || x > 80) continue;
    let light = 0;
    for (let k = 0; k < 200; k++) light += waveAt(x + ((k + 0.5) / 200 - 0.5) * 8, y) ** 2;
    expect(out.value[i]).toBeCloseTo(Math.sqrt(light / 200), 2);
  }
});

test('one neighbour is enough to tell the smear', () => {
  expect(blurLength(level, { back: translation(-6, 8), ahead: null }, 1)).toBeCloseTo(10, 9);
  expect(blurLength(level, { back: null, ahead: translation(6, 8) }, 0.5)).toBeCloseTo(5, 9);
});

test('points whose smear leaves the region are not complete', () => {
  const mask = new Uint8Array(90 * 70);
  for (let j = 10; j < 60; j++) mask.fill(1, j * 90 + 20, j * 90 + 70);
  const inner = (buildTemplate(wavePlane(90, 70), mask) as Template).levels[0]!;
  const out = createBlurredTemplate(inner.count);
  blurTemplate(inner, { back: translation(-20, 0), ahead: translation(20, 0) }, 0.5, out);
  for (let i = 0; i < inner.count; i++) if (inner.xs[i]! < 24 || inner.xs[i]! > 65) expect(out.complete[i]).toBe(0);
  expect(out.complete.reduce((a, b) => a + b)).toBeGreaterThan(1000);
});
