import { describe, expect, test } from 'vitest';
import {
  bt1886ToLight,
  bt709FromLight,
  bt709ToLight,
  encodeLight,
  lightTable,
  linearToSrgb,
  srgbToLinear,
} from './transfer.ts';

describe('sRGB (IEC 61966-2-1:1999 §5.2)', () => {
  // Worked from the standard's two equations: code/12.92 up to 0.04045, else ((code + 0.055)/1.055)^2.4.
  test.each([
    [0, 0],
    [0.04045, 0.0031308],
    [0.5, 0.2140411],
    [0.735357, 0.5],
    [1, 1],
  ])('code %f is light %f', (code, light) => {
    expect(srgbToLinear(code)).toBeCloseTo(light, 5);
    expect(linearToSrgb(light)).toBeCloseTo(code, 4);
  });
  test('goes both ways without loss, also below 0 and above 1', () => {
    for (let code = -0.5; code <= 2; code += 0.01) expect(linearToSrgb(srgbToLinear(code))).toBeCloseTo(code, 5);
  });
});

describe('BT.709 (Rec. ITU-R BT.709-6 §1.2)', () => {
  // V = 4.5 L below 0.018, else 1.099 L^0.45 − 0.099; 18 % grey is the usual check: 0.409.
  test.each([
    [0, 0],
    [0.018, 0.081],
    [0.18, 0.40878],
    [0.5, 0.70552],
    [1, 1],
  ])('light %f is code %f', (light, code) => {
    expect(bt709FromLight(light)).toBeCloseTo(code, 3);
    expect(bt709ToLight(bt709FromLight(light))).toBeCloseTo(light, 5);
  });
});

test('BT.1886 with black at zero is a power of 2.4 (Rec. ITU-R BT.1886 annex 1)', () => {
  expect(bt1886ToLight(0.5)).toBeCloseTo(0.5 ** 2.4, 12);
});

test('the fast encoder is within a sixteenth of an 8-bit code of the exact one', () => {
  for (let light = 0; light <= 1.2; light += 0.0007)
    expect(Math.abs(encodeLight(light) - Math.min(1, linearToSrgb(light)))).toBeLessThan(1 / 16 / 255);
  expect(encodeLight(-1)).toBe(0);
  expect(encodeLight(NaN)).toBe(0);
});

test.each([255, 65535] as const)('every code of a peak of %i survives light and back', (peak) => {
  const table = lightTable(peak);
  for (let code = 0; code <= peak; code += peak === 255 ? 1 : 37)
    expect(Math.round(encodeLight(table[code]!) * peak)).toBeCloseTo(code, -0.31);
});
