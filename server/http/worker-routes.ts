import { Router } from 'express';
import { existsSync, mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import { folders, type Config } from '../config.ts';
import { FrameStore } from '../media/frame-store.ts';
import { saveStream } from '../media/uploads.ts';
import { fileOfKey } from '../send/finished-paths.ts';
import { route, rowNumber } from './route.ts';

/** Decoded frames out and finished ones in, for workers that do not see this machine's folder (docs/farm.md). */
export function workerRoutes(config: Config): Router {
  const router = Router();
  const places = folders(config.dataFolder);
  router.get('/stores/:store/:frame.raw', async (req, res) => {
    const { store } = req.params;
    const frame = rowNumber(req, 'frame');
    if (!/^[0-9a-f-]{10,80}$/.test(store)) throw new Problem('not-found', { thing: 'store', id: store.slice(0, 20) });
    res.type('application/octet-stream').send(Buffer.from(await FrameStore.rawOf(join(places.frames, store), frame)));
  });
  // The name tells what the picture depends on; whoever may render is believed that it is that.
  route(router, 'put', '/finished/:name', { reply: 'finishedReply' }, async ({ req }) => {
    const [, key, ending] = /^([0-9a-f]{64})\.(png|exr)$/.exec(String(req.params.name)) ?? [];
    if (!key)
      throw new Problem('bad-field', { where: 'the address', field: 'name', why: 'is not that of a finished frame' });
    if (fileOfKey(places.renders, key)) {
      req.resume();
      return { key, taken: false };
    }
    const file = join(places.renders, 'frames', key.slice(0, 2), `${key}.${ending}`);
    mkdirSync(dirname(file), { recursive: true });
    await saveStream(req, places.uploads, file, config.uploadLimitBytes);
    return { key, taken: existsSync(file) };
  });
  return router;
}
