import { createReadStream, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { Problem } from '../../core/problem/problem.ts';
import type { ShotDocument } from '../../core/schemas/types.ts';
import type { Truth } from '../../demo/truth.ts';
import { folders, type Config } from '../config.ts';
import { select, transaction, type Database } from '../database/connection.ts';
import { EMPTY_DOCUMENT, insertFirstRevision } from '../database/documents.ts';
import { findJob, type StoredJob } from '../database/jobs.ts';
import { createProject, renameProject, setProjectDeleted } from '../database/projects.ts';
import { insertShot, setShotPlate } from '../database/shots.ts';
import { startFollow, startRender } from '../http/job-routes.ts';
import { addMedia } from '../http/media-routes.ts';
import { storeUpload } from '../media/uploads.ts';

const demo = join(import.meta.dirname, '../../demo');
const PROJECT = 'Fernhollow Glasshouses';
const CONTENT = ['bed-temperatures.png', 'orders.png', 'watering-plan.png'];

/**
 * Loads the demo project once: two shots from the shipped clips. The first is worked to the end (its
 * follow and render run as ordinary jobs), the second is left untouched to try.
 */
export async function loadDemo(db: Database, config: Config): Promise<void> {
  const there = await select(db, 'SELECT id FROM projects WHERE name = ?', [PROJECT]);
  if (there.length > 0) return;
  console.log('Loading the demo project …');
  const project = await createProject(db, PROJECT);
  const add = async (folder: string, name: string) => {
    const places = folders(config.dataFolder);
    const stored = await storeUpload(createReadStream(join(demo, folder, name)), places.uploads, places.media, config.uploadLimitBytes, name);
    return addMedia(db, project, name, stored);
  };
  const content = await Promise.all(CONTENT.map((name) => add('content', name)));
  const tablet = await add('clips', 'bench-tablet.mp4');
  const laptop = await add('clips', 'orders-laptop.mp4');
  const truth = JSON.parse(readFileSync(join(demo, 'clips/bench-tablet.truth.json'), 'utf8')) as Truth;
  const finished: ShotDocument = {
    ...EMPTY_DOCUMENT, referenceFrame: truth.referenceFrame, regions: [{ points: truth.region }],
    corners: truth.frames[truth.referenceFrame]!.corners as ShotDocument['corners'], contentId: content[0]!.mediaId,
    look: { fit: 'stretch', levels: { black: truth.levels.black, white: truth.levels.white }, soften: truth.softness, motionBlur: { shutter: truth.shutter, phase: 0 } },
  };
  const tabletShot = await insertShotWith(db, project, 'Bench tablet', tablet.mediaId, finished);
  await insertShotWith(db, project, 'Orders laptop', laptop.mediaId, EMPTY_DOCUMENT);
  for (const { jobId } of [...content, tablet, laptop]) {
    const job = await ended(db, jobId);
    if (job.state !== 'done') {
      // Put aside under another name, so that the next start loads it anew.
      await renameProject(db, project, `${PROJECT} (not loaded)`);
      await setProjectDeleted(db, project, true);
      throw new Problem('demo-failed', { why: job.problem ?? '' });
    }
  }
  // The finished shot is followed and rendered while the person already looks around.
  await startFollow(db, tabletShot, 'both');
  void finishInBackground(db, tabletShot, truth.frames.length);
}

async function finishInBackground(db: Database, shot: number, frames: number): Promise<void> {
  try {
    const [job] = await select<{ id: number }>(db, "SELECT id FROM jobs WHERE shot_id = ? AND kind = 'follow' ORDER BY id DESC LIMIT 1", [shot]);
    await ended(db, job!.id);
    await startRender(db, shot, [0, frames - 1], 'mp4');
  } catch {
    // Stopped meanwhile, or already being rendered by the person: nothing is lost, Send offers it again.
  }
}

async function insertShotWith(db: Database, project: number, name: string, plate: number, document: ShotDocument): Promise<number> {
  return transaction(db, async (connection) => {
    const id = await insertShot(connection, project, name);
    await insertFirstRevision(connection, id, document);
    await setShotPlate(connection, id, plate);
    return id;
  });
}

async function ended(db: Database, jobId: number): Promise<StoredJob> {
  for (;;) {
    const job = await findJob(db, jobId);
    if (job && job.state !== 'queued' && job.state !== 'running') return job;
    await sleep(200);
  }
}
