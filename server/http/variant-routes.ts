import { Router } from 'express';
import { Problem } from '../../core/base/problem/problem.ts';
import type { GuestFraming, Shot, Variant } from '../../core/base/schemas/types.ts';
import { framingOfGuest } from '../../core/handoff/variants/variant-document.ts';
import { readVariantTable } from '../../core/handoff/variants/variant-table.ts';
import { hashOfSecret, newSecret } from '../access/secrets.ts';
import { folders, type Config } from '../config.ts';
import { transaction, type Database } from '../database/connection.ts';
import { findJob, jobReply } from '../database/jobs.ts';
import { findMedia, listMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import { findSlot, insertSlot, listSlots, revokeSlot } from '../database/slots.ts';
import { changeVariant, deleteVariant, findVariant, insertVariant, listVariants } from '../database/variants.ts';
import { lightPicture } from '../send/light-pictures.ts';
import { startRender } from '../send/start-render.ts';
import { contactSheet, type SheetPicture } from '../variants/contact-sheet.ts';
import { variantFrame } from '../variants/variant-frames.ts';
import { page } from './paging.ts';
import { route, rowNumber } from './route.ts';
import { found } from '../database/found.ts';

const DAY_MS = 86_400_000;
/** What a slot is good for where nothing is said. */
const USUAL_LIMITS = { bytes: 2_000_000_000, files: 20, renders: 20 } as const;
/** How a guest finds the framing: their content does not lie as the shot's own does. */
const UNTOUCHED = { fit: 'fill', offset: [0, 0], scale: 1, start: 0 } satisfies GuestFraming;
/** Most rows of a table. */
const MOST_VARIANTS = 1000;

/** One track, many contents: the table, its renders, a sheet of all; and slots, rows that somebody else fills by a link. */
export function variantRoutes(db: Database, config: Config): Router {
  const router = Router();
  const { renders } = folders(config.dataFolder);
  const shotOf = async (id: number) => found(await findShot(db, id), 'shot', id);
  const variantOf = async (id: number) => found(await findVariant(db, id), 'variant', id);
  /** Content is of the shot's own project. */
  const ownMedium = async (shot: Shot, id: number | null) => {
    if (id === null) return;
    if (found(await findMedia(db, id), 'medium', id).projectId !== shot.projectId)
      throw new Problem('not-found', { thing: 'medium', id });
  };

  route(router, 'get', '/shots/:id/variants', { reply: 'variants' }, async ({ id, req, res }) =>
    page(req, res, await listVariants(db, (await shotOf(id())).id)),
  );
  route(router, 'post', '/shots/:id/variants', { body: 'newVariant', reply: 'variant' }, async ({ id, body }) => {
    const shot = await shotOf(id());
    await ownMedium(shot, body.mediaId);
    if ((await listVariants(db, shot.id)).length >= MOST_VARIANTS)
      throw new Problem('bad-field', {
        where: 'the table',
        field: 'its length',
        why: `may be ${MOST_VARIANTS} rows at most`,
      });
    return variantOf(
      await insertVariant(db, { shotId: shot.id, name: body.name, mediaId: body.mediaId, framing: body.framing ?? {} }),
    );
  });
  route(router, 'patch', '/variants/:id', { body: 'changeVariant', reply: 'variant' }, async ({ id, body }) => {
    const variant = await variantOf(id());
    await ownMedium(await shotOf(variant.shotId), body.mediaId ?? null);
    await changeVariant(db, { id: variant.id, ...body });
    return variantOf(variant.id);
  });
  route(router, 'delete', '/variants/:id', { reply: 'variants' }, async ({ id }) => {
    const variant = await variantOf(id());
    // A slot without its row would lead nowhere.
    for (const slot of await listSlots(db, variant.shotId))
      if (slot.variantId === variant.id) await revokeSlot(db, slot.id);
    await deleteVariant(db, variant.id);
    return listVariants(db, variant.shotId);
  });
  route(
    router,
    'post',
    '/shots/:id/variants/table',
    { body: 'variantTable', reply: 'variantTableReply' },
    async ({ id, body }) => {
      const shot = await shotOf(id());
      const { lines, problems } = readVariantTable(body.text);
      const media = await listMedia(db, shot.projectId);
      const before = await listVariants(db, shot.id);
      let made = 0;
      let changed = 0;
      if (before.length + lines.length > MOST_VARIANTS)
        throw new Problem('bad-table', { why: `it has more than ${MOST_VARIANTS} rows` });
      await transaction(db, async (connection) => {
        made = changed = 0;
        for (const { name, file, framing } of lines) {
          // Of several files of a name the newest is meant.
          const mediaId =
            file === ''
              ? null
              : (media.filter((medium) => medium.name.toLowerCase() === file.toLowerCase()).at(-1)?.id ?? null);
          const same = before.find((variant) => variant.name === name);
          if (same) {
            await changeVariant(connection, {
              id: same.id,
              name,
              mediaId: mediaId ?? same.mediaId,
              framing: {
                ...same.framing,
                ...framing,
                ...(framing.time ? { time: { ...same.framing.time, ...framing.time } } : {}),
              },
            });
            changed++;
          } else {
            await insertVariant(connection, { shotId: shot.id, name, mediaId, framing });
            made++;
          }
        }
      });
      const absent = lines
        .filter(({ file }) => file !== '' && !media.some((medium) => medium.name.toLowerCase() === file.toLowerCase()))
        .map(
          ({ line, file }) =>
            `Line ${line}: there is no ${file} in this project; bring it in, and take the table again.`,
        );
      return { made, changed, problems: [...problems, ...absent], variants: await listVariants(db, shot.id) };
    },
  );
  route(
    router,
    'post',
    '/shots/:id/variants/render',
    { body: 'renderVariants', reply: 'jobs' },
    async ({ id, body }) => {
      const shot = await shotOf(id());
      const all = await listVariants(db, shot.id);
      const wanted = body.variants;
      const chosen = wanted
        ? wanted.map((one) =>
            found(
              all.find((variant) => variant.id === one),
              'variant',
              one,
            ),
          )
        : all.filter((variant) => variant.mediaId !== null);
      const full = chosen.filter((variant) => variant.mediaId !== null);
      if (full.length === 0) throw new Problem('variant-empty');
      const jobs: number[] = [];
      for (const variant of full) jobs.push(await startRender(db, config, shot.id, body.request, variant));
      return Promise.all(jobs.map(async (job) => jobReply(found(await findJob(db, job), 'job', job))));
    },
  );
  router.get('/shots/:id/variants/sheet.jpg', async (req, res) => {
    const shot = await shotOf(rowNumber(req, 'id'));
    const facts = shot.plate?.facts;
    const asked = typeof req.query.frame === 'string' ? req.query.frame : '0';
    const frame = Number(asked);
    if (!facts) throw new Problem('no-plate');
    if (!Number.isInteger(frame) || frame < 0 || frame >= facts.frames)
      throw new Problem('frame-outside', { where: 'the address', frame: asked, last: facts.frames - 1 });
    const pictures: SheetPicture[] = [];
    for (const variant of await listVariants(db, shot.id))
      pictures.push({ name: variant.name, picture: await pictureOf(shot, variant, frame) });
    res
      .type('jpg')
      .send(
        await contactSheet(
          `${shot.name}, frame ${frame + facts.firstFrameNumber}`,
          pictures,
          (facts.width * facts.pixelAspect[0]) / (facts.height * facts.pixelAspect[1]),
        ),
      );
  });

  route(router, 'get', '/shots/:id/slots', { reply: 'slots' }, async ({ id }) =>
    listSlots(db, (await shotOf(id())).id),
  );
  route(router, 'post', '/shots/:id/slots', { body: 'newSlot', reply: 'madeSlot' }, async ({ id, body }) => {
    const shot = await shotOf(id());
    const secret = newSecret();
    if (!shot.plate?.facts) throw new Problem('no-plate');
    const slotId = await transaction(db, async (connection) => {
      const slot = await insertSlot(connection, {
        shotId: shot.id,
        hash: hashOfSecret(secret),
        name: body.name,
        limits: body.limits ?? USUAL_LIMITS,
        expiresAt: new Date(Date.now() + body.days * DAY_MS),
      });
      await insertVariant(connection, {
        shotId: shot.id,
        name: body.name,
        mediaId: null,
        framing: framingOfGuest(UNTOUCHED),
        slotId: slot,
      });
      return slot;
    });
    return { secret, slot: found(await findSlot(db, slotId), 'slot', slotId) };
  });
  route(router, 'delete', '/slots/:id', { reply: 'slots' }, async ({ id }) => {
    const slot = found(await findSlot(db, id()), 'slot', id());
    await revokeSlot(db, slot.id);
    return listSlots(db, slot.shotId);
  });
  return router;

  async function pictureOf(shot: Shot, variant: Variant, frame: number): Promise<Buffer | null> {
    if (variant.mediaId === null) return null;
    const { key, file } = await variantFrame(db, shot, variant, frame, renders);
    return file === null ? null : lightPicture(renders, key, file);
  }
}
