import { Router } from 'express';
import { findOffset } from '../../core/motion/plate/find-offset.ts';
import { moveDocument, moveHomography, moveWarnings, plateMove } from '../../core/motion/plate/move-work.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { PlateFit, Shot } from '../../core/base/schemas/types.ts';
import { folders, type Config } from '../config.ts';
import { transaction, type Database } from '../database/connection.ts';
import { readDocument, saveDocumentIn } from '../database/documents.ts';
import { hasOpenJob, SHOT_WORK } from '../database/jobs.ts';
import { findMedia, type StoredMedia } from '../database/media.ts';
import { plateFacts } from '../media/plate-facts.ts';
import { runKeyOf } from '../database/run-key.ts';
import { findShot, setShotPlate } from '../database/shots.ts';
import { replaceTrack } from '../database/tracks.ts';
import { openFrames } from '../media/stored-frames.ts';
import { thumbnails } from '../media/thumbnails.ts';
import { route } from './route.ts';
import { found } from '../database/found.ts';

/** A shot's plate: chosen, or replaced by another version under all the work done. */
export function plateRoutes(db: Database, config: Config): Router {
  const router = Router();
  const places = folders(config.dataFolder);
  const shotOf = async (id: number) => found(await findShot(db, id), 'shot', id);
  const mediumOf = async (id: number, projectId: number): Promise<StoredMedia> => {
    const medium = found(await findMedia(db, id), 'medium', id);
    if (medium.projectId !== projectId) throw new Problem('not-found', { thing: 'medium', id });
    return medium;
  };
  const refuseWhileRunning = async (id: number) => {
    const open = await hasOpenJob(db, id, SHOT_WORK);
    if (open) throw new Problem('job-running', { kind: open });
  };
  /** Old and new plate, both with frames to look at. */
  const pair = async (shot: Shot, mediaId: number) => {
    const old = shot.plate && (await findMedia(db, shot.plate.id));
    const fresh = await mediumOf(mediaId, shot.projectId);
    if (!old?.facts || !old.frames) throw new Problem('no-plate');
    if (fresh.state !== 'ready' || !fresh.facts || !fresh.frames)
      throw new Problem('not-found', { thing: 'picture of medium', id: mediaId });
    return { old, fresh, oldFacts: plateFacts(old.facts, old.frames), newFacts: plateFacts(fresh.facts, fresh.frames) };
  };

  route(router, 'put', '/shots/:id/plate', { body: 'choosePlate', reply: 'shot' }, async ({ id, body }) => {
    const shot = await shotOf(id());
    await mediumOf(body.mediaId, shot.projectId);
    await refuseWhileRunning(id());
    await setShotPlate(db, id(), body.mediaId);
    return shotOf(id());
  });

  route(router, 'get', '/shots/:id/plate-fit', { reply: 'replaceQuery' }, async ({ id, req }): Promise<PlateFit> => {
    const shot = await shotOf(id());
    const { old, fresh, oldFacts, newFacts } = await pair(shot, Number(req.query.media));
    const given = req.query.offset === undefined ? null : Number(req.query.offset);
    if (given !== null && !Number.isSafeInteger(given))
      throw new Problem('bad-field', { where: 'the address', field: 'offset', why: 'is not a whole number' });
    const match =
      given === null && old.state === 'ready'
        ? findOffset(
            await thumbnails(openFrames(places, old), old.frames!),
            await thumbnails(openFrames(places, fresh), fresh.frames!),
          )
        : null;
    const offset = given ?? (match?.distinct ? match.offset : oldFacts.firstFrameNumber - newFacts.firstFrameNumber);
    const document = await readDocument(db, shot.id, shot.revision);
    return {
      mediaId: fresh.id,
      offset,
      found: match?.distinct ?? false,
      score: match?.score ?? 0,
      scale: plateMove(oldFacts, newFacts, offset).scaleX,
      warnings: moveWarnings(document, oldFacts, newFacts, offset),
    };
  });

  route(router, 'put', '/shots/:id/plate/replace', { body: 'replacePlate', reply: 'shot' }, async ({ id, body }) => {
    const shot = await shotOf(id());
    const { old, oldFacts, newFacts, fresh } = await pair(shot, body.mediaId);
    await refuseWhileRunning(id());
    const document = await readDocument(db, shot.id, shot.revision);
    const reference = document.referenceFrame + body.offset;
    if (reference < 0 || reference >= newFacts.frames)
      throw new Problem('frame-outside', {
        where: 'the reference on the new plate',
        frame: reference,
        last: newFacts.frames - 1,
      });
    const move = plateMove(oldFacts, newFacts, body.offset);
    const moved = moveDocument(document, move, newFacts.frames);
    const keys = { from: runKeyOf(document, old.id), to: runKeyOf(moved, fresh.id) };
    await transaction(db, async (connection) => {
      await saveDocumentIn(connection, shot.id, body.base, moved);
      await setShotPlate(connection, shot.id, fresh.id);
      await replaceTrack(connection, shot.id, (row) => {
        const frame = row.frame + body.offset;
        if (frame < 0 || frame >= newFacts.frames) return null;
        const scale = Math.sqrt(move.scaleX * move.scaleY);
        return {
          ...row,
          frame,
          runKey: row.runKey === keys.from ? keys.to : row.runKey,
          homography: row.homography && (moveHomography(row.homography, move) as typeof row.homography),
          error: row.error === null ? null : row.error * scale,
          blur: row.blur * scale,
        };
      });
    });
    return shotOf(id());
  });
  return router;
}
