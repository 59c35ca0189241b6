import { clamp } from '../../base/geometry/clamp.ts';
import type { ColourKey } from '../../base/schemas/types.ts';
import type { LightRegion } from '../../base/image/light-region.ts';

export const KEY_DEFAULTS = { mix: 0.5, floor: 0.1, ceiling: 0.6, grow: 0, blur: 0, reach: 2 } as const;

/** The channel that a screen colour is strongest in, and the two others. */
export interface KeyChannels {
  readonly main: 0 | 1 | 2;
  readonly others: readonly [0 | 1 | 2, 0 | 1 | 2];
}

export function channelsOf([r, g, b]: readonly number[]): KeyChannels {
  return g! >= r! && g! >= b!
    ? { main: 1, others: [0, 2] }
    : b! >= r!
      ? { main: 2, others: [0, 1] }
      : { main: 0, others: [1, 2] };
}

/** How much a colour's main channel exceeds a mix of the other two: `mix` of the larger, the rest of the smaller. */
export function excess(main: number, one: number, other: number, mix: number): number {
  return main - (one > other ? mix * one + (1 - mix) * other : mix * other + (1 - mix) * one);
}

/** Less of this, as a share of the main channel, is no colour to key by. */
export const LEAST_EXCESS = 0.15;

/** Whether a colour stands out enough from grey for its excess to tell it from others. */
export function canBeKeyed(colour: readonly number[], mix: number = KEY_DEFAULTS.mix): boolean {
  const { main, others } = channelsOf(colour);
  const value = colour[main]!;
  return value > 0.01 && excess(value, colour[others[0]]!, colour[others[1]]!, mix) > LEAST_EXCESS * value;
}

/** The excess of every pixel of a region in a key's main channel. */
export function excessPlane({ planes }: LightRegion, key: Pick<ColourKey, 'colour' | 'mix'>): Float32Array {
  const { main, others } = channelsOf(key.colour);
  const mix = key.mix ?? KEY_DEFAULTS.mix;
  const m = planes[main];
  const a = planes[others[0]];
  const b = planes[others[1]];
  const out = new Float32Array(m.length);
  for (let i = 0; i < out.length; i++) out[i] = excess(m[i]!, a[i]!, b[i]!, mix);
  return out;
}

/**
 * The colour-difference matte: how much of each pixel stands in front, 0…1. A pixel that is α in front and 1 − α screen has the excess
 * α·D(front) + (1 − α)·D(screen), which is straight in α: from clear (none of the screen's excess is gone) to solid (`ceiling` of it is); what the noise takes, up to `floor`, counts as none.
 * `screen` is the excess of the screen alone at each pixel.
 *
 * Source: A. R. Smith, J. F. Blinn, Blue screen matting, SIGGRAPH 1996, §2.2 (the matting equation; with a front whose excess is known the one
 * unknown left is α).
 */
export function keyMatte(
  excesses: Float32Array,
  screen: Float32Array,
  { floor = KEY_DEFAULTS.floor, ceiling = KEY_DEFAULTS.ceiling }: Pick<ColourKey, 'floor' | 'ceiling'>,
): Float32Array {
  const out = new Float32Array(excesses.length);
  for (let i = 0; i < out.length; i++) {
    const s = screen[i]!;
    out[i] = s > 1e-6 ? shareOf(1 - excesses[i]! / s, floor, ceiling) : 1;
  }
  return out;
}

/** How much is in front where a share of the screen's excess is gone: none up to the floor, then soon as much as the straight line from 0 to the ceiling says. */
export function shareOf(gone: number, floor: number, ceiling: number): number {
  if (gone <= floor) return 0;
  if (gone >= ceiling) return 1;
  const share = gone / ceiling;
  const knee = clamp(floor, 1e-4, ceiling - floor);
  return gone >= floor + knee ? share : (share * (gone - floor)) / knee;
}
