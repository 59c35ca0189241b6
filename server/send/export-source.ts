import type { ExportSource } from '../../core/handoff/exchange/export-formats.ts';
import { steadiedTrack } from '../../core/handoff/exchange/steadied-track.ts';
import { straightTrack } from '../../core/handoff/exchange/straight-track.ts';
import { writeTrack } from '../../core/handoff/exchange/track-file.ts';
import { withCornerRadius } from '../../core/picture/look/look.ts';
import { surfaceRatio } from '../../core/picture/pin/surface-ratio.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { ExportChoices, Shot, ShotDocument } from '../../core/base/schemas/types.ts';
import type { Queryable } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { findMedia } from '../database/media.ts';
import { placedRoom } from '../database/scene-motion.ts';
import { readMotion } from '../database/motion-source.ts';
import { steadyingOf } from '../jobs/steady-job.ts';
import { seatingOf } from '../jobs/seating.ts';

/** The room, where it is what carries the surface. */
async function roomOf(db: Queryable, shot: Shot, document: ShotDocument): Promise<ExportSource['room']> {
  const room = document.spans?.some((span) => span.source === 'scene')
    ? await placedRoom(db, shot.id, shot.plate?.id, document)
    : null;
  return room
    ? { file: room.file, size: document.proportions, upperSide: document.scene?.unit, placed: room }
    : undefined;
}

/** A shot as its data are handed on, as it stands now, in pixels of its plate, of that steadied, or of that without its lens. @throws Problem no-plate, no-corners, no-track */
export async function exportSource(
  db: Queryable,
  shot: Shot,
  picture: ExportChoices['picture'] = 'plate',
): Promise<ExportSource> {
  const document = await readDocument(db, shot.id, shot.revision);
  const facts = shot.plate?.facts;
  const content = document.contentId === null ? null : await findMedia(db, document.contentId);
  if (!facts) throw new Problem('no-plate');
  if (!document.corners) throw new Problem('no-corners');
  const rows = await readMotion(db, shot, document);
  if (rows.length === 0) throw new Problem('no-track');
  const onPlate = writeTrack(
    {
      pixelCentre: 'half',
      width: facts.width,
      height: facts.height,
      rate: facts.rate,
      referenceFrame: document.referenceFrame,
      corners: document.corners,
      firstFrameNumber: document.firstFrameNumber ?? facts.firstFrameNumber,
      seating: await seatingOf(db, shot.id, document, rows),
      lens: document.lens,
    },
    rows.map((row) => ({
      frame: row.frame,
      homography: row.homography,
      error: row.error ?? 0,
      confidence: row.confidence,
      ...(row.lost === null ? {} : { lost: row.lost }),
    })),
  );
  const track =
    picture === 'steadied'
      ? steadiedTrack(onPlate, await steadyingOf(db, shot, document))
      : picture === 'straight'
        ? straightTrack(onPlate)
        : onPlate;
  return {
    name: shot.name,
    track,
    look: withCornerRadius(document),
    plate: shot.plate!.name,
    content: content?.name,
    contentSize: content?.facts ? { width: content.facts.width, height: content.facts.height } : undefined,
    range: document.range,
    frames: facts.frames,
    focal: document.focal,
    ratio: document.look.proportions || document.proportions ? surfaceRatio(document) : undefined,
    room: await roomOf(db, shot, document),
  };
}
