import { packCertainty, unpackCertainty } from '../../core/motion/follow/certainty.ts';
import { IdealMotion } from '../../core/motion/lens/ideal-motion.ts';
import type { NineNumbers, QuadCorners, ShotDocument, TrackRow } from '../../core/base/schemas/types.ts';
import type { Queryable } from './connection.ts';
import { readTrack, trackChanges } from './tracks.ts';

/** Corners that a shot's maps are given at: its own, or those of a box around its first region before there are any. */
function tellingCorners({ corners, regions }: ShotDocument): QuadCorners | null {
  const points = regions[0]?.points;
  if (corners || !points) return corners;
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  return [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ];
}

/** Rows of a shot with a lens lead between straightened places; here they are stated for the plate as it was filmed. Without a lens they are as they are kept. */
export function filmedRows(rows: TrackRow[], document: ShotDocument): TrackRow[] {
  const corners = document.lens && tellingCorners(document);
  if (!document.lens || !corners) return rows;
  const ideal = IdealMotion.at(document.lens, corners);
  return rows.map((row): TrackRow => {
    if (!row.homography) return row;
    const map = ideal?.filmed(row.homography);
    const certainty = row.certainty && unpackCertainty(row.certainty);
    return map
      ? {
          ...row,
          homography: [...map] as NineNumbers,
          certainty: certainty && packCertainty(ideal!.certainty(certainty)),
        }
      : { ...row, homography: null, certainty: null, lost: 'the lens films no surface there' };
  });
}

export async function readFilmedTrack(db: Queryable, shotId: number, document: ShotDocument): Promise<TrackRow[]> {
  return filmedRows(await readTrack(db, shotId), document);
}

export async function filmedChanges(
  db: Queryable,
  shotId: number,
  document: ShotDocument,
  after: number,
): Promise<{ after: number; rows: TrackRow[] }> {
  const changes = await trackChanges(db, shotId, after);
  return { ...changes, rows: filmedRows(changes.rows, document) };
}
