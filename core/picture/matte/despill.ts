import { boxBlur } from '../../base/image/box-blur.ts';
import { rowReader, type CoarsePlane } from './coarse-fill.ts';
import type { SpillSettings } from '../../base/schemas/types.ts';
import { channelsOf, type KeyChannels } from './colour-key.ts';

export const SPILL_DEFAULTS = {
  limit: 'mean',
  allowance: 1,
  most: 2.8,
  amount: 1,
  replace: 'average',
  window: 0.1,
  falloff: 0.5,
} as const;

/** What `limit` stands for: the share of the larger of the other two channels in the mix that the main one is held to. */
export function limitMix({
  limit = SPILL_DEFAULTS.limit,
  weight = 0.5,
}: Pick<SpillSettings, 'limit' | 'weight'>): number {
  return limit === 'mean' ? 0.5 : limit === 'larger' ? 1 : weight;
}

type Planes = readonly [Float32Array, Float32Array, Float32Array];

/** Light that takes the place of the screen's: one colour, or what lies nearest. */
export type NewLight = readonly [number, number, number] | readonly [CoarsePlane, CoarsePlane, CoarsePlane];

/** From this share of the most that light of the screen makes on, a thing is less and less taken to have its colour from it. */
const OWN_FROM = 0.8;
/** Spilled light changes slowly: its share is averaged over blocks of so many px and those around each, so that the picture's noise is not carried into all channels. */
const CALM = 2;

/** At the surface's border a rim of its colour, a pixel or two wide, is no light: from twice what lies around on it is taken by itself, less than that in part. */
const BLEEDS = 3;

/** Where spill is worked on. */
export interface SpillPlace {
  readonly width: number;
  readonly height: number;
  /** How much of it is done at each pixel. */
  readonly weight: Float32Array;
  /** 1 where whatever has the screen's colour has it from the screen: over the surface and at its border. */
  readonly near: Float32Array;
}

/** Light that is worked on row by row: read as often as it is asked for, handed back once, changed. */
export interface LightRows {
  read(row: number, into: Planes): void;
  write(row: number, from: Planes): void;
}

/** Rows of planes. */
export function planeRows(planes: Planes, width: number): LightRows {
  return {
    read: (row, into) => planes.forEach((plane, c) => into[c]!.set(plane.subarray(row * width, (row + 1) * width))),
    write: (row, from) => planes.forEach((plane, c) => plane.set(from[c]!, row * width)),
  };
}

/** What else is done to a row's light once its spill is replaced. */
export type AfterSpill = (row: number, light: Planes) => void;

/**
 * Takes the screen's light off what stands near it, in place, and puts the new screen's there.
 *
 * What stands in front, of colour F under other light s, sends F·(s + l·B) when l of the screen's light B falls on it. The main channel is held to
 * a mix of the other two (times the allowance); what exceeds it is F·l·(B's main channel less the same mix of its others), which gives F·l. That
 * light is taken off all three channels, and F·l times the new light is added. A grey thing is grey again; where nothing exceeds the limit
 * nothing changes, and away from the surface nothing that is far more of the screen's colour than light on it would make it.
 *
 * Source of the limit: common practice (the main channel held to the mean, the larger or a mix of the others); the rest is that model solved.
 */
