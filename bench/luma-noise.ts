import { median } from '../core/base/image/statistics.ts';
import { LUMA, type SensorNoise } from '../demo/scene/sensor.ts';

/** Median over a frame (8-bit codes, three a pixel) of the noise in its BT.709 luma, codes of 255: that of the channels and their rounding, and the luma's own rounding. */
export function lumaNoise(codes: Uint8Array, { floor, shot }: SensorNoise): number {
  const deviations: number[] = [];
  for (let i = 0; i + 2 < codes.length; i += 3 * 97) {
    let variance = 1 / 12;
    LUMA.forEach(
      (w, c) => (variance += w * w * (255 ** 2 * (floor ** 2 + (shot ** 2 * codes[i + c]!) / 255) + 1 / 12)),
    );
    deviations.push(Math.sqrt(variance));
  }
  return median(deviations);
}
