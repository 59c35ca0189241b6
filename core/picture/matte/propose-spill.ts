import { clamp } from '../../base/geometry/clamp.ts';
import { grownOutline } from '../../base/geometry/grow-outline.ts';
import { bounds, distance, type Quad } from '../../base/geometry/quad.ts';
import { median, quantile } from '../../base/image/statistics.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import type { ColourKey, SpillSettings } from '../../base/schemas/types.ts';
import { channelsOf, excessPlane, keyMatte } from './colour-key.ts';
import { coverageOf } from './coverage.ts';
import { boxWithin, lightOfRegion, type LightRegion } from '../../base/image/light-region.ts';
import { screenField } from './screen-field.ts';
import { innerPixels } from './front-of-frame.ts';
import { limitMix, SPILL_DEFAULTS } from './despill.ts';

/** What crosses the screen is followed outward so far, in widths of the surface; from half of that on the screen hardly shines on it. */
const OUTWARD = 1;
const FAR = 0.5;
/** Neighbouring pixels of one thing differ by less than this share; its hue by less than that from where it was begun. */
const STEP = 0.07;
const HUE = 0.3;
const OWN = 2.2;
/** Fewer pixels tell nothing; more than this off from grey is not believed. */
const ENOUGH = 150;
const LEAST = 0.8;
const MOST = 1.3;
/** Where nothing crosses the screen for its light to be seen on, only the rim around it is worked on: a plate's colour is recorded coarsely and bleeds. Px. */
const RIM = { window: 2.5, falloff: 2 } as const;

/** What is determined about a frame: its picture, the corners, and nothing else. */
export interface SpillFrame {
  readonly picture: CodedPicture;
  readonly quad: Quad;
}

/**
 * How the main channel of what crosses the screen stands to a mix of the other two where no light of the screen falls: followed outward from the
 * surface, pixel by pixel, and read far from it. 1 (grey) where nothing that crosses it is seen far enough away. And how many times it exceeds that at most,
 * where the screen lies under it. Where nothing crosses it, away from its rim whatever has the screen's colour may have it of itself, as leaves do, and is left.
 */
export function proposeAllowance(
  frames: readonly SpillFrame[],
  key: ColourKey,
  colour: PlateColour,
): Pick<SpillSettings, 'allowance' | 'most' | 'window' | 'falloff'> {
  const far: number[] = [];
  const lit: number[] = [];
  for (const { picture, quad } of frames) {
    const wide = Math.max(distance(quad[0], quad[1]), distance(quad[3], quad[2]));
    const box = boxWithin(bounds(quad), OUTWARD * wide, picture);
    if (box) far.push(...farRatios(lightOfRegion(picture, box, colour), quad, wide, key, lit));
  }
  const allowance =
    far.length < ENOUGH * Math.max(1, frames.length / 4)
      ? 1
      : Number(clamp(quantile(far, 0.3), LEAST, MOST).toFixed(3));
  // On the screen itself it shines the most; a little more is allowed for.
  if (lit.length < ENOUGH) return { allowance, most: SPILL_DEFAULTS.most, ...rimOf(frames) };
  return { allowance, most: Number(Math.max(1.3, (1.2 * quantile(lit, 0.98)) / allowance).toFixed(2)) };
}

/** The rim as shares of the surface's width on the frames that were looked at. */
function rimOf(frames: readonly SpillFrame[]): { window: number; falloff: number } {
  const wide = Math.max(
    1,
    median(frames.map(({ quad }) => Math.max(distance(quad[0], quad[1]), distance(quad[3], quad[2])))),
  );
  return { window: Number((RIM.window / wide).toFixed(4)), falloff: Number((RIM.falloff / wide).toFixed(4)) };
}

function farRatios(region: LightRegion, quad: Quad, wide: number, key: ColourKey, lit: number[]): number[] {
  const { box, width, height, planes } = region;
  const excesses = excessPlane(region, key);
  const inside = innerPixels(quad, box);
  const matte = keyMatte(excesses, screenField(region, excesses, inside, key).excess, key);
  const {
    main,
    others: [a, b],
  } = channelsOf(key.colour);
  const mix = limitMix({});
  const m = planes[main];
  const p = planes[a];
  const q = planes[b];
  const reached = new Uint8Array(matte.length);
  const open: number[] = [];
  const hues: number[] = [];
  const away = coverageOf([grownOutline(quad, FAR * wide)], box).data;
  for (let i = 0; i < matte.length; i++) {
    if (inside[i]! < 1 || matte[i]! < 1 || p[i]! + q[i]! < 0.04) continue;
    reached[i] = 1;
    open.push(i);
    hues.push(p[i]! / Math.max(1e-4, q[i]!));
    lit.push(ratioAt(m, p, q, i, mix));
  }
  if (hues.length < ENOUGH) return [];
  const hue = median(hues);
  const out: number[] = [];
  const alike = (x: number, y: number) => Math.abs(x - y) <= STEP * Math.max(x, y) + 0.004;
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    const col = at % width;
    const row = Math.floor(at / width);
    if (away[at]! <= 0) out.push(ratioAt(m, p, q, at, mix));
    for (const [next, there] of [
      [at - 1, col > 0],
      [at + 1, col < width - 1],
      [at - width, row > 0],
      [at + width, row < height - 1],
    ] as const) {
      if (!there || reached[next] === 1) continue;
      if (!alike(m[at]!, m[next]!) || !alike(p[at]!, p[next]!) || !alike(q[at]!, q[next]!)) continue;
      if (Math.abs(p[next]! / Math.max(1e-4, q[next]!) / hue - 1) > HUE || ratioAt(m, p, q, next, mix) > OWN) continue;
      reached[next] = 1;
      open.push(next);
    }
  }
  return out;
}

function ratioAt(m: Float32Array, p: Float32Array, q: Float32Array, i: number, mix: number): number {
  const one = p[i]!;
  const other = q[i]!;
  return m[i]! / Math.max(1e-4, one > other ? mix * one + (1 - mix) * other : mix * other + (1 - mix) * one);
}
