import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DISPLAY_COLOUR } from '../../core/base/image/plate-colour.ts';
import { codedLuma, peakOf, pictureFromRaw } from '../../core/base/image/raw-frame.ts';
import { LoopJoin, TakesJoin, type PictureOf } from '../../core/picture/loop/joining.ts';
import { shotJoin, USUAL_FADE } from '../../core/picture/loop/shot-loop.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { LoopReport } from '../../core/base/schemas/types.ts';
import { findMedia, type StoredMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import { writePicture } from '../media/encode.ts';
import { openFrames } from '../media/stored-frames.ts';
import { PlanCompositor } from '../send/plan-compositor.ts';
import type { JobContext } from './job-context.ts';
import { packFilm, packPictures, pictureName } from './pack-frames.ts';

/** What came of it, beside the pictures in the job's folder. */
export const LOOP_REPORT = 'loop.json';

/**
 * Joins a shot with its own beginning, or with another take, into a clip of its own. Pairs are aligned on the plates; finished pictures, or the plates, are joined. A picture that is there
 * already is not made again. Returns the name of the finished file in the job's folder.
 */
export async function joinLoop(context: JobContext<'loop'>): Promise<string> {
  const { db, job } = context;
  const { document, frames, output, plan, corners } = job.params;
  const { loop = {} } = document;
  const shot = await findShot(db, job.shotId!);
  const plate = shot?.plate && (await findMedia(db, shot.plate.id));
  const second = loop.second ? await findMedia(db, loop.second.mediaId) : null;
  if (!plate?.facts || (loop.second && !second?.facts)) throw new Problem('no-plate');
  const { layout, colour, width, height } = plate.facts;
  const first = taken(plate, context);
  const other = second && taken(second, context);
  const compositor = plan && (await PlanCompositor.open(plan, context.folders));
  const pictureOf: PictureOf = compositor
    ? async (frame) => (await compositor.compose(await compositor.plate(frame), frame, 'final')).picture
    : first.picture;
  const settings = shotJoin(
    document,
    { width, height },
    frames[0],
    new Map(corners.map((row) => [row.frame, row.corners])),
  );
  const size = { width, height, colour };
  const folder = join(context.folders.renders, String(job.id));
  const work = other
    ? takes(
        new TakesJoin(settings, size, frames, loop.second!.offset ?? 0, second.facts!.frames),
        pictureOf,
        first,
        other,
      )
    : round(new LoopJoin(settings, size, frames, loop.fade ?? USUAL_FADE), pictureOf, first);
  const { length, pairs } = work.join;
  const told = (done: number) => context.progress(done, pairs + length);
  await work.prepare(told);
  mkdirSync(folder, { recursive: true });
  for (let index = 0; index < length; index++) {
    const file = join(folder, pictureName(index));
    if (!existsSync(file)) await writePicture(file, await work.make(index), colour);
    await told(pairs + index + 1);
  }
  const report: LoopReport = work.join.report();
  writeFileSync(join(folder, LOOP_REPORT), `${JSON.stringify(report)}\n`);
  if (output === 'png')
    return packPictures(folder, [0, length - 1], document.firstFrameNumber ?? plate.facts.firstFrameNumber, 'png', [
      LOOP_REPORT,
    ]);
  // Pictures of a plate in floating point are written for a display; other codes stay the plate's.
  return packFilm(folder, 0, { ...plate.facts, colour: peakOf(layout) === 1 ? DISPLAY_COLOUR : colour });
}

type Take = ReturnType<typeof taken>;

/** The end over the beginning. */
const round = (join: LoopJoin, pictureOf: PictureOf, { luma }: Take) => ({
  join,
  make: (index: number) => join.make(index, pictureOf),
  prepare: async (told: (done: number) => Promise<void>) => {
    await join.prepare(luma, told);
    await join.measureJump(pictureOf);
  },
});

/** Two takes side by side. */
const takes = (join: TakesJoin, pictureOf: PictureOf, first: Take, second: Take) => ({
  join,
  make: (index: number) => join.make(index, pictureOf, second.picture),
  prepare: async (told: (done: number) => Promise<void>) => {
    await join.prepare(first.luma, second.luma, told);
    await join.measureJump(pictureOf, second.picture);
  },
});

/** A take's frames. */
function taken(media: StoredMedia, context: JobContext<'loop'>) {
  const store = openFrames(context.folders, media);
  const { layout, colour } = media.facts!;
  const raw = (frame: number) => {
    context.check();
    return store.readRaw(frame);
  };
  return {
    picture: async (frame: number) => pictureFromRaw(await raw(frame), layout),
    luma: async (frame: number) => codedLuma(await raw(frame), layout, colour.transfer),
  };
}
