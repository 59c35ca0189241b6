import { NO_TURN } from '../pose/rotation.ts';
import type { FeatureTrack } from './feature-tracks.ts';
import { nearest } from './walk.ts';
import { Structure, type StructureSettings } from './structure.ts';

const LEAST_HOLDS = 10;
const ADJUSTED_EVERY = 6;

/**
 * A camera that only turns: features are directions, frames are turns, from the middle key frame outwards.
 * Source: R. Hartley, Self-calibration of stationary cameras, IJCV 22(1), 1997; here by bundle adjustment from a guessed focal length.
 */
export function solveTurning(
  tracks: readonly FeatureTrack[],
  keys: readonly number[],
  focal: number,
  settings: StructureSettings,
): Structure | null {
  const structure = new Structure(tracks, settings);
  const middle = keys.length >> 1;
  structure.cameras.set(keys[middle]!, { rotation: NO_TURN, position: [0, 0, 0], focal });
  tracks.forEach((_, i) => {
    const ray = structure.ray(i, keys[middle]!, structure.cameras.get(keys[middle]!)!);
    if (ray) structure.points.set(i, [ray[0], ray[1], 1]);
  });
  let since = 0;
  const order = keys
    .map((_, i) => i)
    .sort((a, b) => Math.abs(a - middle) - Math.abs(b - middle))
    .slice(1);
  for (const i of order) {
    const found = structure.resectNear(keys[i]!, structure.cameras.get(nearest(structure, keys[i]!))!);
    if (!found || found.holds < LEAST_HOLDS) return null;
    structure.cameras.set(keys[i]!, found.camera);
    structure.findPoints();
    if (++since % ADJUSTED_EVERY === 0) structure.adjust(6, { ...settings.freedom, terms: 0 });
  }
  structure.adjust(20, { ...settings.freedom, terms: 0 });
  structure.forgive();
  structure.findPoints();
  structure.adjust(20, { ...settings.freedom, terms: 0 });
  structure.adjust(20);
  return structure;
}
