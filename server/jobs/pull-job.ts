import { NothingToFollow } from '../../core/motion/follow/follow-plan.ts';
import { inUse } from '../../core/base/geometry/outline.ts';
import { applyToPoints } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { lumaFromRaw } from '../../core/base/image/raw-frame.ts';
import type { HandKey } from '../../core/motion/keys/hand-keys.ts';
import { PullRun } from '../../core/motion/keys/pull-run.ts';
import { grownQuad } from '../../core/motion/keys/pull-region.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { PulledRow } from '../../core/base/schemas/types.ts';
import { readPulled, writePulled } from '../database/hand-motion.ts';
import { findMedia } from '../database/media.ts';
import { readMotion } from '../database/motion-source.ts';
import { findShot } from '../database/shots.ts';
import { openFrames } from '../media/stored-frames.ts';
import type { JobContext } from './job-context.ts';

/** Followed frames that are surer than this teach the pull, and are gone on from. */
const SURE = 0.5;

/** Pulls the frames between a shot's hand keys onto the picture. Each is written as it comes; a job that was killed goes on with the rest. */
export async function pullKeys(context: JobContext<'pull'>): Promise<void> {
  const { db, job } = context;
  const shotId = job.shotId!;
  const { document, frames, runKey } = job.params;
  const shot = await findShot(db, shotId);
  const plate = shot?.plate && (await findMedia(db, shot.plate.id));
  if (!plate?.facts) throw new Problem('no-plate');
  if (!document.corners) throw new Problem('no-corners');
  const { layout, colour } = plate.facts;
  const store = openFrames(context.folders, plate);
  const corners = document.corners as Quad;
  const keys: HandKey[] = (document.handKeys ?? []).map((k) => ({ frame: k.frame, corners: k.corners }));
  // What the spans beside say, or, where there are none, what was followed.
  const beside = (await readMotion(db, shot!, document)).filter(
    (r) => r.runKey === runKey && r.homography && r.confidence >= SURE && (r.frame < frames[0] || r.frame > frames[1]),
  );
  const done = await readPulled(db, shotId, runKey);
  const own = new Set(keys.map((k) => k.frame));
  const known: HandKey[] = [
    ...beside.map((r) => ({ frame: r.frame, corners: applyToPoints(r.homography!, corners) })),
    ...done.filter((d) => !own.has(d.frame)).map((d) => ({ frame: d.frame, corners: d.corners })),
    ...(own.has(document.referenceFrame) ? [] : [{ frame: document.referenceFrame, corners }]),
  ];
  const regions = inUse(document.regions);
  const run = await PullRun.begin(
    {
      motion: 'perspective',
      regions: regions.length > 0 ? regions : [{ points: grownQuad(corners) }],
      keepOut: document.keepOut,
      referenceFrame: document.referenceFrame,
      corners,
      keys,
      known,
      frames,
      camera: { focal: document.focal },
    },
    async (frame) => {
      context.check();
      return lumaFromRaw(await store.readRaw(frame), layout, colour.transfer);
    },
  ).catch((error: unknown) => {
    throw error instanceof NothingToFollow
      ? new Problem('nothing-to-follow', { why: error.message }, { cause: error })
      : error;
  });
  let count = 0;
  await context.progress(0, run.total);
  for (let at = await run.step(); at; at = await run.step()) {
    if (at.pulled)
      await writePulled(db, shotId, runKey, {
        frame: at.frame,
        corners: at.corners.map(([x, y]) => [x, y]) as PulledRow['corners'],
        confidence: at.confidence,
        bounds: at.bounds.map((b) => Number(b.toFixed(4))) as PulledRow['bounds'],
        moved: Number(at.moved.toFixed(3)),
      });
    await context.progress(++count, run.total);
  }
}
