import type { RequestHandler } from 'express';
import { createHash } from 'node:crypto';
import { Problem } from '../../core/base/problem/problem.ts';
import { identityOf } from '../access/guard.ts';
import type { Database } from '../database/connection.ts';
import { freeKey, keepReply, takeKey } from '../database/idempotency-keys.ts';

/**
 * A POST with an `Idempotency-Key` is done once: asked again with the same body it is answered as before (IETF draft "The Idempotency-Key HTTP
 * Header Field"). Under one key another request is refused, and so is the same one while it is being worked on. What failed may be tried again.
 */
export function idempotency(db: Database): RequestHandler {
  return async (req, res, next) => {
    const given = req.get('Idempotency-Key');
    // What is answered is kept for a day: secrets are not, so they are made anew.
    if (req.method !== 'POST' || given === undefined || /\/(access|guest)\/|\/(slots|reviews)$/i.test(req.path))
      return next();
    if (!/^[\x21-\x7e]{1,200}$/.test(given))
      throw new Problem('bad-field', {
        where: 'the request',
        field: 'Idempotency-Key',
        why: 'must be 1 to 200 letters, figures and signs',
      });
    // Keys are each person's own: nobody is answered what another was.
    const { name: who } = identityOf(req);
    const name =
      who === null
        ? given
        : createHash('sha256')
            .update(JSON.stringify([who, given]))
            .digest('hex');
    const hash = createHash('sha256')
      .update(JSON.stringify([req.method, req.originalUrl, (req.body as unknown) ?? null]))
      .digest('hex');
    const before = await takeKey(db, name, hash);
    if (before) {
      if (before.requestHash !== hash) throw new Problem('key-used', { key: given });
      if (before.status === null || before.reply === null) throw new Problem('key-in-work', { key: given });
      res.status(before.status).type('application/json').set('Idempotent-Replay', 'true').send(before.reply);
      return;
    }
    const send = res.send.bind(res);
    // Answered only when what was answered is kept, or the key of what failed is free again: a client that never hears of it asks again, and one
    // that does may ask again at once.
    res.send = (body: unknown) => {
      res.send = send;
      // Only JSON is kept to be answered again.
      const done =
        typeof body === 'string' && res.statusCode < 400
          ? keepReply(db, name, res.statusCode, body)
          : freeKey(db, name);
      void done.then(() => send(body), next);
      return res;
    };
    res.on('close', () => {
      if (!res.writableEnded) void freeKey(db, name).catch(() => {});
    });
    return next();
  };
}
