import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { DISPLAY_COLOUR } from '../../core/image/plate-colour.ts';
import { peakOf } from '../../core/image/raw-frame.ts';
import { Problem } from '../../core/problem/problem.ts';
import { markFrameRendered } from '../database/jobs.ts';
import { findMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import { readMotion } from '../database/motion-source.ts';
import { writePicture } from '../media/encode.ts';
import type { JobContext } from './job-context.ts';
import { packFilm, packPictures, pictureName } from './pack-frames.ts';
import { ShotCompositor } from './shot-compositor.ts';

/**
 * Renders a span frame by frame to PNG, then packs the pictures into what was asked for. A frame whose
 * picture is there already is not rendered again. Returns the name of the finished file in the job's folder.
 */
export async function render(context: JobContext<'render'>): Promise<string> {
  const { db, job } = context;
  const { document, frames: [first, last], output } = job.params;
  const shot = await findShot(db, job.shotId!);
  const plate = shot?.plate && (await findMedia(db, shot.plate.id));
  if (!shot || !plate?.facts) throw new Problem('no-plate');
  if (!document.corners) throw new Problem('no-corners');
  const track = await readMotion(db, shot, document), compositor = await ShotCompositor.open(db, shot, { document, plate, track, folders: context.folders });
  const folder = join(context.folders.renders, String(job.id));
  mkdirSync(folder, { recursive: true });
  const total = last - first + 1;
  const { colour } = plate.facts;
  const ending = output === 'exr' ? 'exr' : 'png';
  for (let frame = first; frame <= last; frame++) {
    const file = join(folder, pictureName(frame, ending));
    if (!existsSync(file)) await writePicture(file, await compositor.compose(frame, 'final'), colour);
    await markFrameRendered(db, job.id, frame);
    await context.progress(frame - first + 1, total);
  }
  const firstNumber = document.firstFrameNumber ?? plate.facts.firstFrameNumber;
  // Pictures of a plate in floating point are written for a display; other codes stay the plate's.
  const shown = peakOf(plate.facts.layout) === 1 ? DISPLAY_COLOUR : colour;
  return output === 'mp4' ? packFilm(folder, first, { ...plate.facts, colour: shown }) : packPictures(folder, [first, last], firstNumber, ending);
}
