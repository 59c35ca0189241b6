import { setImmediate as breath } from 'node:timers/promises';
import { codedLuma } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { followFeatures, outsideKeepOuts } from '../../core/motion/scene/follow-features.ts';
import { placePlane } from '../../core/motion/scene/place-plane.ts';
import { readScene as sceneOf, writeScene as fileOf } from '../../core/motion/scene/scene-file.ts';
import { randomFrom } from '../../core/motion/scene/seeded-random.ts';
import { solveRolling } from '../../core/motion/scene/solve-rolling-shutter.ts';
import { findMedia } from '../database/media.ts';
import { readScene, writePlane, writeScene } from '../database/scenes.ts';
import { findShot } from '../database/shots.ts';
import { openFrames } from '../media/stored-frames.ts';
import type { JobContext } from './job-context.ts';

/** The same plate and settings give the same scene. */
const SEED = 1;
/** Frames of solving count as so many of following, in what is reported of progress. */
const SOLVING = 0.5;

/**
 * Solves camera and still points of a shot's plate, unless that was done with the same settings, and places the plane of its corners in them. The scene is
 * written before the plane is looked for; a job that was killed before that begins anew, and comes to the same.
 */
export async function solveShotScene(context: JobContext<'scene'>): Promise<void> {
  const { db, job } = context;
  const shotId = job.shotId!;
  const { document, frames, question } = job.params;
  const shot = await findShot(db, shotId);
  const plate = shot?.plate && (await findMedia(db, shot.plate.id));
  if (!plate?.facts) throw new Problem('no-plate');
  const { width, height, rate, layout, colour } = plate.facts;
  const store = openFrames(context.folders, plate);
  const [first, last] = frames;
  const count = last - first + 1;
  const solving = Math.ceil(SOLVING * count);
  const total = count + solving;
  const allowed = outsideKeepOuts(document.keepOut, document.referenceFrame);
  const read = async (frame: number) => {
    context.check();
    return codedLuma(await store.readRaw(frame), layout, colour.transfer);
  };
  let stored = await readScene(db, shotId);
  if (stored?.question !== question || stored.plateId !== plate.id) {
    const { tracks } = await followFeatures(
      { width, height, frames, allowed, drawn: document.scene?.drawn, removed: document.scene?.removed },
      read,
      (done) => context.progress(done, total),
    );
    let solved = 0;
    const scene = await solveRolling(
      {
        width,
        height,
        frames,
        tracks,
        focal: document.focal,
        lens: { terms: document.scene?.terms ?? 0 },
        random: randomFrom(SEED),
        progress: (done) => {
          solved = done;
        },
        // Signs of life go out, and a stop is heard, between long pieces of work.
        breathe: async () => {
          await breath();
          await context.progress(count + Math.floor((solving * solved) / (count + 1)), total);
        },
      },
      document.scene?.rows,
    );
    await writeScene(
      db,
      shotId,
      plate.id,
      question,
      fileOf(scene, { width, height, rate, pixelCentre: 'half' }, tracks),
    );
    stored = await readScene(db, shotId);
  }
  if (stored && document.corners) {
    const scene = sceneOf(stored.scene);
    const frame = document.referenceFrame;
    if (!scene.frames.some((f) => f.frame === frame)) throw new Problem('scene-frame-unsolved', { frame });
    const proportions = document.proportions && document.proportions[0] / document.proportions[1];
    const { plane, notes } = await placePlane(
      scene,
      { frame, corners: document.corners, proportions, allowed },
      read,
      randomFrom(SEED),
    );
    await writePlane(db, shotId, {
      frame,
      corners: document.corners,
      normal: [...plane.normal],
      covariance: [...plane.covariance],
      notes,
    });
  }
  await context.progress(total, total);
}
