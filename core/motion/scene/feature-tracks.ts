import { upperMedian } from '../../base/image/statistics.ts';
import type { Point } from '../../base/geometry/homography.ts';

/** A point of the picture followed from frame to frame without a gap, continuous pixels. */
export interface FeatureTrack {
  readonly first: number;
  readonly xs: number[];
  readonly ys: number[];
}

export function lastFrame(track: FeatureTrack): number {
  return track.first + track.xs.length - 1;
}

/** Where a track is on a frame; null where it is not seen. */
export function placeAt(track: FeatureTrack, frame: number): Point | null {
  const i = frame - track.first;
  return i >= 0 && i < track.xs.length ? [track.xs[i]!, track.ys[i]!] : null;
}

/** Tracks that are seen on both frames, by index. */
export function sharedBy(tracks: readonly FeatureTrack[], a: number, b: number): number[] {
  const from = Math.min(a, b);
  const to = Math.max(a, b);
  const out: number[] = [];
  tracks.forEach((track, i) => {
    if (track.first <= from && lastFrame(track) >= to) out.push(i);
  });
  return out;
}

/** The middle length of the ways that what both frames show has gone, px; null where they share fewer than eight. */
export function medianMotion(tracks: readonly FeatureTrack[], a: number, b: number): number | null {
  const ways = sharedBy(tracks, a, b).map((i) =>
    Math.hypot(
      tracks[i]!.xs[a - tracks[i]!.first]! - tracks[i]!.xs[b - tracks[i]!.first]!,
      tracks[i]!.ys[a - tracks[i]!.first]! - tracks[i]!.ys[b - tracks[i]!.first]!,
    ),
  );
  return ways.length < 8 ? null : upperMedian(ways);
}
