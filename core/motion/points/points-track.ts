import { clamp } from '../../base/geometry/clamp.ts';
import { pointFromFile, type PixelCentre } from '../../base/geometry/pixel-centre.ts';
import { confidenceOf } from '../follow/confidence.ts';
import { estimateHomography, homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { Homography, Point } from '../../base/geometry/homography.ts';
import { CORNER_NAMES, type Quad } from '../../base/geometry/quad.ts';
import type { CornerPoint } from '../../base/schemas/types.ts';
import { STOPS_UNDER, usualBoxes, type PointFit, type PointSettings, type PointsFrame } from './point-plan.ts';

/** Points as a file or a document states them, with all that is usual filled in; those switched off are left out. */
export function pointsFrom(
  points: readonly CornerPoint[],
  plateWidth: number,
  centre: PixelCentre = 'half',
): PointSettings[] {
  const usual = usualBoxes(plateWidth);
  const ours = (p: readonly [number, number]) => pointFromFile([p[0], p[1]], centre);
  return points
    .filter((p) => !p.off)
    .map((p) => ({
      name: p.name,
      at: ours(p.at),
      pattern: p.pattern ?? usual.pattern,
      search: p.search ?? larger(usual.search, p.pattern),
      match: p.match ?? 'reference',
      shape: p.shape ?? 'plane',
      light: p.light,
      ...(p.keys ? { keys: p.keys.map((k) => ({ frame: k.frame, at: ours(k.at), pattern: k.pattern })) } : {}),
    }));
}

/** A search box for a pattern that is larger than usual: in the usual proportion. */
function larger(usual: readonly [number, number], pattern: readonly [number, number] | undefined): [number, number] {
  return [
    Math.max(usual[0], Math.round(2.2 * (pattern?.[0] ?? 0))),
    Math.max(usual[1], Math.round(2.2 * (pattern?.[1] ?? 0))),
  ];
}

/** Which of the points are the four corners, in the content's order; null where not all are there. */
export function cornersAmong(points: readonly { readonly name: string }[]): [number, number, number, number] | null {
  const found = CORNER_NAMES.map((name) => points.findIndex((p) => p.name === name));
  return found.every((i) => i >= 0) ? (found as [number, number, number, number]) : null;
}

/** What a frame's points say of the plane's motion. */
export interface PointsMotion {
  readonly frame: number;
  readonly homography: Homography | null;
  /** The four corners' own bounds, px; null where corners are not points. */
  readonly bounds: readonly number[] | null;
  readonly confidence: number;
  /** What is left between points and motion where there are more than four, px. */
  readonly error: number;
  readonly lost?: string;
  readonly note?: string;
}

/** The plane's map from the reference by the points of a frame: exact through the four corners where they are points, else by all that are there, at least four. */
export function motionOfPoints(
  points: readonly PointSettings[],
  { frame, points: fits, why }: PointsFrame,
): PointsMotion {
  const corners = cornersAmong(points);
  const there = fits.flatMap((fit, i) => (fit ? [{ fit, at: points[i]!.at }] : []));
  const missing = why.filter((w): w is string => w !== null);
  const notes = there.flatMap(({ fit }) => (fit.note ? [fit.note] : []));
  const lost = (reason: string): PointsMotion => ({
    frame,
    homography: null,
    bounds: null,
    confidence: 0,
    error: 0,
    lost: reason,
  });
  if (corners) {
    const quad = corners.map((i) => fits[i]);
    if (!quad.every((f): f is PointFit => f !== null && f !== undefined))
      return lost(missing[0] ?? 'a corner is not known');
    const homography = homographyBetweenQuads(
      corners.map((i) => points[i]!.at),
      quad.map((f) => f.at),
    );
    const bounds = quad.map((f) => f.bound);
    return homography
      ? {
          frame,
          homography,
          bounds,
          confidence: confidenceOfPoints(quad, bounds),
          error: 0,
          ...(notes.length > 0 ? { note: notes.join('; ') } : {}),
        }
      : lost('three corners lie on a line');
  }
  if (there.length < 4) return lost(missing[0] ?? `${there.length} points are known; a plane takes four`);
  const estimate = estimateHomography(
    there.map((t) => t.at),
    there.map((t) => t.fit.at),
  );
  if (!estimate.ok) return lost('the points lie on a line');
  return {
    frame,
    homography: estimate.homography,
    bounds: null,
    confidence: confidenceOfPoints(
      there.map((t) => t.fit),
      there.map((t) => t.fit.bound),
    ),
    error: estimate.rms,
    ...(notes.length > 0 ? { note: notes.join('; ') } : {}),
  };
}

/** As elsewhere: trust by likeness, less where the bound is wide. What is put by hand or reckoned is as sure as its bound. */
function confidenceOfPoints(fits: readonly PointFit[], bounds: readonly number[]): number {
  const trust = Math.min(
    ...fits.map((f) =>
      f.how === 'matched'
        ? clamp((f.score - STOPS_UNDER / 2) / (0.85 - STOPS_UNDER / 2), 0, 1)
        : f.how === 'reckoned'
          ? 0.7
          : 1,
    ),
  );
  return confidenceOf(trust, Math.max(...bounds));
}

/** The quad of a frame's corners; null where they are not all known. */
export function quadOfPoints(points: readonly PointSettings[], frame: PointsFrame): Quad | null {
  const corners = cornersAmong(points);
  const at = corners?.map((i): Point | null => frame.points[i]?.at ?? null);
  return at?.every((p): p is Point => p !== null) ? (at as unknown as Quad) : null;
}
