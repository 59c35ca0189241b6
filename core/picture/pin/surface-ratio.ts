import { sideRatio } from '../../base/geometry/quad.ts';
import type { ShotDocument } from '../../base/schemas/types.ts';

/** Width over height of a shot's surface: as its look or its seat says, or as its corners suggest. */
export function surfaceRatio({
  look,
  proportions,
  corners,
}: Pick<ShotDocument, 'look' | 'proportions' | 'corners'>): number {
  const told = look.proportions ?? proportions;
  return told ? told[0] / told[1] : corners ? sideRatio(corners) : 1;
}
