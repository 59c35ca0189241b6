import { Router, type Request } from 'express';
import { checkShotLoop } from '../../core/picture/loop/shot-loop.ts';
import { checkLook } from '../../core/picture/composite/check-look.ts';
import { needsMeasuring } from '../../core/picture/look/look.ts';
import { checkCorners, checkOutlines } from '../../core/motion/follow/check-job.ts';
import { checkKeys } from '../../core/motion/keys/hand-keys.ts';
import { orderedSpans } from '../../core/motion/splice/splice-spans.ts';
import { meanDisagreement } from '../../core/motion/follow/disagreement.ts';
import { checkLens } from '../../core/motion/lens/check-lens.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { Shot, ShotDocument } from '../../core/base/schemas/types.ts';
import type { Database } from '../database/connection.ts';
import { readDisagreement } from '../database/disagreements.ts';
import { listRevisions, readDocument, saveDocument } from '../database/documents.ts';
import { findProject } from '../database/projects.ts';
import { findShot } from '../database/shots.ts';
import { checkOther, checkRide, checkSpanSource, motionChanges, ridable } from '../database/motion-source.ts';
import { route, rowNumber } from './route.ts';
import { found } from '../database/found.ts';
import { runKeyOf } from '../database/run-key.ts';

/** One shot: its document and revisions, its track, its data to hand on. */
export function shotRoutes(db: Database): Router {
  const router = Router();
  const shotOf = async (id: number) => found(await findShot(db, id), 'shot', id);
  const detail = async (shot: Shot) => {
    const document = await readDocument(db, shot.id, shot.revision);
    return {
      shot,
      document,
      project: found(await findProject(db, shot.projectId), 'project', shot.projectId),
      runKey: runKeyOf(document, shot.plate?.id ?? null),
    };
  };

  route(router, 'get', '/shots/:id', { reply: 'shotDetail' }, async ({ id }) => detail(await shotOf(id())));
  route(router, 'get', '/shots/:id/document', { reply: 'documentReply' }, async ({ id, res }) => {
    const shot = await shotOf(id());
    res.set('ETag', entityTag(shot.revision));
    return { revision: shot.revision, document: await readDocument(db, shot.id, shot.revision) };
  });

  route(
    router,
    'put',
    '/shots/:id/document',
    { body: 'saveDocument', reply: 'saved' },
    async ({ id, body, req, res }) => {
      const shot = await shotOf(id());
      checkMatch(req, shot.revision);
      checkDocument(body.document);
      const { rides } = body.document;
      for (const { source, shot: other } of body.document.spans ?? [])
        if (source === 'shot') await checkSpanSource(db, shot, other);
      for (const { shot: other } of body.document.others ?? []) await checkOther(db, shot, other);
      if (rides !== undefined && rides !== (await readDocument(db, shot.id, shot.revision)).rides)
        await checkRide(db, shot, rides);
      const revision = await saveDocument(db, id(), body.base, body.document);
      res.set('ETag', entityTag(revision));
      return { revision, runKey: runKeyOf(body.document, shot.plate?.id ?? null) };
    },
  );
  route(router, 'get', '/shots/:id/revisions', { reply: 'revisions' }, async ({ id }) => {
    await shotOf(id());
    return listRevisions(db, id());
  });
  route(router, 'post', '/shots/:id/revisions/:revision/restore', { reply: 'shotDetail' }, async ({ id, req }) => {
    const shot = await shotOf(id());
    const document = await readDocument(db, id(), rowNumber(req, 'revision'));
    await saveDocument(db, id(), shot.revision, document);
    return detail(await shotOf(id()));
  });

  route(router, 'get', '/shots/:id/track', { reply: 'trackRows' }, async ({ id, req }) => {
    const shot = await shotOf(id());
    const after = Number(req.query.after ?? 0);
    return motionChanges(
      db,
      shot,
      await readDocument(db, shot.id, shot.revision),
      Number.isSafeInteger(after) && after >= 0 ? after : 0,
    );
  });
  route(router, 'get', '/shots/:id/disagreement', { reply: 'disagreementReply' }, async ({ id, req }) => {
    const shot = await shotOf(id());
    const document = await readDocument(db, shot.id, shot.revision);
    const [from, to] = spanOf(req.query.frames);
    const seen = await readDisagreement(db, shot.id, runKeyOf(document, shot.plate?.id ?? null), from, to);
    return { frames: seen.length, mean: meanDisagreement(seen) };
  });
  route(router, 'get', '/shots/:id/ridable', { reply: 'shots' }, async ({ id }) => ridable(db, await shotOf(id())));

  return router;
}

const entityTag = (revision: number): string => `"${revision}"`;

/** RFC 9110, section 13.1.1: with If-Match the change is made only to what it was meant for. */
function checkMatch(req: Request, current: number): void {
  const asked = req.get('If-Match');
  if (asked === undefined || asked.trim() === '*') return;
  if (!asked.split(',').some((tag) => tag.trim() === entityTag(current)))
    throw new Problem('changed-meanwhile', { current });
}

/** A span of frames as the address names it: `3-17`. */
function spanOf(frames: unknown): [number, number] {
  const [, from, to] = /^(\d{1,7})-(\d{1,7})$/.exec(typeof frames === 'string' ? frames : '') ?? [];
  if (from === undefined || Number(from) > Number(to))
    throw new Problem('bad-range', { where: 'the address', range: String(frames) });
  return [Number(from), Number(to)];
}

function checkDocument(document: ShotDocument): void {
  checkOutlines('regions', document.regions, 'the document');
  checkOutlines('keepOut', document.keepOut, 'the document');
  if (document.corners) checkCorners(document.corners, 'the document');
  checkLook(document.look, 'the document');
  if (needsMeasuring(document.look))
    throw new Problem('bad-field', {
      where: 'the document',
      field: 'look',
      why: 'asks for measured values; a shot holds the values themselves, as they were proposed',
    });
  if (document.look.lens !== undefined)
    throw new Problem('bad-field', {
      where: 'the document',
      field: 'look.lens',
      why: 'belongs beside the look: a shot has its lens as "lens"',
    });
  // The plate may come later: its middle is near the lens's.
  if (document.lens) checkLens(document.lens, 2 * document.lens.centre[0], 2 * document.lens.centre[1], 'the document');
  if (document.loop) checkShotLoop(document.loop, 'the document');
  if (document.handKeys?.length) checkKeys(document.handKeys, 'the document');
  if (document.spans?.length) orderedSpans(document.spans, 'the document');
  const names = (document.cornerPoints ?? []).map((p) => p.name);
  const twice = names.find((name, i) => names.indexOf(name) !== i);
  if (twice !== undefined) throw new Problem('point-named-twice', { where: 'the document', name: twice });
}
