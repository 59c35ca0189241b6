import { describe, expect, test } from 'vitest';
import { chromaSize, rgbFromYcbcr, type YcbcrCoding } from './ycbcr.ts';

const CODING: YcbcrCoding = { matrix: 'bt709', range: 'limited', bits: 8, chromaShiftX: 0, chromaShiftY: 0 };

function pixel(coding: YcbcrCoding, y: number, cb: number, cr: number): number[] {
  const plane = (v: number) => (coding.bits > 8 ? Uint16Array.of(v) : Uint8Array.of(v));
  return [...rgbFromYcbcr({ width: 1, height: 1, y: plane(y), cb: plane(cb), cr: plane(cr), coding }).data];
}

describe('colour bars at 100 %', () => {
  // Codes computed from the equations of Rec. ITU-R BT.709-6 §3.2–3.5 (8 bit, 16–235 / 16–240) and BT.601-7 §2.5.
  test.each<[string, Partial<YcbcrCoding>, [number, number, number], [number, number, number]]>([
    ['709 white', {}, [235, 128, 128], [255, 255, 255]],
    ['709 black', {}, [16, 128, 128], [0, 0, 0]],
    ['709 red', {}, [63, 102, 240], [255, 0, 0]],
    ['709 green', {}, [173, 42, 26], [0, 255, 0]],
    ['709 blue', {}, [32, 240, 118], [0, 0, 255]],
    ['601 red', { matrix: 'bt601' }, [81, 90, 240], [255, 0, 0]],
    ['601 green', { matrix: 'bt601' }, [145, 54, 34], [0, 255, 0]],
    ['601 blue', { matrix: 'bt601' }, [41, 240, 110], [0, 0, 255]],
    ['full-range grey', { range: 'full' }, [128, 128, 128], [128, 128, 128]],
  ])('%s', (_, coding, [y, cb, cr], rgb) => {
    pixel({ ...CODING, ...coding }, y, cb, cr).forEach((v, i) => expect(Math.abs(v - rgb[i]!)).toBeLessThanOrEqual(1));
  });
  test('10 bit gives 16-bit codes', () => {
    expect(pixel({ ...CODING, bits: 10 }, 940, 512, 512)).toEqual([65535, 65535, 65535]);
    expect(pixel({ ...CODING, bits: 10 }, 64, 512, 512)).toEqual([0, 0, 0]);
  });
});

test('chroma of 4:2:0 lies on even columns, halfway between rows (ITU-T H.264 annex E, figure E-1)', () => {
  const coding = { ...CODING, chromaShiftX: 1, chromaShiftY: 1 } as const;
  // Chroma that rises evenly from left to right must come out evenly, sample on column 0, 2, …
  const [width, height] = [8, 4];
  const y = new Uint8Array(width * height).fill(126);
  const cr = Uint8Array.from({ length: 8 }, (_, i) => 128 + 8 * (i % 4));
  const { data } = rgbFromYcbcr({ width, height, y, cb: new Uint8Array(8).fill(128), cr, coding });
  const red = (col: number) => data[(width + col) * 3]!;
  expect(red(0)).toBe(128);
  expect(red(1) - red(0)).toBeCloseTo((red(2) - red(0)) / 2, -0.31);
  expect(red(3) - red(2)).toBeCloseTo((red(4) - red(2)) / 2, -0.31);
});

test('odd sizes have one chroma sample more', () => {
  expect(chromaSize(7, 5, { ...CODING, chromaShiftX: 1, chromaShiftY: 1 })).toEqual({ width: 4, height: 3 });
});
