import type { Point } from '../../base/geometry/homography.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import { coverageOf, emptyMatte, type MattePlane } from './coverage.ts';

/** A flattened outline, and the width of its soft edge inward and outward at each of its points, px. */
export interface SoftOutline {
  readonly points: readonly Point[];
  readonly inner: readonly number[];
  readonly outer: readonly number[];
}

/**
 * How much of each pixel a closed outline covers: exactly, or, where its edge is soft, by the distance to the nearest place of the outline, a smooth
 * step (3t² − 2t³) from the outer width to the inner one. Widths go straight from point to point.
 */
export function shapeMatte({ points, inner, outer }: SoftOutline, box: PixelBox): MattePlane {
  const covered = coverageOf([points], box);
  const widest = Math.max(0, ...inner, ...outer);
  if (widest < 1e-3) return covered;
  const width = box.right - box.left;
  const height = box.bottom - box.top;
  // Square of the distance to the nearest side, and the widths there.
  const alike = inner.every((w) => w === inner[0]) && outer.every((w) => w === outer[0]);
  const nearest = new Float32Array(width * height).fill(Infinity);
  const within = alike ? null : emptyMatte(box).data;
  const without = alike ? null : emptyMatte(box).data;
  points.forEach(([ax, ay], i) => {
    const next = (i + 1) % points.length;
    const [bx, by] = points[next]!;
    const dx = bx - ax;
    const dy = by - ay;
    const length = dx * dx + dy * dy;
    const per = length > 0 ? 1 / length : 0;
    const left = Math.max(0, Math.floor(Math.min(ax, bx) - widest - 1 - box.left));
    const right = Math.min(width, Math.ceil(Math.max(ax, bx) + widest + 1 - box.left));
    const top = Math.max(0, Math.floor(Math.min(ay, by) - widest - 1 - box.top));
    const bottom = Math.min(height, Math.ceil(Math.max(ay, by) + widest + 1 - box.top));
    for (let row = top; row < bottom; row++) {
      const y = box.top + row + 0.5;
      for (let col = left, at = row * width + left; col < right; col++, at++) {
        const x = box.left + col + 0.5;
        const along = ((x - ax) * dx + (y - ay) * dy) * per;
        const t = along < 0 ? 0 : along > 1 ? 1 : along;
        const ox = x - ax - t * dx;
        const oy = y - ay - t * dy;
        const d = ox * ox + oy * oy;
        if (d >= nearest[at]!) continue;
        nearest[at] = d;
        if (!within || !without) continue;
        within[at] = inner[i]! + t * (inner[next]! - inner[i]!);
        without[at] = outer[i]! + t * (outer[next]! - outer[i]!);
      }
    }
  });
  const out = covered.data;
  for (let i = 0; i < out.length; i++) {
    const near = nearest[i]!;
    if (near === Infinity) continue;
    const outward = without ? without[i]! : outer[0]!;
    const wide = (within ? within[i]! : inner[0]!) + outward;
    if (wide < 1e-3) continue;
    const d = out[i]! > 0.5 ? Math.sqrt(near) : -Math.sqrt(near);
    const t = (d + outward) / wide;
    // An edge softer than a pixel still covers what it covers.
    const soft = t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t);
    out[i] = wide >= 1 ? soft : soft * wide + out[i]! * (1 - wide);
  }
  return covered;
}
