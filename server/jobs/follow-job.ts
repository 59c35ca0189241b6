import { NothingToFollow } from '../../core/follow/follow-plan.ts';
import { followSpan } from '../../core/follow/follow-run.ts';
import type { Homography } from '../../core/geometry/homography.ts';
import { lumaFromRaw } from '../../core/image/raw-frame.ts';
import { Problem } from '../../core/problem/problem.ts';
import { findMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import { readTrack, writeTrackFrame } from '../database/tracks.ts';
import { openFrames } from '../media/stored-frames.ts';
import type { JobContext } from './job-context.ts';

/** Follows a shot's regions; every finished frame is a row, and rows that are there are not done again. */
export async function follow(context: JobContext<'follow'>): Promise<void> {
  const { db, job } = context;
  const { document, direction, frames, runKey } = job.params;
  const shot = await findShot(db, job.shotId!);
  const plate = shot?.plate && (await findMedia(db, shot.plate.id));
  if (!plate?.facts) throw new Problem('no-plate');
  const { layout, colour } = plate.facts;
  const store = openFrames(context.folders, plate);
  const known = new Map<number, Homography | null>();
  for (const row of await readTrack(db, job.shotId!)) if (row.runKey === runKey) known.set(row.frame, row.homography);
  const total = frames[1] - frames[0] + 1;
  let done = [...known.keys()].filter((frame) => frame >= frames[0] && frame <= frames[1]).length;
  await context.progress(done, total);
  const read = async (frame: number) => {
    context.check();
    return lumaFromRaw(await store.readRaw(frame), layout, colour.transfer);
  };
  try {
    const plan = { motion: document.motion, regions: document.regions, keepOut: document.keepOut, ...(document.corners ? { screen: document.corners } : {}), referenceFrame: document.referenceFrame, frames, direction, known };
    for await (const fit of followSpan(plan, read)) {
      context.check();
      await writeTrackFrame(db, job.shotId!, job.id, runKey, fit);
      await context.progress(++done, total);
    }
  } catch (error) {
    if (error instanceof NothingToFollow) throw new Problem('nothing-to-follow', { why: error.message }, { cause: error });
    throw error;
  }
}
