import { describe, expect, test } from 'vitest';
import { hlgFromScene, hlgToScene, pqFromNits, pqToNits, TRANSFER_NAMES, TRANSFERS } from './transfer-curves.ts';

describe('PQ (Rec. ITU-R BT.2100-2 table 4, SMPTE ST 2084)', () => {
  // Codes of round luminances as Rec. ITU-R BT.2408-7 and BT.2390-10 print them (100, 203, 1000, 4000); the rest is from memory.
  test.each([
    [0, 0],
    [1, 0.1499],
    [100, 0.5081],
    [203, 0.5807],
    [1000, 0.7518],
    [4000, 0.9026],
    [10000, 1],
  ])('%f cd/m² is code %f', (nits, code) => {
    expect(pqFromNits(nits)).toBeCloseTo(code, 4);
    expect(pqToNits(pqFromNits(nits))).toBeCloseTo(nits, 6);
  });
});

describe('HLG (Rec. ITU-R BT.2100-2 table 5)', () => {
  // The curve's joints from its definition; 75 % is reference white at 203 of 1000 cd/m² (BT.2408-7 table 1).
  test.each([
    [0, 0],
    [1 / 12, 0.5],
    [0.265, 0.75],
    [1, 1],
  ])('scene light %f is code %f', (light, code) => {
    expect(hlgFromScene(light)).toBeCloseTo(code, 3);
    expect(hlgToScene(hlgFromScene(light))).toBeCloseTo(light, 6);
  });
  test('reference white comes out at 203 cd/m² on a display of 1000', () => {
    expect(1000 * hlgToScene(0.75) ** 1.2).toBeCloseTo(203, 0);
    expect(TRANSFERS.hlg.toLight(0.75)).toBeCloseTo(1, 6);
  });
});

describe('ACES logarithms (AMPAS S-2014-003, S-2016-001)', () => {
  test.each([
    ['acescc', 0.18, 0.4135884],
    ['acescct', 0.18, 0.4135884],
    ['acescc', 1, 0.5547945],
    ['acescct', 0, 0.0729055],
    ['acescct', 0.0078125, 0.1552511],
    ['acescc', 65504, 1.4679964],
  ] as const)('%s of %f is %f', (name, light, code) => expect(TRANSFERS[name].toCode(light)).toBeCloseTo(code, 6));
});

test('H.273 logarithms span 100:1 and 316:1', () => {
  expect(TRANSFERS.log100.toCode(0.1)).toBeCloseTo(0.5, 12);
  expect(TRANSFERS.log316.toLight(0)).toBe(0);
  expect(TRANSFERS.log316.toCode(10 ** -2.5)).toBeCloseTo(0, 12);
});

test.each(TRANSFER_NAMES)('%s goes from code to light and back, rising', (name) => {
  let before = -Infinity;
  for (let code = 0.01; code <= 1; code += 0.01) {
    const light = TRANSFERS[name].toLight(code);
    expect(TRANSFERS[name].toCode(light)).toBeCloseTo(code, 6);
    expect(light).toBeGreaterThan(before);
    before = light;
  }
});
test.each(['srgb', 'bt1886', 'gamma22', 'bt709', 'linear', 'hlg', 'acescct'] as const)(
  '%s keeps values below 0 and above 1',
  (name) => {
    for (const light of [-0.05, 1.7, 6])
      expect(TRANSFERS[name].toLight(TRANSFERS[name].toCode(light))).toBeCloseTo(light, 6);
  },
);
