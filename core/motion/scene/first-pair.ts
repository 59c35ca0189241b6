import { orderStatistic, upperMedian } from '../../base/image/statistics.ts';
import { estimateHomography } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, type Point } from '../../base/geometry/homography.ts';
import { placeAt, sharedBy, type FeatureTrack } from './feature-tracks.ts';

/** Key frames that are looked at together are at most so many key frames apart, and share so many features. */
const FARTHEST = 8;
const LEAST = 40;
const LOOKED_AT = 80;

export interface FirstPair {
  readonly a: number;
  readonly b: number;
  /** How far, px, features are off the one plane that they fit best: what depth does. */
  readonly parallax: number;
}

/** Pairs of key frames, those first between which depth shows most (and enough is seen on both). */
export function firstPairs(tracks: readonly FeatureTrack[], frames: readonly number[]): FirstPair[] {
  const out: (FirstPair & { worth: number })[] = [];
  for (let i = 0; i < frames.length; i++)
    for (let k = i + 1; k < Math.min(frames.length, i + 1 + FARTHEST); k++) {
      const a = frames[i]!;
      const b = frames[k]!;
      const shared = sharedBy(tracks, a, b);
      if (shared.length < LEAST) break;
      const parallax = offOnePlane(tracks, shared, a, b);
      out.push({ a, b, parallax, worth: parallax * Math.min(1, shared.length / 150) });
    }
  return out.sort((p, q) => q.worth - p.worth);
}

/** Middle distance of features from where one plane's map takes them, px; the map is fitted again to the nearer half. */
function offOnePlane(tracks: readonly FeatureTrack[], shared: readonly number[], a: number, b: number): number {
  const step = Math.max(1, Math.floor(shared.length / LOOKED_AT));
  const some = shared.filter((_, i) => i % step === 0);
  const from = some.map((i) => placeAt(tracks[i]!, a)!);
  const to = some.map((i) => placeAt(tracks[i]!, b)!);
  let kept = some.map((_, i) => i);
  let off: number[] = [];
  for (let round = 0; round < 3; round++) {
    const map = estimateHomography(
      kept.map((i): Point => from[i]!),
      kept.map((i): Point => to[i]!),
    );
    if (!map.ok) return 0;
    off = from.map((p, i) => {
      const [x, y] = applyToPoint(map.homography, p);
      return Math.hypot(x - to[i]![0], y - to[i]![1]);
    });
    const limit = Math.max(0.3, 2.5 * upperMedian(off));
    kept = off.flatMap((d, i) => (d < limit ? [i] : []));
    if (kept.length < 8) return 0;
  }
  // Seven tenths up: a wall that fills most of the picture is a plane, and yet there may be depth beside it.
  return orderStatistic(off, 0.7);
}
