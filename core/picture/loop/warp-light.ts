import { clamp } from '../../base/geometry/clamp.ts';
import { invert, type Homography } from '../../base/geometry/homography.ts';
import { cubicWeights } from '../../base/image/sampling.ts';
import type { LightRegion } from '../../base/image/light-region.ts';

type Planes = LightRegion['planes'];

/**
 * Light carried by a map: out(map·p) = in(p), by cubic convolution (R. Keys, 1981, a = −0.5). `seen` is 1 where the picture reaches, falling to 0 within half a pixel of its border;
 * beyond it the border repeats. Null where there is no way back.
 */
export function warpLight(
  planes: Planes,
  width: number,
  height: number,
  map: Homography,
): { planes: Planes; seen: Float32Array } | null {
  const back = invert(map);
  if (!back) return null;
  const [h0 = 1, h1 = 0, h2 = 0, h3 = 0, h4 = 1, h5 = 0, h6 = 0, h7 = 0, h8 = 1] = back;
  const n = width * height;
  const out: Planes = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  const seen = new Float32Array(n);
  const wx = new Float64Array(4);
  const wy = new Float64Array(4);
  const columns = new Int32Array(4);
  for (let row = 0, at = 0; row < height; row++)
    for (let col = 0; col < width; col++, at++) {
      const px = col + 0.5;
      const py = row + 0.5;
      const w = 1 / (h6 * px + h7 * py + h8);
      const x = (h0 * px + h1 * py + h2) * w - 0.5;
      const y = (h3 * px + h4 * py + h5) * w - 0.5;
      const inside = Math.min(x + 0.5, y + 0.5, width - 0.5 - x, height - 0.5 - y);
      seen[at] = inside >= 0.5 ? 1 : inside <= 0 ? 0 : 2 * inside;
      const x0 = Math.floor(x);
      const y0 = Math.floor(y);
      cubicWeights(x - x0, wx);
      cubicWeights(y - y0, wy);
      for (let i = 0; i < 4; i++) columns[i] = clamp(x0 - 1 + i, 0, width - 1);
      let r = 0;
      let g = 0;
      let b = 0;
      for (let j = 0; j < 4; j++) {
        const line = clamp(y0 - 1 + j, 0, height - 1) * width;
        const v = wy[j]!;
        for (let i = 0; i < 4; i++) {
          const k = line + columns[i]!;
          const share = v * wx[i]!;
          r += share * planes[0][k]!;
          g += share * planes[1][k]!;
          b += share * planes[2][k]!;
        }
      }
      out[0][at] = Math.max(0, r);
      out[1][at] = Math.max(0, g);
      out[2][at] = Math.max(0, b);
    }
  return { planes: out, seen };
}
