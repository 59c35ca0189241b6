import type { Quad } from '../base/geometry/quad.ts';

/** How far two lists of numbers are apart at most. */
export function apart(a: ArrayLike<number>, b: ArrayLike<number>): number {
  if (a.length !== b.length) throw new RangeError(`${a.length} numbers and ${b.length}`);
  let most = 0;
  for (let i = 0; i < a.length; i++) most = Math.max(most, Math.abs(a[i]! - b[i]!));
  return most;
}

export const noise = (i: number) => {
  const v = Math.sin(i * 12.9898) * 43758.5453;
  return v - Math.floor(v);
};
export const picture = (width: number, height: number) => ({
  width,
  height,
  data: Float32Array.from({ length: width * height * 4 }, (_, i) =>
    i % 4 === 3 ? 1 : 0.6 * noise(i) + 0.2 + 0.2 * Math.sin(i / 37),
  ),
});
export const QUAD: Quad = [
  [12.3, 8.1],
  [88.7, 15.2],
  [81.4, 70.6],
  [6.5, 61.9],
];
export const box = { left: 0, top: 0, right: 97, bottom: 77 };
