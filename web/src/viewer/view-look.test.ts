import { expect, test } from 'vitest';
import { applyViewLook, isPlain, PLAIN_LOOK, viewTable } from './view-look.ts';

test('nothing altered leaves every code', () => {
  expect(isPlain(PLAIN_LOOK)).toBe(true);
  expect([...viewTable(0, 1)]).toEqual(Array.from({ length: 256 }, (_, i) => i));
});
test('a stop doubles light: code 188 is half the light of 255', () => {
  // IEC 61966-2-1: code 0.7354 is light 0.5.
  expect(viewTable(-1, 1)[255]).toBe(188);
  expect(viewTable(1, 1)[188]).toBeGreaterThanOrEqual(254);
});
test('eight stops tell codes 0, 1, 2 and 3 apart', () => {
  const table = viewTable(8, 1);
  for (const code of [1, 2, 3]) expect(table[code]! - table[code - 1]!).toBeGreaterThan(15);
});
test('gamma lifts the middle and leaves black and white', () => {
  const table = viewTable(0, 2);
  expect([table[0], table[255]]).toEqual([0, 255]);
  expect(table[60]).toBeGreaterThan(110);
});
test('single channels and luminance are shown in grey', () => {
  const one = (channel: 'red' | 'green' | 'blue' | 'luminance', rgb: number[]) => {
    const data = Uint8ClampedArray.from([...rgb, 255]);
    applyViewLook(data, { ...PLAIN_LOOK, channel });
    return [...data.slice(0, 3)];
  };
  expect(one('green', [10, 20, 30])).toEqual([20, 20, 20]);
  expect(one('luminance', [80, 80, 80])).toEqual([80, 80, 80]);
  // Pure green is 0.7152 of white's light: code 220.
  expect(one('luminance', [0, 255, 0])).toEqual([220, 220, 220]);
});
