import type { ContentPicture } from '../image/picture.ts';

/** A grid that shows slips and wrong perspective: squares, diagonals, a one-square rim, a mark at the upper edge. */
export function testCard(width: number, height: number): ContentPicture {
  const data = new Uint8Array(width * height * 4);
  const across = 16, down = Math.max(2, Math.round((across * height) / width));
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) {
      const u = (col + 0.5) / width, v = (row + 0.5) / height;
      const cellX = Math.floor(u * across), cellY = Math.floor(v * down);
      const rim = cellX === 0 || cellY === 0 || cellX === across - 1 || cellY === down - 1;
      const diagonal = Math.min(Math.abs(u - v), Math.abs(u + v - 1)) < 0.004;
      const upper = v > 1.4 / down && v < 2.2 / down && Math.abs(u - 0.5) < 0.09 * (1 - (v * down - 1.4));
      const bright = (cellX + cellY) % 2 === 0;
      const value = diagonal || upper ? [180, 83, 9] : rim ? (bright ? [244, 244, 242] : [35, 38, 42]) : bright ? [205, 205, 202] : [128, 130, 132];
      data.set([...value, 255], (row * width + col) * 4);
    }
  }
  return { width, height, data, peak: 255 };
}
