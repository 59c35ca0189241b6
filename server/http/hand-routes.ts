import { Router } from 'express';
import { judgePoint, warningOf } from '../../core/motion/points/check-points.ts';
import { pointsFrom } from '../../core/motion/points/points-track.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { PointJudgements, SpliceReply } from '../../core/base/schemas/types.ts';
import { type Config } from '../config.ts';
import { type Database } from '../database/connection.ts';
import { pointChanges, pulledChanges } from '../database/hand-motion.ts';
import { findJob, jobReply } from '../database/jobs.ts';
import { splicedMotion } from '../database/motion-source.ts';
import { route } from './route.ts';
import { found } from '../database/found.ts';
import { openShot, WHERE } from '../use-cases/open-shot.ts';
import { lumaOf } from '../use-cases/reference-luma.ts';
import { startPoints } from '../use-cases/follow-points.ts';
import { startPull } from '../use-cases/pull-keys.ts';

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
