import { expect, test } from 'vitest';
import { PRIMARIES_NAMES, primariesMatrix } from './primaries.ts';

// Rec. ITU-R BT.2087-0 §2 prints BT.709 → BT.2020; its inverse is printed in BT.2407-0 annex 1.
test.each([
  ['bt709', 'bt2020', [0.6274, 0.3293, 0.0433, 0.0691, 0.9195, 0.0114, 0.0164, 0.088, 0.8956]],
  ['bt2020', 'bt709', [1.6605, -0.5876, -0.0728, -0.1246, 1.1329, -0.0083, -0.0182, -0.1006, 1.1187]],
  // AMPAS S-2014-004 annex A: AP1 → AP0.
  ['ap1', 'ap0', [0.6954522, 0.1406787, 0.1638691, 0.0447946, 0.8596711, 0.0955343, -0.0055259, 0.0040252, 1.0015007]],
] as const)('%s to %s', (from, to, printed) => {
  primariesMatrix(from, to)!.forEach((value, i) => expect(value).toBeCloseTo(printed[i]!, 4));
});

test('white stays white between any two', () => {
  for (const from of PRIMARIES_NAMES) {
    for (const to of PRIMARIES_NAMES) {
      const m = primariesMatrix(from, to);
      for (let row = 0; m && row < 3; row++) expect(m[row * 3]! + m[row * 3 + 1]! + m[row * 3 + 2]!).toBeCloseTo(1, 4);
    }
  }
});
