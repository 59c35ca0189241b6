import { lumaFromRaw } from '../../core/base/image/raw-frame.ts';
import { PlateChecker } from '../../core/motion/plate/plate-check.ts';
import { writeCheck } from '../database/checks.ts';
import { findMedia } from '../database/media.ts';
import { openFrames } from '../media/stored-frames.ts';
import type { JobContext } from './job-context.ts';

/** Looks at every frame of a medium: sharpness, exposure, noise, blur, repeats, cuts, flashes. */
export async function checkPlate(context: JobContext<'check'>): Promise<void> {
  const { db, job } = context;
  const media = await findMedia(db, job.mediaId!);
  if (!media?.facts || !media.frames || media.state !== 'ready') return;
  const store = openFrames(context.folders, media);
  const checker = new PlateChecker();
  for (let frame = 0; frame < media.frames; frame++) {
    checker.add(lumaFromRaw(await store.readRaw(frame), media.facts.layout, media.facts.colour.transfer));
    await context.progress(frame + 1, media.frames);
  }
  await writeCheck(db, media.id, checker.finish());
}
