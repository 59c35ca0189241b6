import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { Problem } from '../../core/base/problem/problem.ts';
import type { ProblemReply } from '../../core/base/schemas/types.ts';
import { VERSION } from '../version.ts';
import { isGuarded, type Config } from '../config.ts';
import { isDatabaseAway, type Database } from '../database/connection.ts';
import { jobRoutes } from './job-routes.ts';
import { JobEvents } from './job-events.ts';
import { mediaRoutes } from './media-routes.ts';
import { plateRoutes } from './plate-routes.ts';
import { openApi } from './openapi.ts';
import { idempotency } from './idempotency.ts';
import { lookRoutes } from './look-routes.ts';
import { guard } from '../access/guard.ts';
import { sameOrigin } from '../access/same-origin.ts';
import { accessRoutes } from './access-routes.ts';
import { guestSlotRoutes } from './guest-slot-routes.ts';
import { reviewRoutes } from './review-routes.ts';
import { workerRoutes } from './worker-routes.ts';
import { variantRoutes } from './variant-routes.ts';
import { archiveRoutes } from './archive-routes.ts';
import { exportRoutes } from './export-routes.ts';
import { renderRoutes } from './render-routes.ts';
import { projectRoutes } from './project-routes.ts';
import { route } from './route.ts';
import { SeatWorker } from '../jobs/seat-worker.ts';
import { handRoutes } from './hand-routes.ts';
import { loopRoutes } from './loop-routes.ts';
import { sceneRoutes } from './scene-routes.ts';
import { lensRoutes } from './lens-routes.ts';
import { seatRoutes } from './seat-routes.ts';
import { shotRoutes } from './shot-routes.ts';
import { storageRoutes } from './storage-routes.ts';
import { uploadRoutes } from './upload-routes.ts';
import { statusOf } from './status-of.ts';

/** The whole HTTP face: the interface's files, and the API under /api/v1. */
export function createApp(
  db: Database,
  config: Config,
  log: Logger,
  webFolder: string,
  setUpCode: string | null = null,
): { app: Express; close: () => void } {
  const app = express();
  app.disable('x-powered-by');
  // Behind a proxy the next one's word is taken for where a request came from and how.
  app.set('trust proxy', config.proxy ? 1 : false);
  app.use(
    pinoHttp({
      logger: log,
      serializers: { req: withoutSecrets },
      genReqId: () => randomUUID(),
      customLogLevel: (_req, res, error) => (error || res.statusCode >= 500 ? 'error' : 'debug'),
    }),
  );
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          'default-src': ["'self'"],
          'script-src': ["'self'", "'wasm-unsafe-eval'"],
          'style-src': ["'self'", "'unsafe-inline'"],
          'img-src': ["'self'", 'blob:', 'data:'],
          'worker-src': ["'self'", 'blob:'],
          'upgrade-insecure-requests': null,
        },
      },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      strictTransportSecurity: false,
    }),
  );
  app.use(sameOrigin(config.names));
  const events = new JobEvents(db, (error) => log.error({ error: String(error) }, 'job events'));
  const seatWorker = new SeatWorker();
  const looks = new SeatWorker();
  const api = express.Router();
  api.use(guard(db, isGuarded(config)));
  api.use('/media/:id/lut', express.json({ limit: '64mb' }));
  api.use('/shots/:id/import', express.json({ limit: '64mb' }));
  api.use(express.json({ limit: '8mb' }));
  api.use(idempotency(db));
  route(api, 'get', '/health', { reply: 'health' }, async () => {
    await db.query('SELECT 1');
    return { ok: true, version: VERSION };
  });
  api.get('/openapi.json', (_req, res) => void res.json(openApi()));
  api.get('/events', events.handler);
  api.use(
    projectRoutes(db),
    shotRoutes(db),
    lookRoutes(db),
    seatRoutes(db, config, seatWorker, looks),
    lensRoutes(db, config, looks),
    sceneRoutes(db),
    loopRoutes(db, config),
    handRoutes(db, config),
    plateRoutes(db, config),
    mediaRoutes(db, config),
    storageRoutes(db, config),
    uploadRoutes(db, config),
    jobRoutes(db, config),
    renderRoutes(db, config),
    exportRoutes(db),
    archiveRoutes(db, config),
    accessRoutes(db, config, setUpCode),
    variantRoutes(db, config),
    guestSlotRoutes(db, config),
    reviewRoutes(db, config),
    workerRoutes(config),
  );
  api.use((req) => {
    throw new Problem('no-route', { path: req.path });
  });
  app.use('/api/v1', api);
  app.use(
    express.static(webFolder, {
      index: 'index.html',
      setHeaders: (res, path) => {
        if (path.includes('/assets/')) res.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
      },
    }),
  );
  // Addresses of the interface's own pages; anything that looks like a file is not there.
  app.get('/{*rest}', (req, res, next) => {
    const page = join(webFolder, 'index.html');
    if (/\.\w+$/.test(req.path) || !existsSync(page)) next(new Problem('no-route', { path: req.path }));
    else res.sendFile(page, { dotfiles: 'allow' });
  });
  app.use(errorReply(log));
  return {
    app,
    close: () => {
      events.close();
      seatWorker.close();
      looks.close();
    },
  };
}

/** A request as it is logged: who has the link of a slot or review can open it, so it is not written down. */
function withoutSecrets(req: { method: string; url: string; id: unknown }): object {
  return {
    id: req.id,
    method: req.method,
    url: req.url.replace(/(\/(?:guest\/(?:slots|reviews)|slot|review)\/)[^/?]+/, '$1…'),
  };
}

/** A problem as RFC 9457 has it (section 3), with what a person is told beside. */
export function problemDetails(problem: Problem, id: string): ProblemReply {
  return {
    type: `urn:yarlop:problem:${problem.code}`,
    title: problem.code.replaceAll('-', ' '),
    status: statusOf(problem.code),
    detail: problem.sentence,
    instance: `urn:uuid:${id}`,
    code: problem.code,
    message: problem.message,
    remedy: problem.remedy,
    request: id,
  };
}

function errorReply(log: Logger): ErrorRequestHandler {
  return (error: unknown, req, res, next) => {
    if (res.headersSent) return next(error);
    const id = req.id as string;
    const problem = asProblem(error, id);
    const status = statusOf(problem.code);
    if (status >= 500)
      log.error({ request: id, error: error instanceof Error ? error.stack : String(error) }, 'request failed');
    const current = problem.code === 'stale-save' ? { current: Number(problem.values.current) } : {};
    return res
      .status(status)
      .type('application/problem+json')
      .send(JSON.stringify({ ...problemDetails(problem, id), ...current }));
  };
}

function asProblem(error: unknown, id: string): Problem {
  if (error instanceof Problem) return error;
  if (isDatabaseAway(error)) return new Problem('database-away');
  const { type, message, status } = error as { type?: string; message?: string; status?: number };
  if (type === 'entity.parse.failed')
    return new Problem('unreadable-json', { where: 'the request', why: message ?? '' });
  if (type === 'entity.too.large') return new Problem('upload-too-large', { limit: '8 MB' });
  // What Express itself refuses: an address that cannot be read, a body in letters that are not known, one that was broken off.
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new Problem('bad-request', { why: message ?? '' });
  return new Problem('internal', { id });
}
