import { mapTuple } from '../../core/base/geometry/map-tuple.ts';
import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { compose } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { readTrack } from '../database/tracks.ts';
import { run, type Queryable } from '../database/connection.ts';

/** Lets a followed track stray: on each frame its corners are off by `plant`, px of the reference. */
export async function plantDrift(
  db: Queryable,
  shotId: number,
  corners: Quad,
  plant: (frame: number, corner: number) => readonly [number, number],
): Promise<void> {
  for (const row of await readTrack(db, shotId)) {
    if (!row.homography) continue;
    if ([0, 1, 2, 3].every((c) => plant(row.frame, c).every((v) => v === 0))) continue;
    const moved = mapTuple(corners, ([x, y], c) => {
      const [dx, dy] = plant(row.frame, c);
      return [x + dx, y + dy];
    });
    await run(
      db,
      'UPDATE track_frames SET homography = ?, changed = NEXT VALUE FOR change_number WHERE shot_id = ? AND frame = ?',
      [JSON.stringify(compose(row.homography, homographyBetweenQuads(corners, moved)!)), shotId, row.frame],
    );
  }
}
