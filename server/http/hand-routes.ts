import { Router } from 'express';
import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import { codedLuma } from '../../core/base/image/raw-frame.ts';
import { checkKeys } from '../../core/motion/keys/hand-keys.ts';
import { checkPoints, judgePoint, warningOf } from '../../core/motion/points/check-points.ts';
import { pointsFrom } from '../../core/motion/points/points-track.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { PointJudgements, PointsRequest, Shot, ShotDocument, SpliceReply } from '../../core/base/schemas/types.ts';
import { folders, type Config } from '../config.ts';
import { transaction, type Database } from '../database/connection.ts';
import { firstCut } from '../database/checks.ts';
import { readDocument } from '../database/documents.ts';
import { clearPoint, clearPulled, pointChanges, pulledChanges, readPoints } from '../database/hand-motion.ts';
import { findJob, insertJob, jobReply } from '../database/jobs.ts';
import { findMedia, type StoredMedia } from '../database/media.ts';
import { splicedMotion } from '../database/motion-source.ts';
import { runKeyOf } from '../database/run-key.ts';
import { findShot } from '../database/shots.ts';
import { openFrames } from '../media/stored-frames.ts';
import { refuseWhileRunning } from './job-routes.ts';
import { found, route } from './route.ts';

interface Open {
  readonly shot: Shot;
  readonly document: ShotDocument;
  readonly plate: StoredMedia;
  readonly runKey: string;
}

async function openShot(db: Database, id: number): Promise<Open> {
  const shot = found(await findShot(db, id), 'shot', id);
  const document = await readDocument(db, shot.id, shot.revision);
  const plate = shot.plate && (await findMedia(db, shot.plate.id));
  if (!plate?.facts) throw new Problem('no-plate');
  if (plate.state === 'cleared') throw new Problem('frames-cleared', { name: plate.name });
  return { shot, document, plate, runKey: runKeyOf(document, plate.id) };
}

const WHERE = 'this shot';

/** Queues a run of corner points. What was found of them in the span before goes, but for spans that are kept. */
export async function startPoints(
  db: Database,
  shotId: number,
  { direction, names: asked, frames: span, from }: PointsRequest,
  dataFolder: string,
): Promise<number> {
  const { shot, document, plate, runKey } = await openShot(db, shotId);
  const facts = plate.facts!;
  const points = pointsFrom(document.cornerPoints ?? [], facts.width);
  const last = facts.frames - 1;
  checkPoints(points, WHERE);
  const names = asked ?? points.map((p) => p.name);
  const unknown = names.find((name) => !points.some((p) => p.name === name));
  if (unknown !== undefined || names.length === 0)
    throw new Problem('not-found', { thing: 'point', id: unknown ?? '(none)' });
  const start = from ?? document.referenceFrame;
  for (const [frame, where] of [
    [document.referenceFrame, 'the reference'],
    [start, 'the start'],
  ] as const)
    if (frame > last) throw new Problem('frame-outside', { where, frame, last });
  const wanted = span ?? document.range ?? [0, last];
  if (wanted[0] > wanted[1]) throw new Problem('bad-range', { where: 'the span', range: wanted.join('-') });
  if (wanted[1] > last) throw new Problem('frame-outside', { where: 'the span', frame: wanted[1], last });
  const frames: [number, number] = [
    direction === 'forward' ? Math.max(start + 1, wanted[0]) : wanted[0],
    direction === 'backward' ? Math.min(start - 1, wanted[1]) : wanted[1],
  ];
  if (frames[0] > frames[1]) throw new Problem('bad-range', { where: 'the span', range: frames.join('-') });
  await refuseAcrossCut(db, plate.id, [Math.min(start, frames[0]), Math.max(start, frames[1])]);
  if (from !== undefined && from !== document.referenceFrame) {
    const keyed = (name: string) =>
      document.cornerPoints?.some((p) => p.name === name && p.keys?.some((k) => k.frame === from));
    const rows = (await readPoints(db, shot.id, runKey)).filter((r) => r.frame === from && r.at);
    const missing = names.filter((name) => !keyed(name) && !rows.some((r) => r.name === name));
    if (missing.length === names.length) throw new Problem('not-followed', { frame: from });
  }
  const reference = await lumaOf(plate, dataFolder, document.referenceFrame);
  for (const point of points)
    if (names.includes(point.name)) judgePoint(point, reference, document.referenceFrame, WHERE);
  await refuseWhileRunning(db, shot.id);
  return transaction(db, async (connection) => {
    for (const name of names)
      await clearPoint(
        connection,
        shot.id,
        name,
        runKey,
        frames,
        document.cornerPoints?.find((p) => p.name === name)?.keep,
      );
    return insertJob(connection, {
      kind: 'points',
      projectId: shot.projectId,
      shotId: shot.id,
      params: { direction, names, frames, ...(from === undefined ? {} : { from }), document, runKey },
      total: frames[1] - frames[0] + 1,
    });
  });
}

