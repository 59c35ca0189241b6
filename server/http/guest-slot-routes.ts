import { Router, type Request } from 'express';
import { join } from 'node:path';
import { framingOfGuest, guestFraming } from '../../core/handoff/variants/variant-document.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { GuestSlot, Shot, Slot, Variant } from '../../core/base/schemas/types.ts';
import { hashOfLink, wrongLinks } from '../access/guest-links.ts';
import { folders, type Config } from '../config.ts';
import { transaction, type Database } from '../database/connection.ts';
import { openVariantFrames, requestStop } from '../database/jobs.ts';
import { readPlan } from '../database/render-tasks.ts';
import { findMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import { giveToSlot, openSlot, takeFromSlot } from '../database/slots.ts';
import { changeVariant, findVariant } from '../database/variants.ts';
import { readDocument } from '../database/documents.ts';
import { storeUpload } from '../media/uploads.ts';
import { FrameKeys } from '../send/frame-keys.ts';
import { lightPicture } from '../send/light-pictures.ts';
import { startRender } from '../send/start-render.ts';
import { planVariant, variantFrame } from '../variants/variant-frames.ts';
import { sendFile } from './render-routes.ts';
import { route, rowNumber } from './route.ts';
import { cleanName } from '../media/clean-name.ts';
import { addMedia } from '../use-cases/add-media.ts';

/** Names of files that a guest fetches tell nothing of the shot. */
const GUEST_PATTERN = '{variant}-v{version}';

interface Opened {
  readonly slot: Slot;
  readonly variant: Variant;
  readonly shot: Shot;
}

/** What somebody with the link of a slot may do: put content in, frame it, look, render, download. Nothing else is to be seen by it. */
export function guestSlotRoutes(db: Database, config: Config): Router {
  const router = Router();
  const places = folders(config.dataFolder);
  router.use('/guest/slots', wrongLinks());

  const open = async (req: Request): Promise<Opened> => {
    const slot = await openSlot(db, hashOfLink(req));
    const variant = slot && (await findVariant(db, slot.variantId));
    const shot = slot && (await findShot(db, slot.shotId));
    if (!slot || !variant || !shot) throw new Problem('link-gone');
    return { slot, variant, shot };
  };
  const reply = async (req: Request): Promise<GuestSlot> => {
    const { slot, variant, shot } = await open(req);
    const facts = shot.plate?.facts;
    const medium = variant.mediaId === null ? null : await findMedia(db, variant.mediaId);
    if (!facts) throw new Problem('link-gone');
    const impossible = await planVariant(db, shot, variant).then(
      () => null,
      (error: unknown) => {
        if (error instanceof Problem) return error.message;
        throw error;
      },
    );
    return {
      name: slot.name,
      frames: facts.frames,
      first: facts.firstFrameNumber,
      rate: facts.rate[0] / facts.rate[1],
      width: facts.width,
      height: facts.height,
      expiresAt: slot.expiresAt,
      limits: slot.limits,
      used: slot.used,
      content: medium && {
        name: medium.name,
        state: medium.state === 'ready' ? 'ready' : medium.state === 'failed' ? 'failed' : 'waiting',
        problem: medium.problem,
        kind: medium.kind,
        frames: medium.frames,
      },
      framing: guestFraming(variant.framing),
      render: variant.render,
      impossible: medium ? impossible : null,
    };
  };

  route(router, 'get', '/guest/slots/:secret', { reply: 'guestSlot' }, ({ req }) => reply(req));
  route(router, 'post', '/guest/slots/:secret/content', { reply: 'guestSlot' }, async ({ req }) => {
    const { slot, variant, shot } = await open(req);
    const name = cleanName(typeof req.query.name === 'string' ? req.query.name : '');
    if (!(await takeFromSlot(db, slot.id, 'files')))
      throw new Problem('slot-full', { limit: slot.limits.files, what: 'files' });
    try {
      const stored = await storeUpload(
        req,
        places.uploads,
        places.media,
        Math.min(slot.limits.bytes, config.uploadLimitBytes),
        name,
      );
      await transaction(db, async (connection) => {
        const { mediaId } = await addMedia(connection, shot.projectId, name, stored);
        await changeVariant(connection, { id: variant.id, mediaId });
      });
    } catch (error) {
      await giveToSlot(db, slot.id, 'files');
      throw error;
    }
    return reply(req);
  });
  route(
    router,
    'put',
    '/guest/slots/:secret/framing',
    { body: 'guestFraming', reply: 'guestSlot' },
    async ({ req, body }) => {
      const { variant } = await open(req);
      await changeVariant(db, { id: variant.id, framing: framingOfGuest(body) });
      return reply(req);
    },
  );
  // One frame as the render will have it, made by whoever renders.
  route(
    router,
    'post',
    '/guest/slots/:secret/preview',
    { body: 'guestPreviewRequest', reply: 'guestPreview' },
    async ({ req, body: { frame } }) => {
      const { shot, variant } = await open(req);
      const last = (shot.plate?.facts?.frames ?? 1) - 1;
      if (variant.mediaId === null) throw new Problem('slot-empty');
      if (frame > last) throw new Problem('frame-outside', { where: 'the preview', frame, last });
      const { key, file } = await variantFrame(db, shot, variant, frame, places.renders);
      if (file) return { ready: true, key, problem: null };
      for (const job of await openVariantFrames(db, variant.id)) {
        const same = job.frame === frame && new FrameKeys(await readPlan(db, job.id)).of(frame, 'full').key === key;
        if (same) return { ready: false, key, problem: job.problem };
        // What was asked for before is not wanted any more.
        if (job.state !== 'failed') await requestStop(db, job.id);
      }
      await startRender(db, config, shot.id, { frames: [frame, frame], output: 'frames', priority: 1 }, variant);
      return { ready: false, key, problem: null };
    },
  );
  router.get('/guest/slots/:secret/frames/:frame.jpg', async (req, res) => {
    const { shot, variant } = await open(req);
    const frame = rowNumber(req, 'frame');
    const { key, file } = await variantFrame(db, shot, variant, frame, places.renders);
    if (!file) throw new Problem('nothing-to-render', { which: 'finished' });
    res
      .type('jpg')
      .set('Cache-Control', 'private, no-cache')
      .send(await lightPicture(places.renders, key, file));
  });
  route(router, 'post', '/guest/slots/:secret/render', { reply: 'guestSlot' }, async ({ req }) => {
    const { slot, shot, variant } = await open(req);
    const last = (shot.plate?.facts?.frames ?? 1) - 1;
    if (variant.mediaId === null) throw new Problem('slot-empty');
    if (variant.render && ['queued', 'running', 'paused'].includes(variant.render.state))
      throw new Problem('job-running', { kind: 'render' });
    if (!(await takeFromSlot(db, slot.id, 'renders')))
      throw new Problem('slot-full', { limit: slot.limits.renders, what: 'renders' });
    try {
      const [from, to] = (await readDocument(db, shot.id, shot.revision)).range ?? [0, last];
      await startRender(
        db,
        config,
        shot.id,
        { frames: [from, Math.min(to, last)], output: 'h264', settings: { pattern: GUEST_PATTERN } },
        variant,
      );
    } catch (error) {
      await giveToSlot(db, slot.id, 'renders');
      throw error;
    }
    return reply(req);
  });
  router.get('/guest/slots/:secret/files/:name', async (req, res) => {
    const { variant } = await open(req);
    const { render } = variant;
    const file = render?.files.find(({ name }) => name === req.params.name);
    if (!render || !file)
      throw new Problem('not-found', { thing: 'file of this link', id: String(req.params.name).slice(0, 80) });
    await sendFile(res, join(places.renders, String(render.jobId)), file.name);
  });
  return router;
}
