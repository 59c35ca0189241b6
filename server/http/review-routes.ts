import { LRUCache } from 'lru-cache';
import { Router, type Request } from 'express';
import { Problem } from '../../core/base/problem/problem.ts';
import type { GuestReview, ReviewVersion } from '../../core/base/schemas/types.ts';
import { hashOfLink, wrongLinks } from '../access/guest-links.ts';
import { hashOfSecret, newSecret } from '../access/secrets.ts';
import { folders, type Config } from '../config.ts';
import type { Database } from '../database/connection.ts';
import { findJob } from '../database/jobs.ts';
import { readPlan } from '../database/render-tasks.ts';
import {
  findReview,
  insertAnswer,
  insertNote,
  insertReview,
  listNotes,
  listReviews,
  listVersions,
  noteParts,
  openReview,
  revokeReview,
  settleNote,
} from '../database/reviews.ts';
import { findShot } from '../database/shots.ts';
import { fileOfKey } from '../send/finished-paths.ts';
import { FrameKeys } from '../send/frame-keys.ts';
import { lightPicture } from '../send/light-pictures.ts';
import { page } from './paging.ts';
import { route, rowNumber } from './route.ts';
import { found } from '../database/found.ts';

const DAY_MS = 86_400_000;

/** Versions of a shot beside one another, links by which somebody looks at them, and notes pinned to frame and place. */
export function reviewRoutes(db: Database, config: Config): Router {
  const router = Router();
  const { renders } = folders(config.dataFolder);
  const keys = new PlanKeys(db);
  const shotOf = async (id: number) => found(await findShot(db, id), 'shot', id);

  /** A frame of a version, light. */
  const picture = async (jobId: number, frame: number): Promise<Buffer> => {
    const key = (await keys.of(jobId)).of(frame, 'full').key;
    const file = fileOfKey(renders, key);
    if (!file)
      throw new Problem('version-frame-gone', {
        frame,
        version: (await findJob(db, jobId))?.render?.version ?? 0,
      });
    return lightPicture(renders, key, file);
  };

  route(router, 'get', '/shots/:id/versions', { reply: 'reviewVersions' }, async ({ id }) =>
    listVersions(db, (await shotOf(id())).id),
  );
  router.get('/jobs/:id/frames/:frame.jpg', async (req, res) => {
    const job = found(await findJob(db, rowNumber(req, 'id')), 'job', rowNumber(req, 'id'));
    const frame = rowNumber(req, 'frame');
    if (job.kind !== 'render') throw new Problem('not-found', { thing: 'frame of job', id: job.id });
    res
      .type('jpg')
      .set('Cache-Control', 'private, max-age=3600')
      .send(await picture(job.id, frame));
  });
  route(router, 'get', '/shots/:id/reviews', { reply: 'reviews' }, async ({ id }) =>
    listReviews(db, (await shotOf(id())).id),
  );
  route(router, 'post', '/shots/:id/reviews', { body: 'newReview', reply: 'madeReview' }, async ({ id, body }) => {
    const shot = await shotOf(id());
    const there = (await listVersions(db, shot.id)).map((version) => version.jobId);
    const secret = newSecret();
    if (body.versions.length === 0)
      throw new Problem('bad-field', { where: 'the request', field: 'versions', why: 'is empty' });
    for (const version of body.versions)
      if (!there.includes(version)) throw new Problem('not-found', { thing: 'finished version', id: version });
    const review = await insertReview(db, {
      shotId: shot.id,
      hash: hashOfSecret(secret),
      name: body.name,
      expiresAt: new Date(Date.now() + body.days * DAY_MS),
      versions: [...new Set(body.versions)],
    });
    return { secret, review: found(await findReview(db, review), 'review', review) };
  });
  route(router, 'delete', '/reviews/:id', { reply: 'reviews' }, async ({ id }) => {
    const review = found(await findReview(db, id()), 'review', id());
    await revokeReview(db, review.id);
    return listReviews(db, review.shotId);
  });
  route(router, 'get', '/shots/:id/notes', { reply: 'notes' }, async ({ id, req, res }) =>
    page(req, res, await listNotes(db, (await shotOf(id())).id)),
  );
  route(router, 'post', '/shots/:id/notes', { body: 'newNote', reply: 'notes' }, async ({ id, body }) => {
    const shot = await shotOf(id());
    onOneOf(await listVersions(db, shot.id), body.jobId, body.frame);
    await insertNote(db, shot.id, null, body);
    return listNotes(db, shot.id);
  });
  route(router, 'post', '/notes/:id/answers', { body: 'newAnswer', reply: 'notes' }, async ({ id, body }) => {
    const { shotId } = found(await noteParts(db, id()), 'note', id());
    await insertAnswer(db, id(), body.author, body.words);
    return listNotes(db, shotId);
  });
  route(router, 'put', '/notes/:id/settled', { body: 'settle', reply: 'notes' }, async ({ id, body }) => {
    const { shotId } = found(await noteParts(db, id()), 'note', id());
    await settleNote(db, id(), body.settled);
    return listNotes(db, shotId);
  });

  router.use('/guest/reviews', wrongLinks());
  const open = async (req: Request) => {
    const review = await openReview(db, hashOfLink(req));
    const shot = review && (await findShot(db, review.shotId));
    if (!review || !shot?.plate?.facts) throw new Problem('link-gone');
    return {
      review,
      shot,
      facts: shot.plate.facts,
      versions: (await listVersions(db, shot.id)).filter((version) => review.versions.includes(version.jobId)),
    };
  };
  const reply = async (req: Request): Promise<GuestReview> => {
    const { review, shot, facts, versions } = await open(req);
    return {
      name: review.name,
      shot: shot.name,
      first: facts.firstFrameNumber,
      rate: facts.rate[0] / facts.rate[1],
      width: facts.width,
      height: facts.height,
      expiresAt: review.expiresAt,
      versions,
      notes: await listNotes(db, shot.id, review.versions),
    };
  };
  route(router, 'get', '/guest/reviews/:secret', { reply: 'guestReview' }, ({ req }) => reply(req));
  router.get('/guest/reviews/:secret/versions/:version/frames/:frame.jpg', async (req, res) => {
    const { versions } = await open(req);
    const version = rowNumber(req, 'version');
    const frame = rowNumber(req, 'frame');
    onOneOf(versions, version, frame);
    res
      .type('jpg')
      .set('Cache-Control', 'private, max-age=3600')
      .send(await picture(version, frame));
  });
  route(
    router,
    'post',
    '/guest/reviews/:secret/notes',
    { body: 'newNote', reply: 'guestReview' },
    async ({ req, body }) => {
      const { review, versions } = await open(req);
      onOneOf(versions, body.jobId, body.frame);
      await insertNote(db, review.shotId, review.id, body);
      return reply(req);
    },
  );
  route(
    router,
    'post',
    '/guest/reviews/:secret/notes/:id/answers',
    { body: 'newAnswer', reply: 'guestReview' },
    async ({ req, id, body }) => {
      const { review } = await open(req);
      const note = await noteParts(db, id());
      if (!note || note.shotId !== review.shotId || !review.versions.includes(note.jobId))
        throw new Problem('not-found', { thing: 'note', id: id() });
      await insertAnswer(db, id(), body.author, body.words);
      return reply(req);
    },
  );
  return router;
}

/** A note is on a frame that a version has. @throws Problem */
function onOneOf(versions: readonly ReviewVersion[], jobId: number, frame: number): void {
  const version = found(
    versions.find((one) => one.jobId === jobId),
    'finished version',
    jobId,
  );
  if (frame < version.frames[0] || frame > version.frames[1])
    throw new Problem('frame-outside', { where: 'this version', frame, last: version.frames[1] });
}

/** Frame names of plans. A render's plan never changes, and is long to read: a few are kept. */
class PlanKeys {
  private readonly kept = new LRUCache<number, Promise<FrameKeys>>({ max: 8 });

  constructor(private readonly db: Database) {}

  of(jobId: number): Promise<FrameKeys> {
    let keys = this.kept.get(jobId);
    if (!keys) {
      keys = readPlan(this.db, jobId).then((plan) => new FrameKeys(plan));
      keys.catch(() => this.kept.delete(jobId));
      this.kept.set(jobId, keys);
    }
    return keys;
  }
}
