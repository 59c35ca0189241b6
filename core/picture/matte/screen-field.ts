import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { ColourKey } from '../../base/schemas/types.ts';
import { channelsOf, excess, KEY_DEFAULTS } from './colour-key.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import { coarseFill } from './coarse-fill.ts';

/** The light of the screen alone at every pixel of a region, as its clear parts show it, and its excess in the key's channel. */
export interface ScreenField {
  readonly planes: readonly [Float32Array, Float32Array, Float32Array];
  readonly excess: Float32Array;
}

/** A pixel is clear when so much of the screen's excess is there: between these shares, and fully between those. */
const FROM = 0.78;
const FULLY = 0.86;
const UP_TO = 1.3;
/** Finer than this, px, the field does not follow the picture: noise and the lines of a panel. */
const BLOCK = 8;

/**
 * What the screen alone looks like where something stands before it: its clear pixels, grown over the rest. `excesses` as excessPlane gives them;
 * `inside` is 1 where the screen's own picture is, 0 elsewhere.
 */
export function screenField(
  region: LightRegion,
  excesses: Float32Array,
  inside: Float32Array,
  key: Pick<ColourKey, 'colour' | 'mix'>,
): ScreenField {
  const { main, others } = channelsOf(key.colour);
  const mix = key.mix ?? KEY_DEFAULTS.mix;
  const told = excess(key.colour[main], key.colour[others[0]], key.colour[others[1]], mix);
  const weight = new Float32Array(excesses.length);
  let clear = 0;
  for (let i = 0; i < weight.length; i++) {
    const share = excesses[i]! / told;
    const known = share < FROM || share > UP_TO ? 0 : share < FULLY ? (share - FROM) / (FULLY - FROM) : 1;
    clear += weight[i] = known * inside[i]!;
  }
  if (clear < 16) {
    const planes = mapTuple(region.planes, (_, c) => new Float32Array(excesses.length).fill(key.colour[c]!));
    return { planes, excess: new Float32Array(excesses.length).fill(told) };
  }
  const planes = coarseFill(
    region.planes,
    weight,
    region.width,
    region.height,
    BLOCK,
  ) as unknown as ScreenField['planes'];
  const out = new Float32Array(excesses.length);
  const m = planes[main];
  const a = planes[others[0]];
  const b = planes[others[1]];
  for (let i = 0; i < out.length; i++) out[i] = excess(m[i]!, a[i]!, b[i]!, mix);
  return { planes, excess: out };
}
