import { clamp } from '../../base/geometry/clamp.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { compose, invert, type Homography, type Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { cubicWeights } from '../../base/image/sampling.ts';
import type { ShotDocument, SteadyPicture } from '../../base/schemas/types.ts';
import { ALL_STEADY, STEADY_PARTS, steadyMaps, type SteadyChoice } from './steady-maps.ts';

/** What a document asks to be taken out, with all that is usual filled in. */
export function choiceOf(steady: SteadyPicture | undefined): SteadyChoice {
  if (!steady) return ALL_STEADY;
  return {
    ...(Object.fromEntries(STEADY_PARTS.map((part) => [part, steady.remove.includes(part)])) as unknown as Omit<
      SteadyChoice,
      'smooth'
    >),
    smooth: steady.smooth ?? 0,
  };
}

/** The surface by which a document's picture is steadied: its corners, or, before they are set, the first region's. */
export function steadiedSurface({ corners, regions }: Pick<ShotDocument, 'corners' | 'regions'>): Quad | null {
  return (corners ?? regions[0]?.points.slice(0, 4) ?? null) as unknown as Quad | null;
}

/** The middle of a surface: what place, turn and size are reckoned about. */
export function middleOf(corners: Quad): Point {
  return mapTuple([0, 1], (k) => corners.reduce((s, p) => s + p[k], 0) / 4);
}

/** Maps of the plate's frames to the steadied ones, for a document and what is known of its surface. Empty where nothing is known. */
export function steadyOf(
  steady: SteadyPicture | undefined,
  corners: Quad,
  maps: ReadonlyMap<number, Homography>,
  frames: number,
): Map<number, Homography> {
  return steadyMaps(maps, middleOf(corners), choiceOf(steady), frames);
}

/**
 * Luma of a frame as the steadied picture has it: codes sampled by cubic convolution (R. Keys, 1981, a = −0.5), once; beyond the plate its border goes on. For following
 * only: what is delivered is sampled in light (stabilised-frame.ts).
 */
export function steadiedLuma({ width, height, codes, peak }: LumaFrame, map: Homography): LumaFrame {
  const back = invert(map);
  const out = peak === 255 ? new Uint8Array(width * height) : new Uint16Array(width * height);
  if (!back) throw new RangeError('a steadying map must not fold the picture');
  const [a, b, c, d, e, f, g, h, i] = back as [number, number, number, number, number, number, number, number, number];
  const wx = new Float64Array(4);
  const wy = new Float64Array(4);
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) {
      const u = col + 0.5;
      const v = row + 0.5;
      const w = g * u + h * v + i;
      const x = (a * u + b * v + c) / w - 0.5;
      const y = (d * u + e * v + f) / w - 0.5;
      const ix = Math.floor(x);
      const iy = Math.floor(y);
      cubicWeights(x - ix, wx);
      cubicWeights(y - iy, wy);
      let sum = 0;
      for (let k = 0; k < 4; k++) {
        const at = clamp(iy - 1 + k, 0, height - 1) * width;
        let line = 0;
        for (let j = 0; j < 4; j++) line += wx[j]! * codes[at + clamp(ix - 1 + j, 0, width - 1)]!;
        sum += wy[k]! * line;
      }
      out[row * width + col] = clamp(Math.round(sum), 0, peak);
    }
  }
  return { width, height, codes: out, peak };
}

/** A map of the plate's surface (reference pixels to a frame's) as one of the steadied picture, or the other way round with the maps' inverses. */
export function ontoSteadied(h: Homography, at: Homography, reference: Homography): Homography | null {
  const back = invert(reference);
  return back && compose(at, h, back);
}
