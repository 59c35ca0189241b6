import type { RequestHandler } from 'express';
import { Problem } from '../../core/base/problem/problem.ts';
import type { Database } from '../database/connection.ts';
import { identify, type Identity } from './identity.ts';
import { scopeOf } from './scopes.ts';

/** Paths that are answered before anybody has said who they are. */
const OPEN = /^\/(health|openapi\.json|access\/(session|sign-in|set-up|sign-out)|guest\/.*)$/;

const identities = new WeakMap<object, Identity>();

/** Who a request that was let in comes from. */
export function identityOf(req: object): Identity {
  const identity = identities.get(req);
  if (!identity) throw new RangeError('the guard has not seen this request');
  return identity;
}

/** Lets a request in when it comes from somebody who may do what it asks for. */
export function guard(db: Database, guarded: boolean): RequestHandler {
  return async (req, res, next) => {
    // The router answers paths whatever their letters' case and with a slash at the end: so are they judged.
    const path = req.path.toLowerCase().replace(/\/+$/, '') || '/';
    if (OPEN.test(path)) return next();
    const identity = await identify(db, req, guarded);
    const scope = scopeOf(req.method, path);
    if (!identity) {
      res.set('WWW-Authenticate', 'Bearer realm="Yarlop"');
      throw new Problem('sign-in-needed');
    }
    if (!identity.scopes.includes(scope)) throw new Problem('not-allowed', { scope });
    identities.set(req, identity);
    return next();
  };
}
