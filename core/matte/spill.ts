import { boxBlur } from '../image/box-blur.ts';
import { enlarged } from './coarse-fill.ts';
import type { SpillSettings } from '../schemas/types.ts';
import { channelsOf, type KeyChannels } from './colour-key.ts';

export const SPILL_DEFAULTS = { limit: 'mean', allowance: 1, most: 2.8, amount: 1, replace: 'average', window: 0.1, falloff: 0.5 } as const;

/** What `limit` stands for: the share of the larger of the other two channels in the mix that the main one is held to. */
export function limitMix({ limit = SPILL_DEFAULTS.limit, weight = 0.5 }: Pick<SpillSettings, 'limit' | 'weight'>): number {
  return limit === 'mean' ? 0.5 : limit === 'larger' ? 1 : weight;
}

type Planes = readonly [Float32Array, Float32Array, Float32Array];

/** Light that takes the place of the screen's: one colour, or a plane for each channel. */
export type NewLight = readonly [number, number, number] | Planes;

/** From this share of the most that light of the screen makes on, a thing is less and less taken to have its colour from it. */
const OWN_FROM = 0.8;
/** Spilled light changes slowly: its share is averaged over blocks of so many px and those around each, so that the picture's noise is not carried into all channels. */
const CALM = 2;

/** Where spill is worked on. */
export interface SpillPlace {
  readonly width: number;
  readonly height: number;
  /** How much of it is done at each pixel. */
  readonly weight: Float32Array;
  /** 1 where whatever has the screen's colour has it from the screen: over the surface and at its border. */
  readonly near: Float32Array;
}

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
export function replaceSpill(planes: Planes, { width, height, weight, near }: SpillPlace, screen: readonly number[], settings: SpillSettings, light: NewLight | null): void {
  const channels = channelsOf(screen), mix = limitMix(settings), allowance = settings.allowance ?? SPILL_DEFAULTS.allowance, { main, others: [a, b] } = channels;
  const share = screenShare(screen, channels, mix, allowance), n = weight.length;
  if (!(share > 1e-6)) return;
  const most = settings.most ?? SPILL_DEFAULTS.most, least = OWN_FROM * most;
  const m = planes[main], one = planes[a], other = planes[b], flat = light && typeof light[0] === 'number' ? (light as readonly [number, number, number]) : null, field = light && !flat ? (light as Planes) : null;
  const overs = new Float32Array(n), helds = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    if (weight[i]! <= 0) continue;
    const p = one[i]!, q = other[i]!, held = allowance * (p > q ? mix * p + (1 - mix) * q : mix * q + (1 - mix) * p), ratio = m[i]! / Math.max(held, 1e-6);
    const spilled = near[i]! > 0 ? 1 : ratio >= most ? 0 : ratio <= least ? 1 : (most - ratio) / (most - least);
    overs[i] = spilled * (m[i]! - held);
    helds[i] = spilled * held;
  }
  const [calmOver, calmHeld] = [overs, helds].map((plane) => calmed(plane, width, height)) as [Float32Array, Float32Array];
  for (let i = 0; i < n; i++) {
    const w = weight[i]!, held = helds[i]!;
    if (w <= 0 || (held <= 0 && overs[i]! <= 0)) continue;
    // F·l in the main channel; in the others it goes with how strong they are there. What is nearly black has no ratio to average.
    const around = calmHeld[i]!, over = around > 1e-4 ? held * Math.max(0, calmOver[i]! / around) : Math.max(0, overs[i]!);
    if (over <= 0) continue;
    const p = one[i]!, q = other[i]!, fl = (w * over) / share, base = Math.max(held, 1e-6), fp = (fl * p) / base, fq = (fl * q) / base;
    const lm = flat ? flat[main] : field ? field[main][i]! : 0, lp = flat ? flat[a] : field ? field[a][i]! : 0, lq = flat ? flat[b] : field ? field[b][i]! : 0;
    m[i] = Math.max(0, m[i]! + fl * (lm - screen[main]!));
    one[i] = Math.max(0, p + fp * (lp - screen[a]!));
    other[i] = Math.max(0, q + fq * (lq - screen[b]!));
  }
}

function calmed(plane: Float32Array, width: number, height: number): Float32Array {
  const across = Math.ceil(width / CALM), down = Math.ceil(height / CALM), sums = new Float32Array(across * down);
  for (let row = 0, at = 0; row < height; row++) {
    const to = ((row / CALM) | 0) * across;
    for (let col = 0; col < width; col++, at++) sums[to + ((col / CALM) | 0)]! += plane[at]!;
  }
  return enlarged(boxBlur(sums, across, down, 1), across, down, width, height, CALM);
}

/** How much of the screen's main channel exceeds the limit of a grey thing that it shines on. */
function screenShare(screen: readonly number[], { main, others: [a, b] }: KeyChannels, mix: number, allowance: number): number {
  const p = screen[a]!, q = screen[b]!;
  return screen[main]! - allowance * (p > q ? mix * p + (1 - mix) * q : mix * q + (1 - mix) * p);
}
