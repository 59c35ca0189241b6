import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { applyToPoints, invert, type Homography, type Point } from '../../base/geometry/homography.ts';
import { quadFault, type Quad } from '../../base/geometry/quad.ts';
import { MAD_TO_DEVIATION, median } from '../../base/image/statistics.ts';
import { fitBorder, FitterCache, type BorderLine } from './border-line.ts';
import type { LightPicture } from '../../base/image/light-sampler.ts';
import { carriedCorners } from './seated-corners.ts';
import { meetingPoint, sideOf } from './sides.ts';

/** The reference's corners as one frame shows them; null for a corner that it does not. */
export type SeenCorners = readonly (Point | null)[];

/** Borders that are less well seen on a frame say nothing of the reference. */
const SUPPORT = 0.5;
const BOUND = 0.2;
/** Frames on which the picture is drawn this much smaller or larger say less. */
const SMALLEST = 0.6;
const LARGEST = 1.7;
/** From so many frames on their middle is taken. */
const ENOUGH = 4;

/** Frames spread over a track that are worth asking, the reference among them. */
export function framesToAsk(frames: readonly number[], most = 16): number[] {
  const every = Math.max(1, frames.length / most);
  return [
    ...new Set(
      Array.from(
        { length: Math.min(most, frames.length) },
        (_, i) => frames[Math.min(frames.length - 1, Math.floor((i + 0.5) * every))]!,
      ),
    ),
  ];
}

/** Looks at the borders of a snapped quad on another frame and leads the corners back. `map` takes the reference to that frame. */
export function cornersSeenOn(
  picture: LightPicture,
  map: Homography,
  quad: Quad,
  fitters = new FitterCache(),
): SeenCorners {
  const there = carriedCorners(map, quad);
  const back = invert(map);
  if (!there || quadFault(there) || !back) return [null, null, null, null];
  const scale = sideOf(there, 0).length / sideOf(quad, 0).length;
  if (scale < SMALLEST || scale > LARGEST) return [null, null, null, null];
  const borders = [0, 1, 2, 3].map((k) => {
    const line = sideOf(there, k);
    const border = fitBorder(picture, line, Math.min(0.2, 0.04 + 4 / line.length), fitters);
    return border && border.support > SUPPORT && border.bounds[1] < BOUND && near(border, there, k) ? border : null;
  });
  return borders.map((after, k) => {
    const before = borders[(k + 3) % 4];
    const meeting = before && after && meetingPoint(before.line, after.line);
    return meeting ? applyToPoints(back, [meeting])[0] : null;
  });
}

/** A border that has wandered off is another one. */
function near({ line }: BorderLine, quad: Quad, k: number): boolean {
  const { from, to, normal } = sideOf(quad, k);
  return [line.from, line.to].every(
    (p, i) => Math.abs((p[0] - (i ? to : from)[0]) * normal[0] + (p[1] - (i ? to : from)[1]) * normal[1]) < 1.5,
  );
}

/**
 * The reference's corners by all frames asked: what is wrong with one frame's noise the others do not share. A corner that few frames show stays.
 * The quad stays where the corners would no longer make one.
 */
export function cornersByFrames(quad: Quad, seen: readonly SeenCorners[]): { quad: Quad; frames: readonly number[] } {
  const counts = [0, 0, 0, 0];
  const moved = mapTuple(quad, (corner, c) => {
    const found = seen.flatMap((s) => (s[c] && Math.hypot(s[c][0] - corner[0], s[c][1] - corner[1]) < 2 ? [s[c]] : []));
    counts[c] = found.length;
    if (found.length < ENOUGH) return corner;
    return [middle(found.map((p) => p[0])), middle(found.map((p) => p[1]))] as const;
  });
  return { quad: quadFault(moved) ? quad : moved, frames: counts };
}

/** Mean of what lies within three usual deviations of the median. */
function middle(values: readonly number[]): number {
  const m = median(values);
  const usual = MAD_TO_DEVIATION * median(values.map((v) => Math.abs(v - m))) || 1;
  const near3 = values.filter((v) => Math.abs(v - m) <= 3 * usual);
  return near3.reduce((a, b) => a + b, 0) / near3.length;
}
