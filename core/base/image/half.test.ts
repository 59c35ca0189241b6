import { expect, test } from 'vitest';
import { halfBits, halfValue } from './half.ts';

// IEEE 754-2019, table 3.5 (binary16) and the examples that follow from it: 1, the largest, the least normal and least subnormal number.
test.each([
  [1, 0x3c00],
  [-2, 0xc000],
  [65504, 0x7bff],
  [2 ** -14, 0x0400],
  [2 ** -24, 0x0001],
  [0, 0],
  [-0, 0x8000],
  [Infinity, 0x7c00],
  [65520, 0x7c00],
  [1 / 3, 0x3555],
])('%d is %i', (value, code) => expect(halfBits(value)).toBe(code));

test('every half comes back as itself', () => {
  for (let code = 0; code < 0x10000; code++) {
    const value = halfValue(code);
    if (!Number.isNaN(value)) expect(halfBits(value)).toBe(code);
  }
});

test('what lies between goes to the nearest, ties to the even one', () => {
  for (let code = 1; code < 0x7bff; code += 7) {
    const low = halfValue(code);
    const high = halfValue(code + 1);
    const middle = (low + high) / 2;
    expect(halfBits(middle)).toBe(code % 2 === 0 ? code : code + 1);
    expect(halfBits(low + (high - low) * 0.4)).toBe(code);
    expect(halfBits(low + (high - low) * 0.6)).toBe(code + 1);
  }
});