/** What lies beyond a cut is another picture. */
async function refuseAcrossCut(db: Database, plateId: number, span: readonly [number, number]): Promise<void> {
  const frame = await firstCut(db, plateId, span);
  if (frame !== null) throw new Problem('crosses-cut', { where: 'the span', frame });
}

async function lumaOf(plate: StoredMedia, dataFolder: string, frame: number): Promise<LumaFrame> {
  const { layout, colour } = plate.facts!;
  return codedLuma(await openFrames(folders(dataFolder), plate).readRaw(frame), layout, colour.transfer);
}

/** Queues a pull of the frames between hand keys onto the picture: from the first key to the last, and as far as spans of keys reach. */
export async function startPull(db: Database, shotId: number): Promise<number> {
  const { shot, document, plate, runKey } = await openShot(db, shotId);
  const keys = document.handKeys ?? [];
  const last = plate.facts!.frames - 1;
  if (!document.corners) throw new Problem('no-corners');
  checkKeys(keys, WHERE);
  for (const { frame } of keys)
    if (frame > last) throw new Problem('frame-outside', { where: 'the keys', frame, last });
  const spans = (document.spans ?? []).filter((s) => s.source === 'keys');
  const frames: [number, number] = [
    Math.min(...keys.map((k) => k.frame), ...spans.map((s) => s.from)),
    Math.min(last, Math.max(...keys.map((k) => k.frame), ...spans.map((s) => s.to))),
  ];
  await refuseAcrossCut(db, plate.id, frames);
  await refuseWhileRunning(db, shot.id);
  return transaction(db, async (connection) => {
    await clearPulled(connection, shot.id, runKey, frames);
    return insertJob(connection, {
      kind: 'pull',
      projectId: shot.projectId,
      shotId: shot.id,
      params: { frames, document, runKey },
      total: frames[1] - frames[0] + 1,
    });
  });
}

/** Motion made by hand: corner points, and keyed corners pulled onto the picture. */
export function handRoutes(db: Database, config: Config): Router {
  const router = Router();
  const reply = async (id: number) => jobReply(found(await findJob(db, id), 'job', id));
  const afterOf = (after: unknown) => (Number.isSafeInteger(Number(after)) && Number(after) >= 0 ? Number(after) : 0);

  route(router, 'post', '/shots/:id/points', { body: 'pointsRequest', reply: 'apiJob' }, async ({ id, body }) =>
    reply(await startPoints(db, id(), body, config.dataFolder)),
  );
  route(router, 'get', '/shots/:id/points', { reply: 'pointRows' }, async ({ id, req }) => {
    const { shot, runKey } = await openShot(db, id());
    return pointChanges(db, shot.id, runKey, afterOf(req.query.after ?? 0));
  });
  /** How well each point's pattern holds, before anything is followed. */
  route(router, 'get', '/shots/:id/points/hold', { reply: 'pointJudgements' }, async ({ id }) => {
    const { document, plate } = await openShot(db, id());
    const points = pointsFrom(document.cornerPoints ?? [], plate.facts!.width);
    const reference = await lumaOf(plate, config.dataFolder, document.referenceFrame);
    return points.map((point): PointJudgements[number] => {
      try {
        const quality = judgePoint(point, reference, document.referenceFrame, WHERE);
        return { name: point.name, hold: quality.hold, warning: warningOf(point.name, quality) };
      } catch (error) {
        if (!(error instanceof Problem)) throw error;
        return { name: point.name, hold: error.code === 'point-outside' ? 'outside' : 'flat', warning: error.sentence };
      }
    });
  });
  /** How far the spans' sources are apart at each join. */
  route(router, 'get', '/shots/:id/joins', { reply: 'spliceReply' }, async ({ id }) => {
    const { shot, document } = await openShot(db, id());
    const { joins, why } = await splicedMotion(db, shot, document);
    return {
      joins: joins.map(({ frame, jump, fade }): SpliceReply['joins'][number] => ({
        frame,
        jump,
        fade: fade && [fade[0], fade[1]],
      })),
      why,
    };
  });
  route(router, 'post', '/shots/:id/pull', { reply: 'apiJob' }, async ({ id }) => reply(await startPull(db, id())));
  route(router, 'get', '/shots/:id/pull', { reply: 'pulledRows' }, async ({ id, req }) => {
    const { shot, runKey } = await openShot(db, id());
    return pulledChanges(db, shot.id, runKey, afterOf(req.query.after ?? 0));
  });
  return router;
}