export function replaceSpill(
  rows: LightRows,
  { width, height, weight, near }: SpillPlace,
  screen: readonly number[],
  settings: SpillSettings,
  light: NewLight | null,
  after?: AfterSpill,
): void {
  const {
    channels: {
      main,
      others: [a, b],
    },
    mix,
    allowance,
    most,
    share,
  } = spillValues(screen, settings);
  const least = OWN_FROM * most;
  const own = share > 1e-6;
  if (!own && !after) return;
  const planes: Planes = [new Float32Array(width), new Float32Array(width), new Float32Array(width)];
  const m = planes[main];
  const one = planes[a];
  const other = planes[b];
  const overs = new Float32Array(width);
  const helds = new Float32Array(width);
  const excessOf = (row: number): void => {
    for (let col = 0, i = row * width; col < width; col++, i++) {
      if (weight[i]! <= 0) {
        overs[col] = helds[col] = 0;
        continue;
      }
      const p = one[col]!;
      const q = other[col]!;
      const held = allowance * (p > q ? mix * p + (1 - mix) * q : mix * q + (1 - mix) * p);
      const v = m[col]!;
      let spilled = 1;
      if (v > least * held && near[i]! <= 0) {
        const ratio = v / (held > 1e-6 ? held : 1e-6);
        spilled = ratio >= most ? 0 : ratio <= least ? 1 : (most - ratio) / (most - least);
      }
      overs[col] = spilled * (v - held);
      helds[col] = spilled * held;
    }
  };
  const across = Math.ceil(width / CALM);
  const down = Math.ceil(height / CALM);
  const sumOver = new Float32Array(across * down);
  const sumHeld = new Float32Array(across * down);
  for (let row = 0; own && row < height; row++) {
    rows.read(row, planes);
    excessOf(row);
    const to = ((row / CALM) | 0) * across;
    for (let col = 0; col < width; col++) {
      const at = to + ((col / CALM) | 0);
      sumOver[at]! += overs[col]!;
      sumHeld[at]! += helds[col]!;
    }
  }
  const calmOver = boxBlur(sumOver, across, down, 1);
  const calmHeld = boxBlur(sumHeld, across, down, 1);
  const calm = rowReader(across, down, width, CALM);
  const aroundOver = new Float32Array(width);
  const aroundHeld = new Float32Array(width);
  const flat = light && typeof light[0] === 'number' ? (light as readonly [number, number, number]) : null;
  const field = light && !flat ? (light as readonly [CoarsePlane, CoarsePlane, CoarsePlane]) : null;
  const replaceRow = (row: number): boolean => {
    excessOf(row);
    calm(calmOver, row, aroundOver);
    calm(calmHeld, row, aroundHeld);
    let changed = false;
    for (let col = 0, i = row * width; col < width; col++, i++) {
      const held = helds[col]!;
      const around = aroundHeld[col]!;
      // F·l in the main channel; in the others it goes with how strong they are there. What is nearly black has no ratio to average.
      const calmed = around > 1e-4 ? (held * aroundOver[col]!) / around : overs[col]!;
      const sharp = overs[col]!;
      const over =
        near[i]! > 0
          ? Math.min(sharp > calmed ? sharp : calmed, Math.max(calmed, BLEEDS * sharp - (2 * BLEEDS - 2) * calmed))
          : calmed;
      if (!(over > 0)) continue;
      const p = one[col]!;
      const q = other[col]!;
      const fl = (weight[i]! * over) / share;
      const base = held > 1e-6 ? held : 1e-6;
      const fp = (fl * p) / base;
      const fq = (fl * q) / base;
      const lm = flat ? flat[main] : field ? field[main].at(col, row) : 0;
      const lp = flat ? flat[a] : field ? field[a].at(col, row) : 0;
      const lq = flat ? flat[b] : field ? field[b].at(col, row) : 0;
      m[col] = Math.max(0, m[col]! + fl * (lm - screen[main]!));
      const sp = Math.max(0, p + fp * (lp - screen[a]!));
      const sq = Math.max(0, q + fq * (lq - screen[b]!));
      // A rim that bleeds has no hue of its own: the two others were pulled apart by what bled.
      const bled = over > calmed ? (0.5 * weight[i]! * (over - Math.max(0, calmed))) / over : 0;
      one[col] = sp + bled * (sq - sp);
      other[col] = sq + bled * (sp - sq);
      changed = true;
    }
    return changed;
  };
  for (let row = 0; row < height; row++) {
    rows.read(row, planes);
    const changed = own && replaceRow(row);
    after?.(row, planes);
    if (changed || after) rows.write(row, planes);
  }
}

/** What the settings come to for a screen's colour. `share`: how much of its main channel exceeds the limit of a grey thing that it shines on. */
export function spillValues(
  screen: readonly number[],
  settings: SpillSettings,
): { channels: KeyChannels; mix: number; allowance: number; most: number; share: number } {
  const channels = channelsOf(screen);
  const {
    main,
    others: [a, b],
  } = channels;
  const mix = limitMix(settings);
  const allowance = settings.allowance ?? SPILL_DEFAULTS.allowance;
  const p = screen[a]!;
  const q = screen[b]!;
  return {
    channels,
    mix,
    allowance,
    most: settings.most ?? SPILL_DEFAULTS.most,
    share: screen[main]! - allowance * (p > q ? mix * p + (1 - mix) * q : mix * q + (1 - mix) * p),
  };
}
