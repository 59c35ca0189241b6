import simplify from 'simplify-js';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, type Point } from '../../base/geometry/homography.ts';
import { bounds, distance, type Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { sampleBilinear } from '../../base/image/sampling.ts';
import { median, quantile } from '../../base/image/statistics.ts';
import type { ColourKey } from '../../base/schemas/types.ts';
import { channelsOf } from './colour-key.ts';
import { boxWithin, lightOfRegion } from '../../base/image/light-region.ts';

/** The frame is looked for so far beyond the surface, in shares of its width; nearer than the first px the screen itself bleeds into it. */
const REACH = 0.22;
const FIRST = 3;
/** Rays to each side, and to each corner. */
const BY_SIDE = 9;
const BY_CORNER = 5;
/** A frame is dark, and none of its own colour: light of the two channels that the screen hardly shines in, and how they stand to each other. */
const DARK = 0.06;
const OWN_COLOUR = 1.6;
/** It ends where those two change by this factor and this much light; so many px before that the lens mixes both. */
const STEP = 1.8;
const STEP_LIGHT = 0.012;
const MIXED = 0.75;
/** Points of the outline that a straight line tells to within so many px are left out. */
const STRAIGHT = 0.6;
/** The screen shines on it when its channel exceeds the mean of the others by this factor, half-way to the frame's end. */
const LIT = 1.2;
/** So many of the rays must end, on so many of the frames, for it to be a frame. */
const ENOUGH = 0.6;
const SURE = 0.3;

interface Ray {
  readonly from: Point;
  readonly along: Point;
}

/**
 * The border of the dark frame that a screen is set in, in the plate's pixels where the surface lies as in `home`: along rays from the surface outward, up to
 * where the light of the two channels that the screen does not shine in changes; the middle over the frames. Null where the screen has no dark frame, it
 * is not seen to end, or the screen does not shine on it. `ratio`: the surface's width over its height.
 */
export function deviceFrame(
  frames: readonly { readonly picture: CodedPicture; readonly quad: Quad }[],
  key: ColourKey,
  ratio: number,
  colour: PlateColour,
  home: Quad,
): Point[] | null {
  const rays = raysAround(ratio);
  const flat: Quad = [
    [0, 0],
    [ratio, 0],
    [ratio, 1],
    [0, 1],
  ];
  const toHome = homographyBetweenQuads(flat, home);
  const ends: number[][] = rays.map(() => []);
  const lit: number[] = [];
  if (!toHome) return null;
  for (const { picture, quad } of frames) {
    const wide = Math.max(distance(quad[0], quad[1]), distance(quad[3], quad[2]));
    const box = boxWithin(bounds(quad), REACH * wide + 2, picture);
    const map = homographyBetweenQuads(flat, quad);
    if (!box || !map) continue;
    const { planes, width, height } = lightOfRegion(picture, box, colour);
    const {
      main,
      others: [a, b],
    } = channelsOf(key.colour);
    const of = (c: 0 | 1 | 2) => ({ data: planes[c], width, height });
    const [m, one, other] = [of(main), of(a), of(b)];
    rays.forEach(({ from, along }, k) => {
      const px = pixelsPer(map, from, along);
      const at = (distance: number): readonly [number, number, number] | null => {
        const [x, y] = applyToPoint(map, [from[0] + (along[0] * distance) / px, from[1] + (along[1] * distance) / px]);
        const col = x - 0.5 - box.left;
        const row = y - 0.5 - box.top;
        return x < 1 || y < 1 || x > picture.width - 1 || y > picture.height - 1
          ? null
          : [sampleBilinear(one, col, row), sampleBilinear(other, col, row), sampleBilinear(m, col, row)];
      };
      const end = endOf(at, REACH * ratio * px);
      const half = end === null ? null : at(Math.max(FIRST, (FIRST + end) / 2));
      if (end === null || !half) return;
      ends[k]!.push(end / px);
      lit.push(half[2] / Math.max(1e-4, (half[0] + half[1]) / 2));
    });
  }
  const told = ends.map((found) => (found.length >= Math.max(1, SURE * frames.length) ? quantile(found, 0.4) : null));
  const known = told.filter((v) => v !== null);
  if (known.length < ENOUGH * rays.length || median(lit) < LIT) return null;
  const reach = told.map((v, k) => v ?? likeNeighbours(told, k));
  const whole = rays.map(({ from, along }, k) => {
    const straight = k % (BY_CORNER + BY_SIDE) > BY_CORNER && (k + 1) % (BY_CORNER + BY_SIDE) > 0;
    // A lens or a slot in the frame ends one ray, not its neighbours.
    const far = straight ? median([reach[k - 1]!, reach[k]!, reach[k + 1]!]) : reach[k]!;
    const [x, y] = applyToPoint(toHome, [from[0] + along[0] * far, from[1] + along[1] * far]);
    return { x, y };
  });
  return simplify([...whole, whole[0]!], STRAIGHT, true)
    .slice(0, -1)
    .map(({ x, y }): Point => [x, y]);
}

/** Rays around the flat surface, clockwise from its upper left corner. */
function raysAround(ratio: number): Ray[] {
  const corners: Quad = [
    [0, 0],
    [ratio, 0],
    [ratio, 1],
    [0, 1],
  ];
  return corners.flatMap((corner, side) => {
    const next = corners[(side + 1) % 4]!;
    const turn = (quarters: number): Point => [Math.sin((quarters * Math.PI) / 2), -Math.cos((quarters * Math.PI) / 2)];
    const round = Array.from({ length: BY_CORNER }, (_, k): Ray => ({
      from: corner,
      along: turn(side - 1 + (k + 1) / (BY_CORNER + 1)),
    }));
    const straight = Array.from({ length: BY_SIDE }, (_, k): Ray => {
      const t = (k + 0.5) / BY_SIDE;
      return {
        from: [corner[0] + t * (next[0] - corner[0]), corner[1] + t * (next[1] - corner[1])],
        along: turn(side),
      };
    });
    return [...round, ...straight];
  });
}

/** Px of the picture that one of the flat surface's height takes along a ray, near where it starts. */
function pixelsPer(map: readonly number[], from: Point, along: Point): number {
  const step = 0.02;
  const a = applyToPoint(map, from);
  const b = applyToPoint(map, [from[0] + step * along[0], from[1] + step * along[1]]);
  return Math.max(1e-6, distance(a, b)) / step;
}

/** How far a ray goes in a dark frame, px; null where there is none or it does not end within `most`. */
function endOf(at: (distance: number) => readonly [number, number, number] | null, most: number): number | null {
  const start = [0, 1, 2].map((k) => at(FIRST + k));
  const seen = start.filter((v) => v !== null);
  if (seen.length < 3) return null;
  const p = median(seen.map((v) => v[0]));
  const q = median(seen.map((v) => v[1]));
  const level = (p + q) / 2;
  if (level > DARK || Math.max(p, q) > OWN_COLOUR * Math.min(p, q) + STEP_LIGHT) return null;
  for (let away = FIRST + 2; away < most; away += 0.5) {
    const light = at(away);
    if (!light) return null;
    const now = (light[0] + light[1]) / 2;
    if (Math.abs(now - level) > STEP_LIGHT && (now > STEP * level || now * STEP < level))
      return Math.max(FIRST, away - MIXED);
  }
  return null;
}

/** The mean of the nearest rays on both sides that are known. */
function likeNeighbours(told: readonly (number | null)[], at: number): number {
  const n = told.length;
  const look = (by: 1 | -1) => {
    for (let k = 1; k < n; k++) {
      const there = told[(at + by * k + n * k) % n];
      if (there !== null && there !== undefined) return there;
    }
    return 0;
  };
  return (look(1) + look(-1)) / 2;
}
