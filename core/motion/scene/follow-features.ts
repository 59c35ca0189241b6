import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { inUse, outlineAt, polygonOf, type KeyedOutline } from '../../base/geometry/outline.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { contains } from '../../base/geometry/polygon.ts';
import { distance } from '../../base/geometry/quad.ts';
import { FeatureFollower } from './feature-follower.ts';
import { placeAt, type FeatureTrack } from './feature-tracks.ts';

/** A place on a frame, continuous px. */
export interface FramedPlace {
  readonly frame: number;
  readonly at: Point;
}

export interface FeaturePlan {
  readonly width: number;
  readonly height: number;
  /** First frame, and the last where it is known: else until there are no more. */
  readonly frames: readonly [number, number | null];
  readonly allowed?: ((frame: number, x: number, y: number) => boolean) | undefined;
  /** Points put by hand, to be followed both ways; and places at which what is followed is not to count. */
  readonly drawn?: readonly FramedPlace[] | undefined;
  readonly removed?: readonly FramedPlace[] | undefined;
}

/** Features followed at once. */
export const FEATURES = 600;
/** What is followed within so many px of a place that is removed does not count. */
const REMOVES = 4;

/** Follows features through all frames; `read` gives null beyond the last. Returns their tracks and the last frame. */
export async function followFeatures(
  { width, height, frames: [first, end], allowed, drawn = [], removed = [] }: FeaturePlan,
  read: (frame: number) => Promise<LumaFrame | null>,
  progress: (done: number) => Promise<void> | void = () => {},
): Promise<{ tracks: FeatureTrack[]; last: number }> {
  const byFrame = groupedByFrame(drawn);
  const follower = new FeatureFollower(width, height, { most: FEATURES, allowed, drawn: byFrame });
  let last = first - 1;
  for (let frame = first; end === null || frame <= end; frame++) {
    const luma = await read(frame);
    if (!luma) break;
    follower.step(frame, luma);
    last = frame;
    await progress(frame - first + 1);
  }
  const tracks =
    drawn.length === 0
      ? follower.tracks
      : await ledBack(follower.tracks, byFrame, { width, height, first, allowed }, read);
  return {
    tracks:
      removed.length === 0
        ? tracks
        : tracks.filter(
            (track) =>
              !removed.some(({ frame, at }) => {
                const there = placeAt(track, frame);
                return there !== null && distance(there, at) < REMOVES;
              }),
          ),
    last,
  };
}

function groupedByFrame(places: readonly FramedPlace[]): Map<number, Point[]> {
  const out = new Map<number, Point[]>();
  for (const { frame, at } of places) out.set(frame, [...(out.get(frame) ?? []), at]);
  return out;
}

/** Points put by hand are followed back from where they were put, too. */
async function ledBack(
  tracks: readonly FeatureTrack[],
  drawn: ReadonlyMap<number, readonly Point[]>,
  { width, height, first, allowed }: { width: number; height: number; first: number; allowed: FeaturePlan['allowed'] },
  read: (frame: number) => Promise<LumaFrame | null>,
): Promise<FeatureTrack[]> {
  const back = new FeatureFollower(width, height, { most: 0, allowed, drawn, backward: true });
  for (let frame = Math.max(...drawn.keys()); frame >= first; frame--) {
    const luma = await read(frame);
    if (luma) back.step(frame, luma);
  }
  const byStart = new Map(
    back.tracks.map((track) => [`${track.first} ${track.xs[0]!.toFixed(3)} ${track.ys[0]!.toFixed(3)}`, track]),
  );
  return tracks.map((track) => {
    const other = byStart.get(`${track.first} ${track.xs[0]!.toFixed(3)} ${track.ys[0]!.toFixed(3)}`);
    if (!other || other.xs.length < 2) return track;
    return {
      first: track.first - other.xs.length + 1,
      xs: [...other.xs.slice(1).reverse(), ...track.xs],
      ys: [...other.ys.slice(1).reverse(), ...track.ys],
    };
  });
}

/** Whether a place is outside all keep-outs (drawn on `referenceFrame`, or keyed), which are looked at as they are on each frame; undefined where there are none. */
export function outsideKeepOuts(keepOut: readonly KeyedOutline[], referenceFrame: number): FeaturePlan['allowed'] {
  const outlines = inUse(keepOut);
  const polygons = new Map<number, Point[][]>();
  if (outlines.length === 0) return undefined;
  return (frame, x, y) => {
    let on = polygons.get(frame);
    if (!on) {
      on = outlines.map((o) => polygonOf(outlineAt(o, referenceFrame, frame)));
      polygons.set(frame, on);
    }
    return !on.some((polygon) => contains(polygon, x, y));
  };
}
