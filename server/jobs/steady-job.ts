import { existsSync, mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Homography } from '../../core/base/geometry/homography.ts';
import { DISPLAY_COLOUR } from '../../core/base/image/plate-colour.ts';
import { peakOf, pictureFromRaw } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { Shot, ShotDocument } from '../../core/base/schemas/types.ts';
import { steadyFile } from '../../core/motion/steady/steady-file.ts';
import { cropFilled, steadyFrame } from '../../core/motion/steady/stabilised-frame.ts';
import { choiceOf, steadiedSurface, steadyOf } from '../../core/motion/steady/steadied-luma.ts';
import type { Queryable } from '../database/connection.ts';
import { findMedia } from '../database/media.ts';
import { readMotion } from '../database/motion-source.ts';
import { findShot } from '../database/shots.ts';
import { writePicture, writeTransparentPng } from '../media/encode.ts';
import { openFrames } from '../media/stored-frames.ts';
import { zipFiles } from '../media/zip-files.ts';
import type { JobContext } from './job-context.ts';
import { packFilm, packPictures, pictureName } from './pack-frames.ts';
import { mapsOf } from './seating.ts';

/** How each frame was moved, for leading back what is made on the clip. */
const MAPS = 'steady.json';

/** Where each frame of a shot's plate goes as it is steadied by the shot's own motion. @throws Problem no-plate, no-track */
export async function steadyingOf(db: Queryable, shot: Shot, document: ShotDocument): Promise<Map<number, Homography>> {
  if (!shot.plate?.facts) throw new Problem('no-plate');
  const corners = steadiedSurface(document);
  const maps = corners
    ? steadyOf(document.steady, corners, mapsOf(await readMotion(db, shot, document)), shot.plate.facts.frames)
    : new Map<number, Homography>();
  if (maps.size === 0) throw new Problem('no-track');
  return maps;
}

/**
 * Writes a plate with its surface's motion taken out: each frame sampled once, then packed with how it was moved. A frame whose picture is there already
 * is not made again. Returns the name of the finished file in the job's folder.
 */
export async function steadyClip(context: JobContext<'steady'>): Promise<string> {
  const { db, job } = context;
  const {
    document,
    frames: [first, last],
    output,
    outside,
  } = job.params;
  const shot = await findShot(db, job.shotId!);
  const plate = shot?.plate && (await findMedia(db, shot.plate.id));
  if (!shot || !plate?.facts) throw new Problem('no-plate');
  const { width, height, layout, colour, firstFrameNumber } = plate.facts;
  const store = openFrames(context.folders, plate);
  const found = await steadyingOf(db, shot, document);
  const asked = new Map([...found].filter(([frame]) => frame >= first && frame <= last));
  const maps = outside === 'crop' ? cropFilled(asked, width, height).maps : asked;
  const folder = join(context.folders.renders, String(job.id));
  mkdirSync(folder, { recursive: true });
  for (let frame = first; frame <= last; frame++) {
    const file = join(folder, pictureName(frame));
    if (!existsSync(file)) {
      const { picture, alpha } = steadyFrame(
        pictureFromRaw(await store.readRaw(frame), layout),
        maps.get(frame)!,
        width,
        height,
        outside === 'transparent' ? 'transparent' : 'fill',
        colour,
      );
      await (outside === 'transparent'
        ? writeTransparentPng(file, picture, alpha, colour)
        : writePicture(file, picture, colour));
    }
    await context.progress(frame - first + 1, last - first + 1);
  }
  writeFileSync(
    join(folder, MAPS),
    `${JSON.stringify(steadyFile(maps, 'half', choiceOf(document.steady), width, height), null, 1)}\n`,
  );
  if (output === 'png')
    return packPictures(folder, [first, last], document.firstFrameNumber ?? firstFrameNumber, 'png', [MAPS]);
  // Pictures of a plate in floating point are written for a display; other codes stay the plate's.
  const film = await packFilm(folder, first, {
    ...plate.facts,
    colour: peakOf(layout) === 1 ? DISPLAY_COLOUR : colour,
  });
  const part = join(folder, 'steadied.part.zip');
  await zipFiles(part, [
    { name: 'steadied.mp4', file: join(folder, film) },
    { name: MAPS, file: join(folder, MAPS) },
  ]);
  renameSync(part, join(folder, 'steadied.zip'));
  return 'steadied.zip';
}
