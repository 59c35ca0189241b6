import { quantile } from '../image/statistics.ts';
import { lightToCode } from '../image/transfer.ts';
import { luminanceOf, type PlaneCells } from './plane-cells.ts';

/** Display-referred darkest and brightest that a camera recorded about a screen. */
export interface LevelsFound {
  readonly black: number;
  readonly white: number;
  /** Mean colour of the darkest and of the brightest places, light. */
  readonly dark: readonly [number, number, number];
  readonly bright: readonly [number, number, number];
  readonly places: number;
  /** Share of the places that are as bright as the camera records. */
  readonly clipped: number;
}

/** Of the places so many count as the darkest, and as the brightest: common practice, no source. */
const ENDS = 0.015;
const CLIPPED = 0.985;
const FEWEST = 60;

/** The robust ends of what is seen at the places of some frames, each evened out by its exposure. With `inside` the screen's own places count too: one that is off is as black as it ever gets. */
export function levelsFound(cells: PlaneCells, frames: readonly { readonly light: Float32Array; readonly stops: number }[], inside: boolean): LevelsFound | null {
  const seen: { y: number; rgb: [number, number, number] }[] = [];
  let clipped = 0;
  for (const { light, stops } of frames) {
    const gain = 2 ** -stops;
    for (let i = 0; i < cells.u.length; i++) {
      if (!inside && cells.inside[i] === 1) continue;
      const y = luminanceOf(light, i);
      if (y < 0) continue;
      if (lightToCode(y) > CLIPPED) clipped++;
      seen.push({ y: y * gain, rgb: [light[3 * i]! * gain, light[3 * i + 1]! * gain, light[3 * i + 2]! * gain] });
    }
  }
  if (seen.length < FEWEST) return null;
  const ys = Float64Array.from(seen, (s) => s.y), low = quantile(ys, ENDS), high = quantile(ys, 1 - ENDS);
  const meanOf = (of: typeof seen): [number, number, number] => [0, 1, 2].map((c) => of.reduce((s, one) => s + one.rgb[c]!, 0) / Math.max(1, of.length)) as [number, number, number];
  return { black: lightToCode(low), white: lightToCode(Math.min(1, high)), dark: meanOf(seen.filter((s) => s.y <= low)), bright: meanOf(seen.filter((s) => s.y >= high)), places: seen.length, clipped: clipped / seen.length };
}
