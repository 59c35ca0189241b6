import type { PointSet, TexelPlane } from './kernel-set.ts';

/** Smeared light is never taken as darker than this: its root divides. */
export const DARKEST_LIGHT = 0.00125;

type Map9 = ArrayLike<number>;

export function blurTemplate(
  { texels, width, height }: TexelPlane,
  { count, xs, ys }: PointSet,
  back: Map9 | null,
  ahead: Map9 | null,
  taps: Float32Array,
  tapCount: number,
  out: Float32Array,
): void {
  const share = back && ahead ? 0.5 : 1;
  const bend = back && ahead ? 0.5 : 0;
  for (let i = 0; i < count; i++) {
    const x = xs[i]!;
    const y = ys[i]!;
    const bx = back ? mapX(back, x, y) - x : 0;
    const by = back ? mapY(back, x, y) - y : 0;
    const ax = ahead ? mapX(ahead, x, y) - x : 0;
    const ay = ahead ? mapY(ahead, x, y) - y : 0;
    const vx = share * (bx - ax);
    const vy = share * (by - ay);
    const qx = bend * (bx + ax);
    const qy = bend * (by + ay);
    let light = 0;
    let lightDx = 0;
    let lightDy = 0;
    let permitted = 0;
    for (let k = 0; k < tapCount; k++) {
      const t = taps[4 * k]!;
      const weight = taps[4 * k + 3]!;
      const px = Math.min(width - 1.001, Math.max(0, x + (vx + qx * t) * t + taps[4 * k + 1]!));
      const py = Math.min(height - 1.001, Math.max(0, y + (vy + qy * t) * t + taps[4 * k + 2]!));
      const ix = px | 0;
      const iy = py | 0;
      const fx = px - ix;
      const fy = py - iy;
      const at = (iy * width + ix) * 4;
      const below = at + width * 4;
      const a = (1 - fx) * (1 - fy);
      const b = fx * (1 - fy);
      const c = (1 - fx) * fy;
      const d = fx * fy;
      const v = texels[at]! * a + texels[at + 4]! * b + texels[below]! * c + texels[below + 4]! * d;
      const wv = weight * v;
      light += wv * v;
      lightDx += wv * (texels[at + 1]! * a + texels[at + 5]! * b + texels[below + 1]! * c + texels[below + 5]! * d);
      lightDy += wv * (texels[at + 2]! * a + texels[at + 6]! * b + texels[below + 2]! * c + texels[below + 6]! * d);
      permitted +=
        weight * (texels[at + 3]! * a + texels[at + 7]! * b + texels[below + 3]! * c + texels[below + 7]! * d);
    }
    const value = Math.sqrt(Math.max(DARKEST_LIGHT, light));
    out[i] = value;
    out[i + count] = lightDx / value;
    out[i + 2 * count] = lightDy / value;
    out[i + 3 * count] = permitted > 0.999 ? 1 : 0;
  }
}

function mapX(h: Map9, x: number, y: number): number {
  return (h[0]! * x + h[1]! * y + h[2]!) / (h[6]! * x + h[7]! * y + h[8]!);
}

function mapY(h: Map9, x: number, y: number): number {
  return (h[3]! * x + h[4]! * y + h[5]!) / (h[6]! * x + h[7]! * y + h[8]!);
}
