import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { flatBoard } from '../../core/picture/board/flat-board.ts';
import { renderBoard } from '../../core/picture/board/render-board.ts';
import { NEUTRAL_LOOK } from '../../core/picture/look/look.ts';
import { DISPLAY_COLOUR } from '../../core/base/image/plate-colour.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { findMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import { writePicture } from '../media/encode.ts';
import type { JobContext } from './job-context.ts';
import { packFilm, pictureName } from './pack-frames.ts';
import { openFrames } from '../media/stored-frames.ts';
import { plannedBoardMedia } from '../send/render-plan.ts';
import { boardSources } from '../send/shown-media.ts';

/**
 * Writes a shot's board as a clip of its own size, at the plate's rate, without the look of the plate. A frame whose picture is there already is not drawn
 * again. Returns the name of the finished file in the job's folder.
 */
export async function boardClip(context: JobContext<'board'>): Promise<string> {
  const { db, job } = context;
  const {
    board,
    frames: [first, last],
  } = job.params;
  const shot = await findShot(db, job.shotId!);
  const plate = shot?.plate && (await findMedia(db, shot.plate.id));
  if (!shot || !plate?.facts) throw new Problem('no-plate');
  const { levels } = NEUTRAL_LOOK;
  const { rate } = plate.facts;
  const media = await plannedBoardMedia(db, board);
  const folder = join(context.folders.renders, String(job.id));
  const sources = boardSources(board, levels, {
    media: new Map(media.map((medium) => [medium.id, medium])),
    store: (medium) => openFrames(context.folders, { ...medium, lut: null }),
    plateRate: rate,
  });
  mkdirSync(folder, { recursive: true });
  for (let frame = first; frame <= last; frame++) {
    const file = join(folder, pictureName(frame));
    if (!existsSync(file)) {
      const { width, height, rgba } = flatBoard(await renderBoard(board, frame, sources, levels));
      const data = new Uint8Array(width * height * 3);
      // What a board leaves free is black in a clip.
      for (let i = 0, at = 0; i < data.length; i += 3, at += 4)
        for (let c = 0; c < 3; c++) data[i + c] = (rgba[at + c]! * rgba[at + 3]!) / 255;
      await writePicture(file, { width, height, data, peak: 255 }, DISPLAY_COLOUR);
    }
    await context.progress(frame - first + 1, last - first + 1);
  }
  return packFilm(folder, first, { rate, colour: DISPLAY_COLOUR });
}
