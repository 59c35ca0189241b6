import { clamp } from '../../../../../core/base/geometry/clamp.ts';
import type { Point } from '../../../../../core/base/geometry/homography.ts';
import { CORNER_NAMES, type Quad } from '../../../../../core/base/geometry/quad.ts';
import { usualBoxes } from '../../../../../core/motion/points/point-plan.ts';
import type { CornerPoint, ShotDocument } from '../../../../../core/base/schemas/types.ts';
import { withoutSpan, withSpan, type Span } from '../spans.ts';

const place = ([x, y]: Point): [number, number] => [x, y];
const pointOf = (draft: ShotDocument, name: string): CornerPoint | undefined =>
  draft.cornerPoints?.find((p) => p.name === name);

/** The four corners as points, where they are on the reference frame; those that are there already stay. */
export function addCorners(draft: ShotDocument, corners: Quad, plateWidth: number): void {
  const { pattern, search } = usualBoxes(plateWidth);
  const points = (draft.cornerPoints ??= []);
  CORNER_NAMES.forEach((name, i) => {
    if (!points.some((p) => p.name === name))
      points.push({ name, at: place(corners[i]!), pattern: [...pattern], search: [...search] });
  });
}

/** One more point, under a name that is free; the name. */
export function addPoint(draft: ShotDocument, at: Point, plateWidth: number): string {
  const { pattern, search } = usualBoxes(plateWidth);
  const points = (draft.cornerPoints ??= []);
  let number = 1;
  while (points.some((p) => p.name === `mark ${number}`)) number++;
  points.push({ name: `mark ${number}`, at: place(at), pattern: [...pattern], search: [...search] });
  return `mark ${number}`;
}

export function removePoint(draft: ShotDocument, name: string): void {
  draft.cornerPoints = draft.cornerPoints?.filter((p) => p.name !== name) ?? [];
  if (draft.cornerPoints.length === 0) delete draft.cornerPoints;
}

/** Puts a point somewhere on a frame by hand: on the reference where it begins, elsewhere a key. `pattern` says whether what is seen there is its pattern from then on. */
export function putPoint(draft: ShotDocument, name: string, frame: number, at: Point, pattern?: boolean): void {
  const point = pointOf(draft, name);
  if (!point) return;
  if (frame === draft.referenceFrame) {
    point.at = place(at);
    return;
  }
  const keys = (point.keys ??= []);
  const key = keys.find((k) => k.frame === frame);
  const takes = pattern ?? key?.pattern;
  const next = { frame, at: place(at), ...(takes ? { pattern: true } : {}) };
  if (key) keys[keys.indexOf(key)] = next;
  else keys.push(next);
  keys.sort((a, b) => a.frame - b.frame);
}

/** Gives a key's surroundings to the point as its pattern, or takes the pattern back. */
export function usePattern(draft: ShotDocument, name: string, frame: number, on: boolean): void {
  const key = pointOf(draft, name)?.keys?.find((k) => k.frame === frame);
  if (!key) return;
  if (on) key.pattern = true;
  else delete key.pattern;
}

export function removePointKey(draft: ShotDocument, name: string, frame: number): void {
  const point = pointOf(draft, name);
  if (!point?.keys) return;
  point.keys = point.keys.filter((k) => k.frame !== frame);
  if (point.keys.length === 0) delete point.keys;
}

/** Leaves out what is known of points in a span, by hand or followed, but for what is kept; undone like any edit. */
export function clearPoints(draft: ShotDocument, names: readonly string[], span: Span): void {
  for (const name of names) {
    const point = pointOf(draft, name);
    if (!point) continue;
    const keep = point.keep ?? [];
    const left = keep.reduce((spans, kept) => withoutSpan(spans, kept), [span] as Span[]);
    for (const part of left) point.holes = withSpan(point.holes ?? [], part);
    if (point.keys) point.keys = point.keys.filter((k) => !left.some(([a, b]) => k.frame >= a && k.frame <= b));
    if (point.keys?.length === 0) delete point.keys;
  }
}

/** What is about to be followed anew counts again. */
export function fillHoles(draft: ShotDocument, names: readonly string[], span: Span): void {
  for (const name of names) {
    const point = pointOf(draft, name);
    if (!point?.holes) continue;
    point.holes = withoutSpan(point.holes, span);
    if (point.holes.length === 0) delete point.holes;
  }
}

/** Keeps a span of a point as it is, or lets it go. */
export function keepPoint(draft: ShotDocument, name: string, span: Span, on: boolean): void {
  const point = pointOf(draft, name);
  if (!point) return;
  point.keep = on ? withSpan(point.keep ?? [], span) : withoutSpan(point.keep ?? [], span);
  if (point.keep.length === 0) delete point.keep;
}

/** Sizes a point's pattern or search box, px; the search box is never smaller than the pattern. */
export function sizeBox(
  draft: ShotDocument,
  name: string,
  box: 'pattern' | 'search',
  size: readonly [number, number],
): void {
  const point = pointOf(draft, name);
  if (!point) return;
  const kept: [number, number] = [clamp(Math.round(size[0]), 7, 2000), clamp(Math.round(size[1]), 7, 2000)];
  const grown = (a: readonly [number, number], b: readonly [number, number]): [number, number] => [
    Math.max(a[0], b[0]),
    Math.max(a[1], b[1]),
  ];
  if (box === 'pattern') {
    point.pattern = kept;
    if (point.search) point.search = grown(point.search, kept);
  } else point.search = grown(kept, point.pattern ?? [7, 7]);
}
