import { describe, expect, test } from 'vitest';
import { bytesPerFrame, lumaFromRaw, pictureFromRaw, type RawLayout } from './raw-frame.ts';

const RGB16: RawLayout = { kind: 'rgb', width: 2, height: 1, bits: 16 };
const YCC: RawLayout = {
  kind: 'ycbcr',
  width: 3,
  height: 3,
  coding: { matrix: 'bt709', range: 'limited', bits: 8, chromaShiftX: 1, chromaShiftY: 1 },
};

describe('bytesPerFrame', () => {
  test.each<[RawLayout, number]>([
    [{ kind: 'rgb', width: 5, height: 4, bits: 8 }, 60],
    [RGB16, 12],
    [YCC, 9 + 4 + 4],
    [{ ...YCC, coding: { ...YCC.coding, bits: 10, chromaShiftX: 0, chromaShiftY: 0 } }, 54],
  ])('%j', (layout, bytes) => expect(bytesPerFrame(layout)).toBe(bytes));
});

test('16-bit samples are read low byte first, also from an odd address', () => {
  const bytes = Uint8Array.from([0, 0x34, 0x12, 0, 0, 0xff, 0xff, 1, 0, 2, 0, 3, 0]).subarray(1);
  expect([...pictureFromRaw(bytes, RGB16).data]).toEqual([0x1234, 0, 0xffff, 1, 2, 3]);
});

test('limited-range luma is stretched to the full range', () => {
  const bytes = new Uint8Array(17).fill(128);
  bytes.set([16, 235, 126, 0, 255], 0);
  expect([...lumaFromRaw(bytes, YCC).codes.subarray(0, 5)]).toEqual([0, 255, 128, 0, 255]);
});

test('the luma of coloured pixels has the weights of BT.709 §3.2', () => {
  const { codes } = lumaFromRaw(Uint8Array.from([255, 0, 0, 0, 255, 0]), { kind: 'rgb', width: 2, height: 1, bits: 8 });
  expect([...codes]).toEqual([54, 182]);
});

test('a frame of the wrong length is refused', () => {
  expect(() => pictureFromRaw(new Uint8Array(3), YCC)).toThrow(RangeError);
  expect(() => lumaFromRaw(new Uint8Array(18), YCC)).toThrow(RangeError);
});
