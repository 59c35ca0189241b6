import { Router } from 'express';
import { surfaceRatio } from '../../core/picture/pin/surface-ratio.ts';
import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { compose, type Homography } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { framesToMeasure } from '../../core/picture/matte/frames-to-measure.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { movementOf } from '../../core/surface/seat/match-reference.ts';
import type { QuadCorners } from '../../core/base/schemas/types.ts';
import { SeatedCorners } from '../../core/surface/seat/seated-corners.ts';
import type { Config } from '../config.ts';
import type { Database } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { findJob, insertJob, jobReply } from '../database/jobs.ts';
import { findMedia, type StoredMedia } from '../database/media.ts';
import { readMotion } from '../database/motion-source.ts';
import { readSeatFrames, readSeatMeasure } from '../database/seats.ts';
import { findShot } from '../database/shots.ts';
import { mapsOf, rowBounds, seatingOf } from '../jobs/seating.ts';
import type { SeatWorker } from '../jobs/seat-worker.ts';
import { refuseWhileRunning } from './job-routes.ts';
import { found, route } from './route.ts';

/** A usual shutter, of the frame's time: how far a corner is smeared while it is open. */
const SHUTTER = 0.5;
/** A lens is estimated from the borders on so many frames; its unit is so many widths of the picture where no focal length is known. */
const LENS_FRAMES = 24;
const USUAL_FOCAL = 1.1;

/** Queues a look at the borders of a shot's surface on all frames that are followed. */
export async function startSeat(db: Database, shotId: number): Promise<number> {
  const shot = found(await findShot(db, shotId), 'shot', shotId);
  const document = await readDocument(db, shot.id, shot.revision);
  await plateOf(db, shot.plate?.id);
  if (!document.corners) throw new Problem('no-corners');
  const rows = (await readMotion(db, shot, document)).filter((row) => row.homography);
  if (rows.length === 0) throw new Problem('no-track');
  await refuseWhileRunning(db, shot.id);
  return insertJob(db, {
    kind: 'seat',
    projectId: shot.projectId,
    shotId: shot.id,
    params: { document },
    total: rows.length,
  });
}

async function plateOf(db: Database, id: number | undefined): Promise<StoredMedia> {
  const plate = id === undefined ? null : await findMedia(db, id);
  if (!plate?.facts) throw new Problem('no-plate');
  if (plate.state === 'cleared') throw new Problem('frames-cleared', { name: plate.name });
  return plate;
}

