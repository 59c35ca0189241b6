import { compose, invert, scaling, translation, type Homography, type Point } from '../../base/geometry/homography.ts';
import { quantile } from '../../base/image/statistics.ts';
import type { KernelSet, PointSet, TexelPlane } from '../../base/kernels/index.ts';
import type { PictureLevel, PictureLevels } from './image-pyramid.ts';
import { BUCKET, strengthsAt, strongestSpread } from './choose-points.ts';

/** The region is cut into this many pieces along each axis of its bounding box; ring and inside each have their own. */
export const PIECES = 8;
/** Pieces of one of the two groups. */
export const GROUP = PIECES * PIECES;

/** The chosen points of one pyramid level of the reference frame, in that level's sample indices. */
export interface TemplateLevel extends PointSet {
  readonly level: number;
  /** The reference's texels, with the region as permission. */
  readonly plane: TexelPlane;
  /** Chosen points without those that only fill up. */
  readonly chosen: number;
  /** Where each piece's points begin, the ring's row by row, then the inside's; 2·PIECES² + 1 entries. */
  readonly pieceStarts: Int32Array;
  /** 1 for points that were chosen, 0 for those that fill up; `prior` is this, or less. */
  readonly chosenPrior: Float32Array;
  /** The slope that a quarter of the chosen points reach, signal a sample. */
  readonly steep: number;
  /** Level indices to coordinates of about −1…1 over the region, and back. */
  readonly toUnit: Homography;
  readonly fromUnit: Homography;
  /** Corners of the chosen points' bounding box, in level indices. */
  readonly box: readonly Point[];
}

export interface Template {
  readonly width: number;
  readonly height: number;
  readonly levels: readonly TemplateLevel[];
  /** True when there is an inside apart from the ring around it. */
  readonly hasInside: boolean;
}

export interface TemplateOptions {
  /** Points at the finest level, and at each coarser one. */
  finestBudget: number;
  coarseBudget: number;
  maxLevels: number;
}

export const DEFAULT_TEMPLATE_OPTIONS: TemplateOptions = { finestBudget: 30_000, coarseBudget: 10_000, maxLevels: 5 };

/** The options for so many points on the full picture; a third of them on each coarser level. */
export function optionsFor(points: number | undefined): TemplateOptions {
  return points === undefined
    ? DEFAULT_TEMPLATE_OPTIONS
    : { ...DEFAULT_TEMPLATE_OPTIONS, finestBudget: points, coarseBudget: Math.ceil(points / 3) };
}

/** Points that all levels of a template may take together, filled up. */
export function mostPoints({ finestBudget, coarseBudget, maxLevels }: TemplateOptions): number {
  return finestBudget + (maxLevels - 1) * coarseBudget + maxLevels * GROUP * 16;
}
/** The coarsest level still shows the region's shorter side with this many samples. */
const COARSEST_SIDE = 20;

/** Why a region can't be followed. */
export type TemplateFault = { fault: 'empty' | 'too-small' } | { fault: 'blank'; edges: number };

/** A region that is narrower or lower, px, says too little of its motion. */
const SMALLEST_SIDE = 12;
/** A region must show edges in so many of its pieces. */
export const EDGES_NEEDED = 3;
/** Slope, signal a sample, that ordinary noise does not reach; and how many points of a piece must have it. */
const EDGE_SLOPE = 0.01;
const EDGE_POINTS = 3;

/** Maps continuous pixels of the full picture to sample indices of a level. */
export function toLevel(level: number): Homography {
  const s = 1 / 2 ** level;
  return [s, 0, -0.5 * s, 0, s, -0.5 * s, 0, 0, 1];
}

/** A map between full pictures as a map between the sample indices of two pictures' level. */
export function homographyAtLevel(h: Homography, level: number): Homography {
  return compose(toLevel(level), h, invert(toLevel(level))!);
}

export function homographyFromLevel(h: Homography, level: number): Homography {
  return compose(invert(toLevel(level))!, h, toLevel(level));
}

/**
 * Chooses what to look at: on each level the strongest gradients inside the mask (1 a pixel of the region), spread over
 * squares so that no part of the region is left out. Mask pixels of 2 are inside the screen, whose picture may change
 * or be a reflection; those of 1 are the ring around it, or all of a region without an inside.
 */
export function buildTemplate(
  reference: PictureLevels,
  mask: Uint8Array,
  options: TemplateOptions = DEFAULT_TEMPLATE_OPTIONS,
): Template | TemplateFault {
  const extent = maskExtent(mask, reference.width);
  if (!extent) return { fault: 'empty' };
  const shorter = Math.min(extent.right - extent.left, extent.bottom - extent.top) + 1;
  if (shorter < SMALLEST_SIDE || extent.count < 100) return { fault: 'too-small' };
  const wanted = 1 + Math.floor(Math.log2(shorter / COARSEST_SIDE));
  const count = Math.min(options.maxLevels, Math.max(1, wanted), reference.levels.length);
  reference.permit(mask.map((v) => (v === 0 ? 0 : 1)));
  const corners: Point[] = [
    [extent.left, extent.top],
    [extent.right, extent.bottom],
  ];
  const levels = reference.levels.slice(0, count).map((level, index) => {
    reference.need(
      index,
      corners.map(([x, y]): Point => [x / 2 ** index, y / 2 ** index]),
      4,
    );
    return chooseLevel(
      reference.set,
      level,
      index,
      mask,
      reference.width,
      extent,
      index === 0 ? options.finestBudget : options.coarseBudget,
    );
  });
  const usable = levels.filter((l) => l.chosen >= 40);
  if (usable.length === 0) return { fault: 'too-small' };
  const edges = Math.max(...usable.map(piecesWithEdges));
  return edges < EDGES_NEEDED
    ? { fault: 'blank', edges }
    : {
        width: reference.width,
        height: reference.height,
        levels: usable,
        hasInside: mask.includes(2) && mask.includes(1),
      };
}

