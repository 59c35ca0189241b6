import { expect, test } from 'vitest';
import { IDENTITY, scaling, translation, type Homography } from '../../base/geometry/homography.ts';
import { picturesOf } from '../../test/follow-memory.ts';
import { waveAt, wavePlane } from '../../test/planes.ts';
import { blurLength, blurTemplate, NO_MOTION, type FrameMotion } from './motion-blurred-template.ts';
import { buildTemplate, type Template, type TemplateLevel } from './template.ts';

const [wave] = picturesOf([wavePlane(90, 70)]);
const level = (buildTemplate(wave!, new Uint8Array(90 * 70).fill(1)) as Template).levels[0]!;

function smeared(of: TemplateLevel, motion: FrameMotion, shutter = 0.5, h: Homography = IDENTITY) {
  const out = new Float32Array(4 * of.count);
  blurTemplate(wave!.set, of, h, motion, shutter, out);
  const real = Array.from({ length: of.count }, (_, i) => i).filter((i) => of.chosenPrior[i] === 1);
  return { real, value: out.subarray(0, of.count), complete: out.subarray(3 * of.count) };
}

test('without motion the template is itself', () => {
  const { real, value, complete } = smeared(level, NO_MOTION);
  for (const i of real) {
    expect(value[i]).toBeCloseTo(wave!.levels[0]!.value[level.ys[i]! * 90 + level.xs[i]!]!, 6);
    expect(complete[i]).toBe(1);
  }
});

/** Mean light over the shutter at a point that moves by v·t + q·t². */
function expectedAt(x: number, y: number, v: number, q: number): number {
  let light = 0;
  for (let k = 0; k < 200; k++) {
    const t = ((k + 0.5) / 200 - 0.5) * 0.5;
    light += waveAt(x + v * t + q * t * t, y) ** 2;
  }
  return Math.sqrt(light / 200);
}

test.each([
  ['evenly', -16, 16, 0],
  ['ever faster', -10, 26, 8],
])('motion smears it over the open shutter, in light: %s', (_, back, ahead, q) => {
  const motion = { back: translation(back, 0), ahead: translation(ahead, 0) };
  expect(blurLength(level, motion, 0.5)).toBeCloseTo((ahead - back) / 4, 9);
  const { real, value } = smeared(level, motion);
  for (const i of real) {
    const x = level.xs[i]! + 0.5;
    const y = level.ys[i]! + 0.5;
    if (x >= 12 && x <= 78) expect(value[i]).toBeCloseTo(expectedAt(x, y, (back - ahead) / 2, q), 2);
  }
});

test('a picture of half the size shows less detail: the template loses as much', () => {
  const spread = (values: Float32Array, of: readonly number[]) => {
    const mean = of.reduce((sum, i) => sum + values[i]!, 0) / of.length;
    return of.reduce((sum, i) => sum + (values[i]! - mean) ** 2, 0) / of.length;
  };
  const whole = smeared(level, NO_MOTION);
  const half = smeared(level, NO_MOTION, 0.5, scaling(0.5));
  const larger = smeared(level, NO_MOTION, 0.5, scaling(2));
  expect(spread(half.value, half.real)).toBeLessThan(0.9 * spread(whole.value, whole.real));
  expect(larger.value).toEqual(whole.value);
});

test('one neighbour is enough to tell the smear', () => {
  expect(blurLength(level, { back: translation(-6, 8), ahead: null }, 1)).toBeCloseTo(10, 9);
  expect(blurLength(level, { back: null, ahead: translation(6, 8) }, 0.5)).toBeCloseTo(5, 9);
});

test('points whose smear leaves the region are not complete', () => {
  const mask = new Uint8Array(90 * 70);
  for (let j = 10; j < 60; j++) mask.fill(1, j * 90 + 20, j * 90 + 70);
  const inner = (buildTemplate(picturesOf([wavePlane(90, 70)])[0]!, mask) as Template).levels[0]!;
  const { real, complete } = smeared(inner, { back: translation(-20, 0), ahead: translation(20, 0) });
  for (const i of real) if (inner.xs[i]! < 24 || inner.xs[i]! > 65) expect(complete[i]).toBe(0);
  expect(complete.reduce((a, b) => a + b)).toBeGreaterThan(1000);
});
