import { describe, expect, test } from 'vitest';
import { randomFrom } from '../../../demo/scene/random.ts';
import { lightTable } from '../../base/image/transfer.ts';
import { lightWindow, type Rect } from './light-window.ts';

const WIDTH = 40;
const HEIGHT = 30;
const random = randomFrom(3);

describe.each([
  ['8 bits', 255, Uint8Array],
  ['16 bits', 65535, Uint16Array],
] as const)('a window of light, %s', (_, peak, Codes) => {
  const codes = new Codes(WIDTH * HEIGHT).map(() => Math.floor(random() * (peak + 1)));
  const frame = { width: WIDTH, height: HEIGHT, codes, peak };
  const light = lightTable(peak);
  const at = (x: number, y: number) =>
    light[codes[Math.min(HEIGHT - 1, Math.max(0, y)) * WIDTH + Math.min(WIDTH - 1, Math.max(0, x))]!]!;

  test.each<[string, Rect]>([
    ['inside', { left: 12.3, top: 9.6, right: 20.2, bottom: 17 }],
    ['at the upper left', { left: -6, top: -4, right: 9, bottom: 8 }],
    ['at the lower right', { left: 30, top: 22, right: 60, bottom: 50 }],
    ['the whole', { left: -9, top: -9, right: 99, bottom: 99 }],
  ])('is light smoothed 1-2-1 both ways, border pixels standing for what lies outside: %s', (_where, rect) => {
    const { left, top, width, height, data } = lightWindow(frame, rect)!;
    expect([left >= 0, top >= 0, left + width <= WIDTH, top + height <= HEIGHT]).toEqual([true, true, true, true]);
    expect([left, top].every((v, k) => v <= Math.max(0, k ? rect.top : rect.left))).toBe(true);
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) {
        let sum = 0;
        for (const dy of [-1, 0, 1])
          for (const dx of [-1, 0, 1])
            sum += ((dx === 0 ? 2 : 1) * (dy === 0 ? 2 : 1) * at(left + i + dx, top + j + dy)) / 16;
        expect(Math.abs(data[j * width + i]! - sum)).toBeLessThan(1e-6);
      }
  });

  test('where there is no picture there is none', () => {
    expect(lightWindow(frame, { left: 60, top: 2, right: 80, bottom: 20 })).toBeNull();
  });
});
