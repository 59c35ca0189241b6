import { existsSync, readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { SweepReport } from '../../core/base/schemas/types.ts';
import { transaction, type Database } from '../database/connection.ts';
import { allFinishedKeys } from '../database/finished-frames.ts';
import { insertJob } from '../database/jobs.ts';
import { listAllMedia, setMediaWaiting } from '../database/media.ts';
import { folderBytes } from '../media/folder-bytes.ts';
import { storedPath } from '../media/uploads.ts';

/** Younger files may still be on their way to a row. */
const YOUNG_MS = 24 * 3600 * 1000;

/**
 * Compares the disk with the database: removes files, frame stores and finished frames that nothing refers to, names media whose
 * file is gone, and has frames made again that are missing though their file is there.
 */
export async function sweep(
  db: Database,
  places: { media: string; frames: string; uploads: string; renders: string },
  now = Date.now(),
  young = YOUNG_MS,
): Promise<SweepReport> {
  const media = await listAllMedia(db);
  const hashes = new Set(media.flatMap((m) => [m.hash, ...(m.lut ? [m.lut.hash] : [])]));
  const stores = new Set(media.flatMap((m) => m.store ?? []));
  let orphans = 0;
  let orphanBytes = 0;
  let remade = 0;
  const remove = (path: string) => {
    const stats = statSync(path, { throwIfNoEntry: false });
    if (!stats || now - stats.mtimeMs < young) return;
    orphans++;
    orphanBytes += stats.isDirectory() ? folderBytes(path) : stats.size;
    rmSync(path, { recursive: true, force: true });
  };
  for (const group of readdirSync(places.media))
    for (const name of readdirSync(join(places.media, group)))
      if (!hashes.has(name)) remove(join(places.media, group, name));
  for (const name of readdirSync(places.frames)) if (!stores.has(name)) remove(join(places.frames, name));
  // Finished frames that no shot knows any more, and their light pictures; what a killed worker left half written.
  const keys = await allFinishedKeys(db);
  for (const kind of ['frames', 'light']) {
    const at = join(places.renders, kind);
    for (const group of existsSync(at) ? readdirSync(at) : [])
      for (const name of readdirSync(join(at, group)))
        if (!keys.has(name.slice(0, 64)) || name.endsWith('.part')) remove(join(at, group, name));
  }
  // Uploads that nobody went on with for a week.
  for (const name of readdirSync(places.uploads))
    if (now - statSync(join(places.uploads, name)).mtimeMs > 7 * young) remove(join(places.uploads, name));
  const missing: string[] = [];
  for (const m of media) {
    const hasFile = existsSync(storedPath(places.media, m.hash));
    if (!hasFile) missing.push(m.name);
    if (m.state !== 'ready' || !m.store || existsSync(join(places.frames, m.store, 'whole.json')) || !hasFile) continue;
    remade++;
    await transaction(db, async (connection) => {
      await setMediaWaiting(connection, m.id);
      await insertJob(connection, {
        kind: 'bring-in',
        projectId: m.projectId,
        mediaId: m.id,
        params: {},
        total: m.frames ?? 0,
      });
    });
  }
  return { orphans, orphanBytes, missing, remade };
}
