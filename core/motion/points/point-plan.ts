import type { Homography, Point } from '../../base/geometry/homography.ts';

/** What a point is matched to: the frame before, the reference frame, or the last key (a place put by hand, or the reference). */
export type MatchTo = 'previous' | 'reference' | 'key';
/** What the pattern may do: move; turn and grow, too; or be carried by the plane, warped as the other points or a track move it. */
export type PatternShape = 'translation' | 'similarity' | 'plane';

export interface PointKey {
  readonly frame: number;
  readonly at: Point;
  /** Whether what is seen there is the pattern from then on. */
  readonly pattern?: boolean | undefined;
}

export interface PointSettings {
  readonly name: string;
  /** On the reference frame, continuous pixels. */
  readonly at: Point;
  /** Width and height of the pattern and of the search box, px. */
  readonly pattern: readonly [number, number];
  readonly search: readonly [number, number];
  readonly match: MatchTo;
  readonly shape: PatternShape;
  /** Whether changing light is compensated; decided frame by frame unless given. */
  readonly light?: boolean | undefined;
  readonly keys?: readonly PointKey[] | undefined;
}

/** How a point's place on a frame came to be: it was matched, put by hand, reckoned from the other points through the plane, or is the reference's own. */
export type PointSource = 'reference' | 'matched' | 'hand' | 'reckoned';

export interface PointFit {
  readonly at: Point;
  readonly how: PointSource;
  /** 0…1. */
  readonly score: number;
  /** 95 %, px. */
  readonly bound: number;
  /** Whether light was compensated for. */
  readonly light: boolean;
  /** What a person should know of it. */
  readonly note?: string | undefined;
}

/** All points on a frame, in the plan's order; null where one was not found, with the reason in `why`. */
export interface PointsFrame {
  readonly frame: number;
  readonly points: readonly (PointFit | null)[];
  readonly why: readonly (string | null)[];
  /** Where light was seen to change so much that compensating for it, which is switched off, would have helped. */
  readonly lightWanted?: readonly boolean[];
}

export interface PointPlan {
  readonly points: readonly PointSettings[];
  readonly referenceFrame: number;
  /** First and last frame, inclusive. */
  readonly frames: readonly [number, number];
  /** The frame to go on from; the reference unless given. */
  readonly from?: number | undefined;
  readonly direction: 'forward' | 'backward' | 'both';
  /** Which points are followed; all unless given. The others carry where they are known. */
  readonly active?: readonly number[] | undefined;
  /** What is known already, by frame; frames on which a point is known are not done again for it. */
  readonly known?: ReadonlyMap<number, readonly (PointFit | null)[]> | undefined;
  /** Whether points that were lost are looked for on later frames; they stay lost unless given. */
  readonly retries?: boolean | undefined;
  /** A track that carries patterns of shape `plane`, reference pixels to a frame's; the points carry one another unless given. */
  readonly carriedBy?: ((frame: number) => Homography | null) | undefined;
}

/** The least bound that a point states, px. */
export const POINT_FLOOR = 0.15;
/** A reckoned place is looked for about itself, px. */
export const RECKONED_REACH = 8;
/** Under this score a point is not believed. */
export const STOPS_UNDER = 0.6;

/** Boxes on a plate 4096 wide: common practice, no source. */
const PATTERN_AT_4096 = 40;
const SEARCH_AT_4096 = 130;
/** Below these, px, what is in the boxes is seldom enough: measured on generated plates 960 wide, docs/accuracy.md. */
const LEAST_PATTERN = 31;
const LEAST_SEARCH = 91;

/** Pattern and search boxes as they are usually, for a plate of this width: never so small that nothing is in them. */
export function usualBoxes(width: number): { pattern: [number, number]; search: [number, number] } {
  const pattern = Math.max(LEAST_PATTERN, Math.round((PATTERN_AT_4096 * width) / 4096));
  const search = Math.max(LEAST_SEARCH, Math.round((SEARCH_AT_4096 * width) / 4096));
  return { pattern: [pattern, pattern], search: [search, search] };
}
