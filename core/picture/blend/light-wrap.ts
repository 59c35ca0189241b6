import type { InsertLayer } from '../pin/pin-layer.ts';
import type { PictureSize } from '../pin/pinned-surface.ts';
import { convolveSeparable, gaussianKernel } from '../../base/filters/gaussian.ts';
import { CoarsePlane } from '../matte/coarse-fill.ts';

/** Blocks of so many px are enough for light that is spread far. */
export const SPREAD_BLOCK = 8;

/** An insert's premultiplied light, and its alpha, averaged over blocks of the whole picture. */
export interface SpreadLight {
  readonly across: number;
  readonly down: number;
  readonly planes: readonly Float32Array[];
  /** Mean light of what is covered; null where nothing is. */
  readonly mean: readonly [number, number, number] | null;
}

export function spreadLight({ layer, box }: InsertLayer, { width, height }: PictureSize): SpreadLight {
  const across = Math.ceil(width / SPREAD_BLOCK);
  const down = Math.ceil(height / SPREAD_BLOCK);
  const planes = Array.from({ length: 4 }, () => new Float32Array(across * down));
  const sums = [0, 0, 0, 0];
  for (let row = Math.max(0, box.top); row < Math.min(height, box.bottom); row++) {
    const cell = Math.floor(row / SPREAD_BLOCK) * across;
    for (
      let col = Math.max(0, box.left), at = ((row - box.top) * layer.width + col - box.left) * 4;
      col < Math.min(width, box.right);
      col++, at += 4
    ) {
      if (layer.data[at + 3]! <= 0) continue;
      const to = cell + Math.floor(col / SPREAD_BLOCK);
      for (let c = 0; c < 4; c++) {
        planes[c]![to]! += layer.data[at + c]! / (SPREAD_BLOCK * SPREAD_BLOCK);
        sums[c]! += layer.data[at + c]!;
      }
    }
  }
  return {
    across,
    down,
    planes,
    mean: sums[3]! > 0 ? [sums[0]! / sums[3]!, sums[1]! / sums[3]!, sums[2]! / sums[3]!] : null,
  };
}

/** The light spread by a gaussian of `sigma` px of the picture, nothing beyond its border; to be read at pixels. */
export function spreadBy({ across, down, planes }: SpreadLight, sigma: number): CoarsePlane[] {
  const kernel = gaussianKernel(Math.max(0.3, sigma / SPREAD_BLOCK));
  return planes.map(
    (plane) => new CoarsePlane(convolveSeparable(plane, across, down, 1, kernel, 'empty'), across, down, SPREAD_BLOCK),
  );
}
