import { NO_TURN } from '../pose/rotation.ts';
import type { FirstPair } from './first-pair.ts';
import { sharedBy, type FeatureTrack } from './feature-tracks.ts';
import { Structure, type StructureSettings } from './structure.ts';
import { relativePose } from './two-view.ts';

/** So many key frames are solved about the first pair before it is determined whether it was a good beginning; all are adjusted again after so many more. */
const BEGINS_WITH = 8;
const ADJUSTED_EVERY = 5;
const OFF_PX = 0.8;
const LEAST_HOLDS = 12;

/** Begins a scene from two key frames: their relative place, the features' places, and the key frames around. Null where they do not tell. */
export function beginWalk(
  tracks: readonly FeatureTrack[],
  keys: readonly number[],
  pair: FirstPair,
  focal: number,
  settings: StructureSettings,
  random: () => number,
): Structure | null {
  const structure = new Structure(tracks, settings);
  const shared = sharedBy(tracks, pair.a, pair.b);
  const first = { rotation: NO_TURN, position: [0, 0, 0] as const, focal };
  const from = shared.map((i) => structure.ray(i, pair.a, first)!);
  const to = shared.map((i) => structure.ray(i, pair.b, first)!);
  const found = relativePose(from, to, OFF_PX / focal, random);
  if (!found) return null;
  structure.cameras.set(pair.a, first);
  structure.cameras.set(pair.b, { rotation: found.rotation, position: found.position, focal });
  found.points.forEach((point, i) => {
    if (point) structure.points.set(shared[i]!, point);
  });
  structure.adjust(8, { ...settings.freedom, focal: 'known', terms: 0 });
  extendWalk(structure, keys, BEGINS_WITH);
  if (structure.cameras.size < Math.min(3, keys.length)) return null;
  structure.adjust(25, { ...settings.freedom, terms: 0 });
  structure.forgive();
  structure.findPoints();
  structure.adjust(25, { ...settings.freedom, terms: 0 });
  return structure;
}

/** Solves further key frames, those that see most of what is known first, until there are `most`. */
export function extendWalk(structure: Structure, keys: readonly number[], most: number): void {
  const failed = new Set<number>();
  for (let since = 0; structure.cameras.size < Math.min(most, keys.length);) {
    const next = nextFrame(structure, keys, failed);
    if (next === null) break;
    const found = structure.resectNear(next, structure.cameras.get(nearest(structure, next))!);
    if (!found || found.holds < LEAST_HOLDS) {
      failed.add(next);
      continue;
    }
    structure.cameras.set(next, found.camera);
    structure.findPoints();
    if (++since % ADJUSTED_EVERY === 0) {
      structure.adjust(6, { ...structure.settings.freedom, terms: 0 });
      failed.clear();
    }
  }
}

/** The key frame beside those solved that sees most of what is known. */
function nextFrame(structure: Structure, keys: readonly number[], failed: ReadonlySet<number>): number | null {
  let best: number | null = null;
  let most = 0;
  keys.forEach((frame, i) => {
    if (structure.cameras.has(frame) || failed.has(frame)) return;
    if (![keys[i - 1], keys[i + 1]].some((n) => n !== undefined && (structure.cameras.has(n) || failed.has(n)))) return;
    const seen = structure.seenOn(frame).tracks.length;
    if (seen > most) [best, most] = [frame, seen];
  });
  return best;
}

export function nearest(structure: Structure, frame: number): number {
  return [...structure.cameras.keys()].reduce((a, b) => (Math.abs(b - frame) < Math.abs(a - frame) ? b : a));
}
