import { clamp } from '../../base/geometry/clamp.ts';
import type { ColourKey } from '../../base/schemas/types.ts';
import { canBeKeyed, channelsOf, excess, excessPlane, KEY_DEFAULTS, LEAST_EXCESS } from './colour-key.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import { screenField } from './screen-field.ts';

/** A region of a frame, and which of its pixels show the inside of the surface (1) and nothing of its border (0 elsewhere, and on markers). */
export interface KeySample {
  readonly region: LightRegion;
  readonly inside: Float32Array;
}

/** Shares of the surface that must show one colour for it to be the screen's. */
const LEAST_SHARE = 0.15;
/** A screen that was lit to be keyed shows a strong colour: its main channel exceeds the others by this share of itself. Leaves and pictures do by about half. */
const STRONG = 0.6;
const BINS = 96;

/** The colour that most of the surface shows, among those that can be keyed; null when there is none. */
export function screenColour(samples: readonly KeySample[]): [number, number, number] | null {
  let most: [number, number, number] | null = null;
  let mostShare = LEAST_SHARE;
  for (const main of [1, 2, 0] as const) {
    const found = colourOf(samples, main);
    if (found && found.share > mostShare && canBeKeyed(found.colour) && isStrong(found.colour, main))
      [most, mostShare] = [found.colour, found.share];
  }
  return most;
}

function isStrong(colour: readonly number[], main: 0 | 1 | 2): boolean {
  const {
    others: [a, b],
  } = channelsOf([0, 1, 2].map((c) => (c === main ? 1 : 0)));
  return excess(colour[main]!, colour[a]!, colour[b]!, 0.5) >= STRONG * colour[main]!;
}

/** The most frequent excess in one channel, and the mean colour of what is near it. */
function colourOf(
  samples: readonly KeySample[],
  main: 0 | 1 | 2,
): { colour: [number, number, number]; share: number } | null {
  const { others } = channelsOf([0, 1, 2].map((c) => (c === main ? 1 : 0)));
  const [a, b] = others;
  const each = (visit: (e: number, planes: LightRegion['planes'], i: number) => void) => {
    let seen = 0;
    for (const {
      region: { planes },
      inside,
    } of samples) {
      for (let i = 0; i < inside.length; i++) {
        if (inside[i]! < 1) continue;
        seen++;
        const m = planes[main][i]!;
        const e = excess(m, planes[a][i]!, planes[b][i]!, KEY_DEFAULTS.mix);
        if (e > LEAST_EXCESS * m && m > 0.01) visit(e, planes, i);
      }
    }
    return seen;
  };
  let top = 0;
  each((e) => (top = Math.max(top, e)));
  if (top <= 0) return null;
  const histogram = new Float64Array(BINS);
  each((e) => histogram[Math.min(BINS - 1, Math.floor((e / top) * BINS))]!++);
  // Bins weighted by their excess: what is clear is bright, what it shines on is not.
  const smooth = histogram.map(
    (_, i) => ((histogram[i - 1] ?? 0) + histogram[i]! + (histogram[i + 1] ?? 0)) * (i + 0.5),
  );
  const mode = ((smooth.indexOf(Math.max(...smooth)) + 0.5) / BINS) * top;
  const colour: [number, number, number] = [0, 0, 0];
  let count = 0;
  const seen = each((e, planes, i) => {
    if (Math.abs(e / mode - 1) > 0.2) return;
    for (let c = 0; c < 3; c++) colour[c]! += planes[c as 0 | 1 | 2][i]!;
    count++;
  });
  return count === 0
    ? null
    : { colour: [colour[0] / count, colour[1] / count, colour[2] / count], share: count / Math.max(1, seen) };
}

/** Of the clear screen's own spread, so many standard deviations are still clear. */
const FLOOR_SPREADS = 2.5;
/** Of what is solid, the lowest share that may be a soft edge. */
const RIM = 0.02;

/** How much of the screen's excess is gone in pixels of the samples, pooled. */
function gone(samples: readonly KeySample[], key: Pick<ColourKey, 'colour' | 'mix'>): Float32Array {
  const out = new Float32Array(samples.reduce((n, s) => n + s.inside.length, 0));
  let count = 0;
  for (const { region, inside } of samples) {
    const excesses = excessPlane(region, key);
    const field = screenField(region, excesses, inside, key);
    for (let i = 0; i < inside.length; i++)
      if (inside[i]! >= 1) out[count++] = 1 - excesses[i]! / Math.max(1e-6, field.excess[i]!);
  }
  return out.subarray(0, count);
}

/**
 * A key's floor and ceiling from how its excess is spread over the surface: the floor above the noise of what is clear, the ceiling where what is
 * solid begins. Soft edges lie evenly between the two; they are taken off before the solid's lower end is read.
 */
export function proposeLimits(
  samples: readonly KeySample[],
  key: Pick<ColourKey, 'colour' | 'mix'>,
): { floor: number; ceiling: number } {
  const all = gone(samples, key);
  const clear = all.filter((g) => Math.abs(g) < 0.2).sort();
  const n = clear.length;
  // Half of what lies within the middle 68 % is the standard deviation of the middle, whatever else is mixed in.
  const spread = n < 16 ? 0.03 : (clear[Math.floor(0.84 * n)]! - clear[Math.floor(0.16 * n)]!) / 2;
  const floor = clamp(FLOOR_SPREADS * spread, 0.01, 0.25);
  const bins = new Float64Array(60);
  const from = 0.3;
  const width = 0.02;
  for (const g of all) if (g >= from) bins[Math.min(bins.length - 1, Math.floor((g - from) / width))]!++;
  // What is soft fills each bin alike; its density is read below where anything is solid.
  const soft = Math.min(mean(bins.subarray(0, 5)), mean(bins.subarray(3, 10)), mean(bins.subarray(8, 16)));
  const solid = bins.map((v) => Math.max(0, v - 1.5 * soft));
  const total = solid.reduce((a, b) => a + b, 0);
  if (total < 30) return { floor, ceiling: Math.max(KEY_DEFAULTS.ceiling, floor + 0.3) };
  let sum = 0;
  let bin = 0;
  while (bin < solid.length && sum + solid[bin]! < RIM * total) sum += solid[bin++]!;
  return { floor, ceiling: Math.max(floor + 0.1, from + width * (bin + 0.5)) };
}

const mean = (values: Float64Array) => values.reduce((a, b) => a + b, 0) / values.length;

/** The key that samples of a shot suggest; null where the surface shows no colour to key by. */
export function proposeKey(samples: readonly KeySample[]): ColourKey | null {
  const colour = screenColour(samples);
  if (!colour) return null;
  return {
    colour: colour.map((v) => Number(v.toFixed(5))) as ColourKey['colour'],
    ...rounded(proposeLimits(samples, { colour })),
  };
}

const rounded = ({ floor, ceiling }: { floor: number; ceiling: number }) => ({
  floor: Number(floor.toFixed(3)),
  ceiling: Number(ceiling.toFixed(3)),
});
