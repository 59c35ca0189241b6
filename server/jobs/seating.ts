import { cornerBound, unpackCertainty } from '../../core/motion/follow/certainty.ts';
import type { Homography } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import type { ShotDocument, TrackRow } from '../../core/base/schemas/types.ts';
import type { Seating } from '../../core/surface/seat/seated-corners.ts';
import type { Queryable } from '../database/connection.ts';
import { readLock } from '../database/seats.ts';

/** All that decides where a shot's corners are on its frames. The document has corners. */
export async function seatingOf(
  db: Queryable,
  shotId: number,
  document: ShotDocument,
  track: readonly TrackRow[],
): Promise<Seating> {
  const { corners, referenceFrame, outset, corrections, smooth } = document;
  return {
    corners: corners!,
    referenceFrame,
    outset,
    corrections,
    smooth,
    lock: document.lock === true ? await readLock(db, shotId, referenceFrame, corners!, track) : null,
  };
}

export function mapsOf(track: readonly TrackRow[]): Map<number, Homography> {
  return new Map(track.flatMap((row) => (row.homography ? [[row.frame, row.homography] as const] : [])));
}

/** What is stated of the corners on a row's frame, px; null where nothing is. */
export function rowBounds(row: TrackRow, corners: Quad): number[] | null {
  const certainty = row.certainty && unpackCertainty(row.certainty);
  const map = row.homography;
  return certainty && map ? corners.map((corner) => cornerBound(certainty, map, corner)) : null;
}
