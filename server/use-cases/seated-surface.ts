import type { Homography } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import type { QuadCorners, Shot, ShotDocument, SurfaceReply } from '../../core/base/schemas/types.ts';
import { SeatedCorners } from '../../core/surface/seat/seated-corners.ts';
import type { Database } from '../database/connection.ts';
import { readMotion } from '../database/motion-source.ts';
import { mapsOf, rowBounds, seatingOf } from '../jobs/seating.ts';
import { openDocument } from './open-shot.ts';

/** A shot's motion with its corners as they are seated. */
export async function seatedSurface(db: Database, shot: Shot, document: ShotDocument) {
  const rows = await readMotion(db, shot, document);
  const maps: ReadonlyMap<number, Homography> = mapsOf(rows);
  const seated = new SeatedCorners(await seatingOf(db, shot.id, document, rows));
  const byFrame = new Map(rows.map((row) => [row.frame, row]));
  return {
    rows,
    maps,
    /** Where the corners are on a frame; null where it is not followed. */
    quadAt: (frame: number): Quad | null => (maps.has(frame) ? seated.at(frame, maps.get(frame)!) : null),
    /** All frames on which they are known, smoothed where that is asked for. */
    all: () =>
      [...seated.all(maps, (frame) => rowBounds(byFrame.get(frame)!, document.corners as Quad))].map(
        ([frame, quad]) => ({ frame, quad }),
      ),
  };
}

/** A shot's surface for whoever lays something over it. */
export async function surfaceOf(db: Database, shotId: number): Promise<SurfaceReply> {
  const { shot, document } = await openDocument(db, shotId);
  const frames = document.corners ? (await seatedSurface(db, shot, document)).all() : [];
  return {
    shot: shot.id,
    name: shot.name,
    document,
    frames: frames.map(({ frame, quad }) => ({ frame, corners: quad.map(([x, y]) => [x, y]) as QuadCorners })),
  };
}
