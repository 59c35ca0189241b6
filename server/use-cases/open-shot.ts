import { Problem } from '../../core/base/problem/problem.ts';
import type { Shot, ShotDocument } from '../../core/base/schemas/types.ts';
import { type Database } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { found } from '../database/found.ts';
import { findMedia, type StoredMedia } from '../database/media.ts';
import { runKeyOf } from '../database/run-key.ts';
import { findShot } from '../database/shots.ts';

/** How messages name the shot that somebody works on. */
export const WHERE = 'this shot';

/** A shot and its document as it stands. @throws Problem not-found */
export async function openDocument(db: Database, id: number): Promise<{ shot: Shot; document: ShotDocument }> {
  const shot = found(await findShot(db, id), 'shot', id);
  return { shot, document: await readDocument(db, shot.id, shot.revision) };
}

/** A plate whose frames are at hand. @throws Problem no-plate, frames-cleared */
export async function plateOf(db: Database, id: number | undefined): Promise<StoredMedia> {
  const plate = id === undefined ? null : await findMedia(db, id);
  if (!plate?.facts) throw new Problem('no-plate');
  if (plate.state === 'cleared') throw new Problem('frames-cleared', { name: plate.name });
  return plate;
}

interface OpenShot {
  readonly shot: Shot;
  readonly document: ShotDocument;
  readonly plate: StoredMedia;
  /** What was asked of the follower, in a word. */
  readonly runKey: string;
}

/** A shot with all that its motion is worked on by. @throws Problem not-found, no-plate, frames-cleared */
export async function openShot(db: Database, id: number): Promise<OpenShot> {
  const { shot, document } = await openDocument(db, id);
  const plate = await plateOf(db, shot.plate?.id);
  return { shot, document, plate, runKey: runKeyOf(document, plate.id) };
}

/** The frames of a shot: its range, as far as its plate has some. */
export function rangeOf({ range }: ShotDocument, frames: number): [number, number] {
  const last = frames - 1;
  const [from, to] = range ?? [0, last];
  return [Math.min(from, last), Math.min(to, last)];
}
