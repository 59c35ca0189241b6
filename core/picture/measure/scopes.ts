import { clamp } from '../../base/geometry/clamp.ts';
import type { QuadMotion } from '../pin/shutter-path.ts';
import { bounds, distance, signedArea, type Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { quantile } from '../../base/image/statistics.ts';
import { lightToCode } from '../../base/image/transfer.ts';
import { boxWithin, lightOfRegion, type LightRegion } from '../../base/image/light-region.ts';
import { edgeProfile, type EdgeProfile } from './edge-profile.ts';
import { flatBlocks, grainOf } from './grain.ts';
import { lightOfCells, luminanceOf, planeCells } from './plane-cells.ts';
import { softnessOnFrame, togetherOf, type EdgeSeen } from './softness.ts';

/** Shares of places by display-referred luminance, and the ends between which all but 1.5 % on either side lie. */
export interface LevelScope {
  readonly shares: readonly number[];
  readonly ends: readonly [number, number];
}

/** A straight border as it is recorded: its profile, and the spread of all such borders, px (gaussian σ, the pixel's own and the motion's taken off). */
export interface EdgeScope extends EdgeProfile {
  readonly sigma: number;
}

/** Noise at a level: mean of the channels' standard deviations, codes of 255. */
export interface NoiseScope {
  readonly level: number;
  readonly sigma: number;
}

/** The content as it comes out beside the plate it lies in, on one frame. Null where nothing of the kind is seen. */
export interface Scopes {
  readonly levels: { readonly content: LevelScope | null; readonly around: LevelScope | null };
  readonly edges: { readonly content: EdgeScope | null; readonly device: EdgeScope | null };
  readonly noise: { readonly content: readonly NoiseScope[]; readonly plate: readonly NoiseScope[] };
}

export const LEVEL_BINS = 48;
const ENDS = 0.015;
const FEWEST = 30;
/** So far around the surface the plate is looked at, in its widths. */
const AROUND = 0.32;
/** The profile is that of the plainest border with so much of the strongest step. */
const STRONG = 0.5;
/** A border nearer to the surface's own than this, px, is its own. */
const OWN = 2;

/**
 * What a frame's composite and its plate show by the same measures: levels at places inside the surface and around it, the spread of the content's border
 * and of the device's, noise in flat squares. `ratio`: the surface's width over its height; `open`: the part of a frame that the shutter is open;
 * `soften`: how soft the content was made, px, about which its border is looked for.
 */
export function scopesOf(
  plate: CodedPicture,
  finished: CodedPicture,
  motion: QuadMotion,
  ratio: number,
  open: number,
  soften: number,
  colour: PlateColour,
): Scopes {
  const quad = motion.now;
  const wide = Math.max(distance(quad[0], quad[1]), distance(quad[3], quad[2]));
  const box = boxWithin(bounds(quad), AROUND * wide, plate);
  if (!box)
    return {
      levels: { content: null, around: null },
      edges: { content: null, device: null },
      noise: { content: [], plate: [] },
    };
  const before = lightOfRegion(plate, box, colour);
  const after = lightOfRegion(finished, box, colour);
  const cells = planeCells(ratio);
  const inside = lightOfCells(cells, quad, after);
  const outside = lightOfCells(cells, quad, before);
  const of = (light: Float32Array, where: 0 | 1) =>
    levelScope(
      Array.from(cells.inside.keys()).flatMap((i) =>
        cells.inside[i] === where && luminanceOf(light, i) >= 0 ? [lightToCode(luminanceOf(light, i))] : [],
      ),
    );
  const whole = lightOfRegion(plate, { left: 0, top: 0, right: plate.width, bottom: plate.height }, colour);
  const inner = innerBox(quad, finished);
  return {
    levels: { content: of(inside, 1), around: of(outside, 0) },
    edges: {
      content: edgeScope(after, motion, open, soften, (edge) => offSide(edge, quad) <= OWN),
      device: edgeScope(before, motion, open, 1, () => true),
    },
    noise: { plate: noiseScope(whole), content: inner ? noiseScope(lightOfRegion(finished, inner, colour)) : [] },
  };
}

function levelScope(codes: readonly number[]): LevelScope | null {
  if (codes.length < FEWEST) return null;
  const shares = new Array<number>(LEVEL_BINS).fill(0);
  for (const code of codes) shares[clamp(Math.floor(code * LEVEL_BINS), 0, LEVEL_BINS - 1)]! += 1 / codes.length;
  return { shares, ends: [quantile(codes, ENDS), quantile(codes, 1 - ENDS)] };
}

/** The spread of the borders that are meant, and the profile of the one that is seen best. */
function edgeScope(
  region: LightRegion,
  motion: QuadMotion,
  open: number,
  guess: number,
  meant: (edge: EdgeSeen) => boolean,
): EdgeScope | null {
  const edges = softnessOnFrame(0, region, motion, open, Math.max(0.5, guess))?.edges.filter(meant) ?? [];
  if (edges.length === 0) return null;
  const most = Math.max(...edges.map((e) => Math.abs(e.step)));
  const best = edges.filter((e) => Math.abs(e.step) >= STRONG * most).reduce((a, b) => (b.left < a.left ? b : a));
  const profile = edgeProfile(region, best.from, best.to);
  return profile && { ...profile, sigma: togetherOf(edges).sigma };
}

/** How far an edge's middle is off the nearest of the surface's sides, px. */
function offSide({ from, to }: EdgeSeen, quad: Quad): number {
  const x = (from[0] + to[0]) / 2;
  const y = (from[1] + to[1]) / 2;
  return Math.min(
    ...quad.map((a, side) => {
      const b = quad[(side + 1) % 4]!;
      return (Math.abs(signedArea([a, b, [x, y]])) * 2) / Math.max(1e-6, distance(a, b));
    }),
  );
}

/** The largest upright box that surely lies inside; null where it is no box. */
function innerBox([a, b, c, d]: Quad, picture: { width: number; height: number }) {
  const left = Math.max(0, Math.ceil(Math.max(a[0], d[0])) + 2);
  const right = Math.min(picture.width, Math.floor(Math.min(b[0], c[0])) - 2);
  const top = Math.max(0, Math.ceil(Math.max(a[1], b[1])) + 2);
  const bottom = Math.min(picture.height, Math.floor(Math.min(c[1], d[1])) - 2);
  return right - left >= 16 && bottom - top >= 16 ? { left, top, right, bottom } : null;
}

function noiseScope(region: LightRegion): NoiseScope[] {
  const found = grainOf(flatBlocks(region));
  return found
    ? found.grain.levels.map(({ level, sigma }) => ({ level, sigma: (255 * (sigma[0] + sigma[1] + sigma[2])) / 3 }))
    : [];
}
