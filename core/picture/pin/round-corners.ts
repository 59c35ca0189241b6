import type { Homography } from '../../base/geometry/homography.ts';
import { bounds } from '../../base/geometry/quad.ts';

/** Takes what lies outside a surface's rounded corners out of the weights of a row's pixels from column `from` on. */
export type RoundRow = (row: number, from: number, to: number, weights: Float32Array) => void;

/**
 * Rounded corners on a flat surface. `toUnit` leads from the picture to the unit square, `ratio` is the surface's width over its height, `radius` in
 * heights of the surface. A pixel's share is determined by its distance from the arc, to first order.
 */
export function roundCorners(
  toUnit: Homography,
  toPicture: (u: number, v: number) => readonly [number, number],
  ratio: number,
  radius: number,
): RoundRow {
  const r = Math.min(radius, ratio / 2, 0.5);
  const [h0, h1, h2, h3, h4, h5, h6, h7, h8] = toUnit as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const boxes = [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ].map(([u, v]) => {
    const inX = u === 0 ? r / ratio : 1 - r / ratio;
    const inY = v === 0 ? r : 1 - r;
    return {
      u,
      v,
      cx: inX * ratio,
      cy: inY,
      box: bounds([toPicture(u!, v!), toPicture(inX, v!), toPicture(inX, inY), toPicture(u!, inY)]),
    };
  });
  return (row, from, to, weights) => {
    for (const { u, v, cx, cy, box } of boxes) {
      if (row < box.top - 2 || row > box.bottom + 1) continue;
      for (
        let col = Math.max(from, Math.floor(box.left) - 1), end = Math.min(to, Math.ceil(box.right) + 1);
        col < end;
        col++
      ) {
        const x = col + 0.5;
        const y = row + 0.5;
        const w = h6 * x + h7 * y + h8;
        if (Math.abs(w) < 1e-12) continue;
        const s = (h0 * x + h1 * y + h2) / w;
        const t = (h3 * x + h4 * y + h5) / w;
        const dx = s * ratio - cx;
        const dy = t - cy;
        // Only beyond the arc's middle, towards its corner.
        if ((u === 0 ? dx > 0 : dx < 0) || (v === 0 ? dy > 0 : dy < 0)) continue;
        const away = Math.hypot(dx, dy);
        if (away === 0) continue;
        const gx = (dx * ratio * ((h0 - s * h6) / w) + dy * ((h3 - t * h6) / w)) / away;
        const gy = (dx * ratio * ((h1 - s * h7) / w) + dy * ((h4 - t * h7) / w)) / away;
        const inside = (r - away) / Math.max(1e-12, Math.hypot(gx, gy));
        const share = inside <= -0.5 ? 0 : inside >= 0.5 ? 1 : inside + 0.5;
        if (share < 1) weights[col - from]! *= share;
      }
    }
  };
}
