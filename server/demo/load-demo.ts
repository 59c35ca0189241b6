import { createReadStream } from 'node:fs';
import { basename, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { Problem } from '../../core/base/problem/problem.ts';
import type { ShotDocument } from '../../core/base/schemas/types.ts';
import { folders, type Config } from '../config.ts';
import { select, transaction, type Database, type Queryable } from '../database/connection.ts';
import { EMPTY_DOCUMENT, insertFirstRevision } from '../database/documents.ts';
import { findJob, type StoredJob } from '../database/jobs.ts';
import { findMedia } from '../database/media.ts';
import { createProject, renameProject, setProjectDeleted } from '../database/projects.ts';
import { insertShot, setShotPlate } from '../database/shots.ts';
import { insertVariant } from '../database/variants.ts';
import { startRender } from '../send/start-render.ts';
import { startFollow } from '../use-cases/follow-shot.ts';
import { startPull } from '../use-cases/pull-keys.ts';
import { startSeat } from '../use-cases/measure-seat.ts';
import { addMedia } from '../use-cases/add-media.ts';
import { storeUpload } from '../media/uploads.ts';
import {
  caughtDocument,
  DEMO_FOLDER,
  finishedDocument,
  heldDocument,
  KEYED,
  thrownDocument,
  truthOf,
} from './demo-documents.ts';

const PROJECT = 'Fernhollow Glasshouses';
const TABLET = 'Bench tablet';
const PHONE = 'Thrown phone';
const CAUGHT = 'Thrown phone, caught';
const HELD = 'Held phone';
const WALL = 'Wall screen';
const WIDE = 'Wide tablet';
const TAPPED = 'Tapped tablet';
/** The tablet's own picture is bright: dark content has to reach a little over its edges. Pixels a side. */
const TABLET_OUTSET = { unit: 'px' as const, sides: [0.8, 0.8, 0.8, 0.8] as [number, number, number, number] };
/** Contents, then plates; `createDemo` takes them apart in this order. */
const FILES = [
  'content/bed-temperatures.png',
  'content/orders.png',
  'content/watering-plan.png',
  'content/potting-round.png',
  'clips/bench-tablet.mp4',
  'clips/orders-laptop.mp4',
  'clips/thrown-phone.mp4',
  'clips/held-phone.mp4',
  'clips/wall-screen.mp4',
  'clips/wide-tablet.mp4',
  'clips/tapped-tablet.mp4',
] as const;

/**
 * Makes sure that the demo project is there: shots from the shipped clips. The first is worked to the
 * end (its follow and render run as ordinary jobs), the second and the last three are left to try. What an earlier
 * start began is carried on with.
 */
export async function loadDemo(db: Database, config: Config): Promise<void> {
  const [there] = await select<{ id: number }>(db, 'SELECT id FROM projects WHERE name = ?', [PROJECT]);
  const project = there?.id ?? (await createDemo(db, config));
  for (const { id } of await select<{ id: number }>(
    db,
    "SELECT id FROM jobs WHERE project_id = ? AND kind = 'bring-in' ORDER BY id",
    [project],
  )) {
    const job = await ended(db, id);
    if (there || job.state === 'done') continue;
    // Put aside under another name, so that the next start loads it anew.
    await renameProject(db, project, `${PROJECT} (not loaded)`);
    await setProjectDeleted(db, project, true);
    throw new Problem('demo-failed', { why: job.problem ?? '' });
  }
  void finishInBackground(db, config, project);
}

async function createDemo(db: Database, config: Config): Promise<number> {
  console.log('Loading the demo project …');
  const places = folders(config.dataFolder);
  const stored = await Promise.all(
    FILES.map((name) =>
      storeUpload(
        createReadStream(join(DEMO_FOLDER, name)),
        places.uploads,
        places.media,
        config.uploadLimitBytes,
        basename(name),
      ),
    ),
  );
  const truth = truthOf('bench-tablet');
  const phoneTruth = truthOf('thrown-phone');
  // All of it or nothing: a start that is broken off leaves no half of a project.
  return transaction(db, async (connection) => {
    const project = await createProject(connection, PROJECT);
    const media: number[] = [];
    for (const [i, name] of FILES.entries())
      media.push((await addMedia(connection, project, basename(name), stored[i]!)).mediaId);
    const [temperatures, orders, watering, potting, tablet, laptop, phone, held, wall, wide, tapped] = media as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const bench = await insertShotWith(connection, project, TABLET, tablet, {
      ...finishedDocument(truth, temperatures),
      outset: TABLET_OUTSET,
    });
    for (const [name, mediaId] of [
      ['Bed temperatures', temperatures],
      ['Orders', orders],
      ['Watering plan', watering],
    ] as const)
      await insertVariant(connection, { shotId: bench, name, mediaId, framing: { fit: 'stretch' } });
    await insertShotWith(connection, project, 'Orders laptop', laptop, EMPTY_DOCUMENT);
    await insertShotWith(connection, project, HELD, held, heldDocument(truthOf('held-phone'), potting));
    const caught = await insertShotWith(connection, project, CAUGHT, phone, caughtDocument(phoneTruth));
    await insertShotWith(connection, project, PHONE, phone, thrownDocument(phoneTruth, potting, caught));
    await insertShotWith(connection, project, WALL, wall, { ...EMPTY_DOCUMENT, contentId: watering });
    await insertShotWith(connection, project, WIDE, wide, {
      ...finishedDocument(truthOf('wide-tablet'), temperatures),
      outset: TABLET_OUTSET,
    });
    await insertShotWith(connection, project, TAPPED, tapped, {
      ...finishedDocument(truthOf('tapped-tablet'), temperatures),
      outset: TABLET_OUTSET,
      loop: { of: 'plate' },
    });
    return project;
  });
}

/** Follows, measures and renders the finished shot, unless that was begun already, while the person already looks around. */
async function finishInBackground(db: Database, config: Config, project: number): Promise<void> {
  try {
    const [shot] = await select<{ id: number; plate_id: number }>(
      db,
      'SELECT id, plate_id FROM shots WHERE project_id = ? AND name = ? AND deleted_at IS NULL',
      [project, TABLET],
    );
    const plate = shot && (await findMedia(db, shot.plate_id));
    if (!shot || !plate?.frames) return;
    const jobOf = async (kind: string) =>
      (
        await select<{ id: number }>(db, 'SELECT id FROM jobs WHERE shot_id = ? AND kind = ? LIMIT 1', [shot.id, kind])
      )[0]?.id;
    await ended(db, (await jobOf('follow')) ?? (await startFollow(db, shot.id, { direction: 'both' })));
    await ended(db, (await jobOf('seat')) ?? (await startSeat(db, shot.id)));
    if ((await jobOf('render')) === undefined)
      await startRender(db, config, shot.id, { frames: [0, plate.frames - 1], output: 'h264' });
    await finishThrown(db, project);
    await finishHeld(db, project);
  } catch {
    // Stopped meanwhile, or the person works on the shot: nothing is lost, the steps offer it again.
  }
}

/** The thrown phone is followed on both sides of its flight, then its keys are pulled onto the picture. */
async function finishThrown(db: Database, project: number): Promise<void> {
  const idOf = async (name: string) =>
    (
      await select<{ id: number }>(
        db,
        'SELECT id FROM shots WHERE project_id = ? AND name = ? AND deleted_at IS NULL',
        [project, name],
      )
    )[0]?.id;
  const [phone, caught] = [await idOf(PHONE), await idOf(CAUGHT)];
  const begun = async (shot: number, kind: string) =>
    (await select<{ id: number }>(db, 'SELECT id FROM jobs WHERE shot_id = ? AND kind = ? LIMIT 1', [shot, kind]))[0]
      ?.id;
  if (phone === undefined || caught === undefined) return;
  await ended(
    db,
    (await begun(phone, 'follow')) ?? (await startFollow(db, phone, { direction: 'both', frames: [0, KEYED[0] + 2] })),
  );
  await ended(
    db,
    (await begun(caught, 'follow')) ??
      (await startFollow(db, caught, { direction: 'both', frames: [KEYED[1] - 2, KEYED[1] + 19] })),
  );
  if ((await begun(phone, 'pull')) === undefined) await startPull(db, phone);
}

async function insertShotWith(
  db: Queryable,
  project: number,
  name: string,
  plate: number,
  document: ShotDocument,
): Promise<number> {
  const id = await insertShot(db, project, name);
  await insertFirstRevision(db, id, document);
  await setShotPlate(db, id, plate);
  return id;
}

async function ended(db: Database, jobId: number): Promise<StoredJob> {
  for (;;) {
    const job = await findJob(db, jobId);
    if (job && job.state !== 'queued' && job.state !== 'running') return job;
    await sleep(200);
  }
}

/** The held phone is followed; its key stands already. */
async function finishHeld(db: Database, project: number): Promise<void> {
  const [shot] = await select<{ id: number }>(
    db,
    'SELECT id FROM shots WHERE project_id = ? AND name = ? AND deleted_at IS NULL',
    [project, HELD],
  );
  if (!shot) return;
  const begun = await select<{ id: number }>(db, "SELECT id FROM jobs WHERE shot_id = ? AND kind = 'follow' LIMIT 1", [
    shot.id,
  ]);
  if (begun.length === 0) await ended(db, await startFollow(db, shot.id, { direction: 'both' }));
}
