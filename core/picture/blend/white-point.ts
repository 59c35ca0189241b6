import { clamp } from '../../base/geometry/clamp.ts';
import { lightOfXy, luminanceOfLight } from '../../base/image/primaries.ts';

/** Kelvins between which daylight's colour is defined. */
export const LEAST_KELVIN = 4000;
export const MOST_KELVIN = 25000;
/** What the display's own white is: D65, with the kelvins of the present radiation constant. */
export const DISPLAY_KELVIN = 6504;

/** Chromaticity x, y of daylight of a colour temperature, 4000 to 25 000 K. Source: CIE 15:2004, Colorimetry, §3.1, formulas for the daylight locus. */
export function daylight(kelvin: number): [number, number] {
  const t = clamp(kelvin, LEAST_KELVIN, MOST_KELVIN);
  const x =
    t <= 7000
      ? -4.607e9 / t ** 3 + 2.9678e6 / t ** 2 + 0.09911e3 / t + 0.244063
      : -2.0064e9 / t ** 3 + 1.9018e6 / t ** 2 + 0.24748e3 / t + 0.23704;
  return [x, -3 * x * x + 2.87 * x - 0.275];
}

/** What white of a colour temperature is in light of BT.709 primaries, its luminance 1; above 6504 K it is blue. */
export function whiteTint(kelvin: number): [number, number, number] {
  return tintOf(lightOfXy(daylight(kelvin)));
}

/** A colour as a tint: its luminance made 1. */
export function tintOf(light: readonly [number, number, number]): [number, number, number] {
  const y = Math.max(1e-6, luminanceOfLight(light));
  return light.map((v) => Math.max(0, v / y)) as [number, number, number];
}

/** The colour temperature whose white is nearest to a tint in red against blue, to 1 K. */
export function kelvinOf([red, , blue]: readonly [number, number, number]): number {
  const wanted = Math.log(Math.max(1e-4, red) / Math.max(1e-4, blue));
  let low = LEAST_KELVIN;
  let high = MOST_KELVIN;
  // Red over blue falls steadily with the temperature.
  while (high - low > 0.5) {
    const middle = (low + high) / 2;
    const [r, , b] = whiteTint(middle);
    if (Math.log(r / b) > wanted) low = middle;
    else high = middle;
  }
  return Math.round((low + high) / 2);
}
