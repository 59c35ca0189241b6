import { ZipArchive } from 'archiver';
import { Router, type Response } from 'express';
import { createReadStream, existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import type { RenderLayer } from '../../core/base/schemas/types.ts';
import { folders, type Config } from '../config.ts';
import type { Database } from '../database/connection.ts';
import { findJob, jobReply, setPriority } from '../database/jobs.ts';
import { pauseRender, readPlan, resumeRender } from '../database/render-tasks.ts';
import { findShot } from '../database/shots.ts';
import { listWorkers } from '../database/workers.ts';
import { fileOfKey } from '../send/finished-paths.ts';
import { FrameKeys } from '../send/frame-keys.ts';
import { lightPicture } from '../send/light-pictures.ts';
import { renderLedger } from '../send/ledger.ts';
import { startRender } from '../send/start-render.ts';
import { route, rowNumber } from './route.ts';
import { found } from '../database/found.ts';

const LAYERS: readonly RenderLayer[] = ['full', 'insert', 'matte', 'clean', 'flat', 'difference', 'card'];

/** Rendering: what is there of a shot, asking for more, and fetching what came of it. */
export function renderRoutes(db: Database, config: Config): Router {
  const router = Router();
  const { renders } = folders(config.dataFolder);
  const jobOf = async (id: number) => found(await findJob(db, id), 'job', id);
  const reply = async (id: number) => jobReply(await jobOf(id));

  route(router, 'post', '/shots/:id/render', { body: 'renderRequest', reply: 'apiJob' }, async ({ id, body }) =>
    reply(await startRender(db, config, id(), body)),
  );
  route(router, 'get', '/shots/:id/ledger', { reply: 'ledger' }, async ({ id, req }) => {
    const named = typeof req.query.layer === 'string' ? req.query.layer : 'full';
    const layer = LAYERS.find((one) => one === named);
    if (!layer)
      throw new Problem('bad-field', {
        where: 'the address',
        field: 'layer',
        why: `is "${named}"; it must be one of ${LAYERS.join(', ')}`,
      });
    return renderLedger(db, found(await findShot(db, id()), 'shot', id()), layer, renders);
  });
  const change = (name: 'pause' | 'resume', asked: string, work: (id: number) => Promise<boolean>) =>
    route(router, 'post', `/jobs/:id/${name}`, { reply: 'apiJob' }, async ({ id }) => {
      const { state } = await jobOf(id());
      if (!(await work(id()))) throw new Problem('job-not-paused', { state, asked });
      return reply(id());
    });
  change('pause', 'paused', (id) => pauseRender(db, id));
  change('resume', 'resumed', (id) => resumeRender(db, id));
  route(router, 'put', '/jobs/:id/priority', { body: 'jobPriority', reply: 'apiJob' }, async ({ id, body }) => {
    await jobOf(id());
    await setPriority(db, id(), body.priority);
    return reply(id());
  });
  route(router, 'get', '/workers', { reply: 'workers' }, () => listWorkers(db));

  router.get('/finished/:key.png', (req, res) => {
    const file = pictureOf(renders, req.params.key);
    if (file.endsWith('.png'))
      res
        .type('png')
        .set('Cache-Control', 'private, max-age=31536000, immutable')
        .sendFile(file, { dotfiles: 'allow' });
    else throw new Problem('not-found', { thing: 'PNG of a frame in floats', id: req.params.key.slice(0, 12) });
  });
  router.get('/finished/:key.jpg', async (req, res) => {
    res
      .type('jpg')
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .send(await lightPicture(renders, req.params.key, pictureOf(renders, req.params.key)));
  });
  router.get('/jobs/:id/frames/:frame.png', async (req, res) => {
    const job = await jobOf(rowNumber(req, 'id'));
    const frame = rowNumber(req, 'frame');
    const layer = jobReply(job).render?.layers[0];
    if (!layer) throw new Problem('not-found', { thing: 'frame of job', id: job.id });
    const file = fileOfKey(renders, new FrameKeys(await readPlan(db, job.id)).of(frame, layer).key);
    if (!file?.endsWith('.png')) throw new Problem('not-found', { thing: 'rendered frame', id: frame });
    res.type('png').sendFile(file, { dotfiles: 'allow' });
  });
  router.get('/jobs/:id/files/:name', async (req, res) => {
    const job = await jobOf(rowNumber(req, 'id'));
    const file = job.files.find(({ name }) => name === req.params.name);
    const folder = join(renders, String(job.id));
    if (!file) throw new Problem('not-found', { thing: 'file of this render', id: String(req.params.name) });
    await sendFile(res, folder, file.name);
  });
  return router;
}

/** Sends a finished file; numbered pictures as a zip of their folder, which they lie in one by one. */
export async function sendFile(res: Response, folder: string, name: string): Promise<void> {
  const pictures = name.endsWith('.zip') ? join(folder, name.slice(0, -'.zip'.length)) : null;
  if (!pictures || !existsSync(pictures)) return void res.download(join(folder, name), name, { dotfiles: 'allow' });
  res.attachment(name);
  const zip = new ZipArchive({ store: true });
  zip.pipe(res);
  // The same pictures give the same zip, whenever it is fetched.
  for (const picture of readdirSync(pictures)
    .filter((one) => !one.startsWith('.'))
    .sort())
    zip.append(createReadStream(join(pictures, picture)), { name: picture, date: new Date(1980, 0, 1) });
  await zip.finalize();
}

function pictureOf(renders: string, key: string | undefined): string {
  const file = /^[0-9a-f]{64}$/.test(key ?? '') ? fileOfKey(renders, key!) : null;
  if (!file) throw new Problem('not-found', { thing: 'finished frame', id: (key ?? '').slice(0, 12) });
  return file;
}
