import { linearToSrgb, srgbToLinear } from '../../../core/base/image/transfer.ts';
import type { Channel } from '../stores/viewing.ts';

/** What is done to the picture on its way to the eye only. */
export interface ViewLook {
  exposure: number;
  gamma: number;
  channel: Channel;
}

export const PLAIN_LOOK: ViewLook = { exposure: 0, gamma: 1, channel: 'colour' };

export function isPlain({ exposure, gamma, channel }: ViewLook): boolean {
  return exposure === 0 && gamma === 1 && channel === 'colour';
}

/** What every code 0…255 becomes: its light times 2^exposure, then raised to 1/gamma, as a display code again. */
export function viewTable(exposure: number, gamma: number): Uint8ClampedArray {
  const table = new Uint8ClampedArray(256);
  for (let code = 0; code < 256; code++)
    table[code] = Math.round(
      255 * Math.min(1, linearToSrgb((srgbToLinear(code / 255) * 2 ** exposure) ** (1 / gamma))),
    );
  return table;
}

/** Changes straight 8-bit RGBA codes in place. Luminance: BT.709-6 weights on light. */
export function applyViewLook(data: Uint8ClampedArray, look: ViewLook): void {
  const table = viewTable(look.exposure, look.gamma);
  const only = { red: 0, green: 1, blue: 2 }[look.channel as 'red'] as number | undefined;
  for (let i = 0; i < data.length; i += 4) {
    if (look.channel === 'luminance') {
      const light = 0.2126 * LIGHT[data[i]!]! + 0.7152 * LIGHT[data[i + 1]!]! + 0.0722 * LIGHT[data[i + 2]!]!;
      data[i] = data[i + 1] = data[i + 2] = table[Math.round(255 * linearToSrgb(light))]!;
    } else if (only !== undefined) data[i] = data[i + 1] = data[i + 2] = table[data[i + only]!]!;
    else {
      data[i] = table[data[i]!]!;
      data[i + 1] = table[data[i + 1]!]!;
      data[i + 2] = table[data[i + 2]!]!;
    }
  }
}
const LIGHT = Float32Array.from({ length: 256 }, (_, code) => srgbToLinear(code / 255));
