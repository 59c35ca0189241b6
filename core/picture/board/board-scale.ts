import { distance, type Quad } from '../../base/geometry/quad.ts';

/** A board is drawn so many times finer than it is seen, where that is less than its own pixels. */
export const FINE = 2;
export const QUICK = 1.2;

/** The scale at which a board is drawn for a surface seen at `quad`, at most 1. */
export function boardScale({ width, height }: { width: number; height: number }, quad: Quad, fine: number): number {
  const across = Math.max(distance(quad[0], quad[1]), distance(quad[3], quad[2])) / width;
  const down = Math.max(distance(quad[0], quad[3]), distance(quad[1], quad[2])) / height;
  // In steps, so that a picture of the board serves several frames.
  return Math.min(1, 2 ** (Math.ceil(4 * Math.log2(fine * Math.max(across, down, 1e-3))) / 4));
}