/** Where exactly the corners are: looking at the borders of all frames, snapping, matching to the reference. */
/** `looks` is a desk of its own: a look takes some seconds, and nobody's snap waits for it. */
export function seatRoutes(db: Database, config: Config, seatWorker: SeatWorker, looks: SeatWorker): Router {
  const router = Router();
  const shotOf = async (id: number) => {
    const shot = found(await findShot(db, id), 'shot', id);
    return { shot, document: await readDocument(db, shot.id, shot.revision) };
  };
  const checkFrame = (frame: number, plate: StoredMedia) => {
    if (frame >= plate.facts!.frames)
      throw new Problem('frame-outside', { where: 'the request', frame, last: plate.facts!.frames - 1 });
  };

  route(router, 'post', '/shots/:id/seat', { reply: 'apiJob' }, async ({ id }) => {
    const job = await startSeat(db, id());
    return jobReply(found(await findJob(db, job), 'job', job));
  });

  route(router, 'get', '/shots/:id/seat', { reply: 'seatReply' }, async ({ id }) => {
    const { shot, document } = await shotOf(id());
    const measure = await readSeatMeasure(db, shot.id);
    if (measure?.referenceFrame !== document.referenceFrame) return { measured: null, frames: [] };
    return {
      measured: { corners: measure.corners, borders: [...measure.borders], worth: measure.worth },
      frames: await readSeatFrames(db, shot.id, await readMotion(db, shot, document)),
    };
  });

  route(router, 'post', '/shots/:id/snap', { body: 'snapRequest', reply: 'snapReply' }, async ({ id, body }) => {
    const { shot, document } = await shotOf(id());
    const plate = await plateOf(db, shot.plate?.id);
    checkFrame(body.frame, plate);
    return seatWorker.snap({
      plate,
      dataFolder: config.dataFolder,
      frame: body.frame,
      corners: body.corners,
      border: body.border,
      lens: document.lens,
    });
  });

  route(router, 'post', '/shots/:id/match', { body: 'matchRequest', reply: 'matchReply' }, async ({ id, body }) => {
    const { shot, document } = await shotOf(id());
    const plate = await plateOf(db, shot.plate?.id);
    const { frame, corners } = body;
    checkFrame(frame, plate);
    if (!document.corners) throw new Problem('no-corners');
    const rows = await readMotion(db, shot, document);
    const maps = mapsOf(rows);
    const seated = new SeatedCorners({
      ...(await seatingOf(db, shot.id, document, rows)),
      smooth: 0,
      outset: undefined,
    });
    const reference = document.corners;
    const map = maps.get(frame);
    const now = seated.onReference(frame);
    const seat = homographyBetweenQuads(reference, now);
    if (!map || !seat) throw new Problem('not-followed', { frame });
    const at = (f: number) => {
      const there: Homography | undefined = maps.get(f);
      return there ? seated.at(f, there) : null;
    };
    const ways = (f: number, corner: number) =>
      movementOf(at(f - 1)?.[corner] ?? null, at(f + 1)?.[corner] ?? null, SHUTTER);
    return seatWorker.match({
      plate,
      dataFolder: config.dataFolder,
      referenceFrame: document.referenceFrame,
      frame,
      map: compose(map, seat),
      corners: corners.map((corner) => ({
        corner,
        place: reference[corner]!,
        onFrame: ways(frame, corner),
        onReference: ways(document.referenceFrame, corner),
      })),
    });
  });
  route(router, 'get', '/shots/:id/surface', { reply: 'surfaceReply' }, async ({ id }) => {
    const { shot, document } = await shotOf(id());
    if (!document.corners) return { shot: shot.id, name: shot.name, document, frames: [] };
    const rows = await readMotion(db, shot, document);
    const maps = mapsOf(rows);
    const seated = new SeatedCorners(await seatingOf(db, shot.id, document, rows));
    const byFrame = new Map(rows.map((row) => [row.frame, row]));
    const corners = seated.all(maps, (frame) => rowBounds(byFrame.get(frame)!, document.corners as Quad));
    return {
      shot: shot.id,
      name: shot.name,
      document,
      frames: [...corners].map(([frame, quad]) => ({ frame, corners: quad.map(([x, y]) => [x, y]) as QuadCorners })),
    };
  });

  route(router, 'post', '/shots/:id/look', { reply: 'lookReply' }, async ({ id }) => {
    const { shot, document } = await shotOf(id());
    const plate = await plateOf(db, shot.plate?.id);
    if (!document.corners) throw new Problem('no-corners');
    const rows = await readMotion(db, shot, document);
    const maps = mapsOf(rows);
    const seated = new SeatedCorners(await seatingOf(db, shot.id, document, rows));
    const byFrame = new Map(rows.map((row) => [row.frame, row]));
    const known = [...seated.all(maps, (frame) => rowBounds(byFrame.get(frame)!, document.corners as Quad))].map(
      ([frame, quad]) => ({ frame, quad }),
    );
    const frames = known.length > 0 ? known : [{ frame: document.referenceFrame, quad: document.corners as Quad }];
    const content = document.look.board || document.contentId === null ? null : await findMedia(db, document.contentId);
    return looks.look({
      plate,
      content: content?.state === 'ready' ? content : null,
      dataFolder: config.dataFolder,
      ratio: surfaceRatio(document),
      referenceFrame: document.referenceFrame,
      frames,
    });
  });

  /** What is looked at to tell what stands before a surface, and what is on it. */
  const surfaceTask = async (shotId: number) => {
    const { shot, document } = await shotOf(shotId);
    const plate = await plateOf(db, shot.plate?.id);
    if (!document.corners) throw new Problem('no-corners');
    const rows = await readMotion(db, shot, document);
    const maps = mapsOf(rows);
    const seated = new SeatedCorners(await seatingOf(db, shot.id, document, rows));
    const quadAt = (frame: number) => (maps.has(frame) ? seated.at(frame, maps.get(frame)!) : null);
    const known = framesToMeasure(
      [...maps.keys()].sort((a, b) => a - b),
      quadAt,
    ).flatMap((frame) => {
      const quad = quadAt(frame);
      return quad ? [{ frame, quad }] : [];
    });
    // A surface that was never followed is looked at on its reference frame.
    const frames = known.length > 0 ? known : [{ frame: document.referenceFrame, quad: document.corners as Quad }];
    return {
      plate,
      dataFolder: config.dataFolder,
      ratio: surfaceRatio(document),
      home: document.corners as Quad,
      referenceFrame: document.referenceFrame,
      frames,
      lens: document.lens,
    };
  };
  route(router, 'post', '/shots/:id/front', { reply: 'frontReply' }, async ({ id }) =>
    seatWorker.front(await surfaceTask(id())),
  );
  route(router, 'post', '/shots/:id/lens', { reply: 'lensLines' }, async ({ id }) => {
    const { shot, document } = await shotOf(id());
    const plate = await plateOf(db, shot.plate?.id);
    const drawn = (document.straightLines ?? []).map((line) => line.points);
    if (!document.corners && drawn.length === 0) throw new Problem('no-corners');
    const rows = document.corners ? await readMotion(db, shot, document) : [];
    const maps = mapsOf(rows);
    const known = [...maps.keys()].sort((a, b) => a - b);
    const n = Math.min(LENS_FRAMES, known.length);
    const seated = n > 0 ? new SeatedCorners(await seatingOf(db, shot.id, document, rows)) : null;
    const frames = Array.from({ length: n }, (_, k) => known[Math.floor(((k + 0.5) * known.length) / n)]!).flatMap(
      (frame) => {
        const quad = seated!.at(frame, maps.get(frame)!);
        return quad ? [{ frame, quad }] : [];
      },
    );
    // A surface that was never followed is looked at on its reference frame.
    const there =
      frames.length > 0 || !document.corners
        ? frames
        : [{ frame: document.referenceFrame, quad: document.corners as Quad }];
    return seatWorker.lens({
      plate,
      dataFolder: config.dataFolder,
      frames: there,
      drawn,
      focal: document.lens?.focal ?? document.focal ?? Math.round(USUAL_FOCAL * plate.facts!.width),
    });
  });
  route(router, 'post', '/shots/:id/marks', { reply: 'marksReply' }, async ({ id }) =>
    seatWorker.marks(await surfaceTask(id())),
  );
  return router;
}