/** How many pieces of a level have an edge or a mark in them. */
function piecesWithEdges({ pieceStarts, xs, ys, chosenPrior, plane: { texels, width } }: TemplateLevel): number {
  let pieces = 0;
  for (let piece = 0; piece + 1 < pieceStarts.length; piece++) {
    let steep = 0;
    for (let i = pieceStarts[piece]!; i < pieceStarts[piece + 1]!; i++) {
      const at = (ys[i]! * width + xs[i]!) * 4;
      if (chosenPrior[i] === 1 && Math.hypot(texels[at + 1]!, texels[at + 2]!) > EDGE_SLOPE) steep++;
    }
    if (steep >= EDGE_POINTS) pieces++;
  }
  return pieces;
}

interface Extent {
  left: number;
  top: number;
  right: number;
  bottom: number;
  count: number;
}

function maskExtent(mask: Uint8Array, width: number): Extent | null {
  let left = Infinity;
  let top = Infinity;
  let right = -1;
  let bottom = -1;
  let count = 0;
  for (let i = 0; i < mask.length; i++) {
    if (mask[i] === 0) continue;
    const x = i % width;
    const y = (i / width) | 0;
    if (x < left) left = x;
    if (x > right) right = x;
    if (y < top) top = y;
    bottom = y;
    count++;
  }
  return count === 0 ? null : { left, top, right, bottom, count };
}

function chooseLevel(
  set: KernelSet,
  plane: PictureLevel,
  level: number,
  mask: Uint8Array,
  maskWidth: number,
  extent: Extent,
  budget: number,
): TemplateLevel {
  const { width, height, texels } = plane;
  const first = Math.max(1, extent.top >> level);
  const last = Math.min(height - 2, (extent.bottom >> level) + 1);
  const from = Math.max(1, extent.left >> level);
  const to = Math.min(width - 2, (extent.right >> level) + 1);
  // Plain loops over typed arrays: this is most of what a person waits for before a run begins.
  const most = Math.max(0, last - first + 1) * Math.max(0, to - from + 1);
  const places = new Int32Array(most);
  const strengths = new Float32Array(most);
  let found = 0;
  for (let j = first; j <= last; j++) {
    for (let i = from; i <= to; i++) {
      const at = (j * width + i) * 4;
      if (texels[at + 3] !== 1) continue;
      places[found] = j * width + i;
      strengths[found++] = Math.sqrt(texels[at + 1]! ** 2 + texels[at + 2]! ** 2);
    }
  }
  const candidates = places.subarray(0, found);
  const strength = strengths.subarray(0, found);
  const chosen =
    candidates.length <= budget
      ? candidates
      : strongestSpread(candidates, strength, width, Math.max(4, BUCKET >> level), budget);
  const box = boundingBox(chosen, width);
  const cx = (box.left + box.right) / 2;
  const cy = (box.top + box.bottom) / 2;
  const s = Math.max(1, box.right - box.left, box.bottom - box.top) / 2;
  const toUnit = compose(scaling(1 / s), translation(-cx, -cy));
  const inside = (at: number) => mask[(Math.floor(at / width) << level) * maskWidth + ((at % width) << level)] === 2;
  const points = inPieces(set, chosen, inside, width, box);
  return {
    level,
    plane,
    chosen: chosen.length,
    ...points,
    steep: Math.max(1e-4, quantile(strengthsAt(texels, chosen), 0.75)),
    toUnit,
    fromUnit: invert(toUnit)!,
    box: [
      [box.left, box.top],
      [box.right, box.top],
      [box.right, box.bottom],
      [box.left, box.bottom],
    ],
  };
}

/** Orders points piece by piece; each piece is filled up to a multiple of four with points that have no say. */
function inPieces(set: KernelSet, chosen: Int32Array, inside: (at: number) => boolean, width: number, box: Box) {
  const piece = (v: number, from: number, to: number) =>
    Math.min(PIECES - 1, Math.floor(((v - from) / Math.max(1, to - from)) * PIECES));
  const lists: number[][] = Array.from({ length: 2 * GROUP }, () => []);
  for (const at of chosen) {
    const square = piece(Math.floor(at / width), box.top, box.bottom) * PIECES + piece(at % width, box.left, box.right);
    lists[(inside(at) ? GROUP : 0) + square]!.push(at);
  }
  const pieceStarts = set.ints(2 * GROUP + 1);
  lists.forEach((list, i) => (pieceStarts[i + 1] = pieceStarts[i]! + Math.ceil(list.length / 4) * 4));
  const count = pieceStarts[2 * GROUP]!;
  const xs = set.floats(count);
  const ys = set.floats(count);
  const prior = set.floats(count);
  lists.forEach((list, i) => {
    for (let k = pieceStarts[i]!; k < pieceStarts[i + 1]!; k++) {
      const at = list[Math.min(list.length - 1, k - pieceStarts[i]!)]!;
      xs[k] = at % width;
      ys[k] = Math.floor(at / width);
      prior[k] = k - pieceStarts[i]! < list.length ? 1 : 0;
    }
  });
  return { count, xs, ys, prior, chosenPrior: prior.slice(), pieceStarts };
}

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

function boundingBox(chosen: Int32Array, width: number): Box {
  let left = Infinity;
  let top = Infinity;
  let right = -Infinity;
  let bottom = -Infinity;
  for (const at of chosen) {
    const x = at % width;
    const y = Math.floor(at / width);
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  }
  return { left, top, right, bottom };
}
