import type { Request } from 'express';
import { rateLimit } from 'express-rate-limit';
import { Problem } from '../../core/base/problem/problem.ts';
import { hashOfSecret } from './secrets.ts';

/** Wrong links that one address may try, within so long. */
const MOST_WRONG = 60;
const WINDOW_MS = 15 * 60_000;

/** Refuses an address that goes on trying links that lead nowhere. */
export function wrongLinks() {
  return rateLimit({
    limit: MOST_WRONG,
    windowMs: WINDOW_MS,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    skipSuccessfulRequests: true,
    requestWasSuccessful: (_req, res) => res.statusCode !== 404,
    // As for passwords in access-routes.ts.
    validate: false,
    handler: (_req, _res, next) => next(new Problem('too-many-tries', { minutes: WINDOW_MS / 60_000 })),
  });
}

/** What the database knows of a link: the hash of its secret. @throws Problem link-gone */
export function hashOfLink(req: Request): string {
  const secret = String(req.params.secret ?? '');
  if (!/^[A-Za-z0-9_-]{43}$/.test(secret)) throw new Problem('link-gone');
  return hashOfSecret(secret);
}
