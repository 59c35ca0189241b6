import { NothingToFollow, type FollowPlan } from '../../core/motion/follow/follow-plan.ts';
import { shapeSpread, unpackCertainty } from '../../core/motion/follow/certainty.ts';
import { FollowRun } from '../../core/motion/follow/follow-run.ts';
import type { ShapeTolerance } from '../../core/motion/follow/shape-prior.ts';
import { applyToPoints, type Homography } from '../../core/base/geometry/homography.ts';
import { lumaFromRaw } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { transaction } from '../database/connection.ts';
import { dropFollowState, readFollowState, writeFollowState } from '../database/follow-states.ts';
import { findMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import { readTrack, rowsByJob, writeTrackFrame } from '../database/tracks.ts';
import { openFrames } from '../media/stored-frames.ts';
import { ThroughLens } from '../../core/motion/lens/follow-through-lens.ts';
import { steadiedLuma } from '../../core/motion/steady/steadied-luma.ts';
import type { JobContext } from './job-context.ts';
import { steadyFor, type SteadyFollow } from './steady-follow.ts';

/** A second of film: what is gone for longer had better be looked at by a person. */
const PATIENCE = 25;

/**
 * Follows a shot's regions. Every step's frames are written together with where the run then stands, so that a job that
 * was killed goes on as if it had not been.
 */
export async function follow(context: JobContext<'follow'>): Promise<void> {
  const { db, job } = context;
  const shotId = job.shotId!;
  const { document, direction, frames, from, runKey } = job.params;
  const shot = await findShot(db, shotId);
  const plate = shot?.plate && (await findMedia(db, shot.plate.id));
  if (!plate?.facts) throw new Problem('no-plate');
  const { layout, colour, width, height } = plate.facts;
  const straight = document.lens && new ThroughLens(document.lens, width, height);
  const store = openFrames(context.folders, plate);
  const steady = await steadyFor(db, shot!, document);
  const { known, knownShapes } = await knownMaps(context, runKey, steady);
  // A last pass looks at every frame once more.
  const span = frames[1] - frames[0] + 1;
  const total = document.lastPass ? 2 * span : span;
  let done = [...known.keys()].filter((frame) => frame >= frames[0] && frame <= frames[1]).length;
  await context.progress(done, total);
  const read = async (frame: number) => {
    context.check();
    const luma = lumaFromRaw(await store.readRaw(frame), layout, colour.transfer);
    return steady ? steadiedLuma(luma, steady.at(frame)) : straight ? straight.luma(luma) : luma;
  };
  const plan: FollowPlan = {
    motion: document.motion,
    points: document.points,
    lastPass: document.lastPass,
    regions: steady ? document.regions.map(steady.outline) : document.regions,
    keepOut: steady ? document.keepOut.map(steady.outline) : document.keepOut,
    ...(document.corners
      ? { screen: steady ? applyToPoints(steady.reference, document.corners) : document.corners }
      : {}),
    referenceFrame: document.referenceFrame,
    from,
    frames,
    direction,
    known,
    knownShapes,
    patience: PATIENCE,
    resume: (await readFollowState(db, job.id)) ?? undefined,
  };
  const run = await FollowRun.begin(straight ? straight.plan(plan) : plan, read).catch((error: unknown) => {
    throw error instanceof NothingToFollow
      ? new Problem('nothing-to-follow', { why: error.message }, { cause: error })
      : error;
  });
  for (let fits = await run.step(); fits; fits = await run.step()) {
    context.check();
    const written = fits;
    const { passed } = run;
    // What a last pass finds is written all together, so that one that is broken off begins anew from what was followed.
    if (passed === null || fits.length > 0) {
      await transaction(db, async (connection) => {
        for (const fit of written)
          await writeTrackFrame(
            connection,
            shotId,
            job.id,
            runKey,
            steady ? steady.ofPlate(fit) : straight ? straight.ideal(fit) : fit,
          );
        if (passed === null) await writeFollowState(connection, job.id, run.state());
      });
    }
    if (passed === null) done += fits.length;
    await context.progress(passed === null ? done : Math.min(total, span + passed), total);
  }
  // Frames that were known before, or lost, are not among those looked at once more.
  if (document.lastPass) await context.progress(total, total);
  await dropFollowState(db, job.id);
}

/** Maps that are not looked for again: those held, whoever found them, and what this job has settled already; and how well the shape is known there. */
async function knownMaps(
  { db, job }: JobContext<'follow'>,
  runKey: string,
  steady: SteadyFollow | null,
): Promise<{ known: Map<number, Homography | null>; knownShapes: Map<number, ShapeTolerance> }> {
  const known = new Map<number, Homography | null>();
  const knownShapes = new Map<number, ShapeTolerance>();
  const writers = await rowsByJob(db, job.shotId!);
  for (const row of await readTrack(db, job.shotId!)) {
    if (row.runKey !== runKey || !(row.homography || writers.get(row.frame) === job.id)) continue;
    known.set(row.frame, steady && row.homography ? steady.onSteadied(row.frame, row.homography) : row.homography);
    const certainty = row.certainty && unpackCertainty(row.certainty);
    if (certainty) knownShapes.set(row.frame, shapeSpread(certainty));
  }
  return { known, knownShapes };
}
