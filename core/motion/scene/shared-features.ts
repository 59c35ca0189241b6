import { lastFrame, medianMotion, sharedBy, type FeatureTrack } from './feature-tracks.ts';

export function range([a, b]: readonly [number, number]): number[] {
  return Array.from({ length: b - a + 1 }, (_, i) => a + i);
}

export const countAt = (tracks: readonly FeatureTrack[], frame: number) =>
  tracks.reduce((n, t) => n + (t.first <= frame && lastFrame(t) >= frame ? 1 : 0), 0);

/** Most features that any two frames next to each other share. */
export function sharedSomewhere(tracks: readonly FeatureTrack[], [a, b]: readonly [number, number]): number {
  let most = 0;
  for (let f = a; f < b; f++) most = Math.max(most, sharedBy(tracks, f, f + 1).length);
  return most;
}

/** The farthest that what is seen gets from where it was, px. */
export function motionOverall(tracks: readonly FeatureTrack[], [a, b]: readonly [number, number]): number {
  let most = 0;
  for (let f = a; f <= b; f += Math.max(1, Math.floor((b - a) / 40))) {
    const near = medianMotion(tracks, a, f);
    if (near === null) return Infinity;
    most = Math.max(most, near);
  }
  return most;
}
