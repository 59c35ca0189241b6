import { Router, type Request, type Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import { timingSafeEqual } from 'node:crypto';
import { Problem } from '../../core/base/problem/problem.ts';
import type { AccessSession } from '../../core/base/schemas/types.ts';
import { cookieOf, identify, SESSION_COOKIE } from '../access/identity.ts';
import { SCOPES_OF } from '../access/scopes.ts';
import { hashOfPassword, hashOfSecret, isPassword, newSecret } from '../access/secrets.ts';
import { isGuarded, type Config } from '../config.ts';
import {
  accountOfSession,
  deleteAccount,
  deleteOtherSessions,
  deleteSession,
  findAccount,
  findToken,
  hasOwner,
  insertAccount,
  insertSession,
  insertToken,
  listAccounts,
  listTokens,
  revokeToken,
  setPassword,
} from '../database/access.ts';
import { transaction, type Database } from '../database/connection.ts';
import { route } from './route.ts';
import { found } from '../database/found.ts';

const DAY_MS = 86_400_000;
const SESSION_DAYS = 14;
/** Tries of a password or code within a quarter of an hour, of one address. */
const MOST_TRIES = 10;
const WINDOW_MS = 15 * 60_000;

/** Signing in, accounts and tokens. `setUpCode` is what the start of the service said. */
export function accessRoutes(db: Database, config: Config, setUpCode: string | null): Router {
  const router = Router();
  const guarded = isGuarded(config);
  router.use(['/access/sign-in', '/access/set-up', '/access/password'], tries(MOST_TRIES));
  /** Compared with when there is no such account: how long an answer takes must not tell. Made at the first sign-in, whoever's it is. */
  let nobody: Promise<string> | null = null;

  route(router, 'get', '/access/session', { reply: 'accessSession' }, async ({ req }): Promise<AccessSession> => {
    const identity = await identify(db, req, guarded);
    const setUp = guarded && !(await hasOwner(db));
    return {
      needed: guarded,
      setUp,
      name: identity?.name ?? null,
      role: identity?.role ?? null,
      scopes: [...(identity?.scopes ?? [])],
    };
  });
  route(router, 'post', '/access/set-up', { body: 'setUp', reply: 'accessSession' }, async ({ req, res, body }) => {
    if (setUpCode === null || !same(body.code, setUpCode)) throw new Problem('bad-set-up');
    const password = await hashOfPassword(body.password);
    const id = await transaction(db, async (connection) =>
      (await hasOwner(connection)) ? null : insertAccount(connection, { name: body.name, role: 'owner', password }),
    );
    if (id === null) throw new Problem('bad-set-up');
    return signedIn(req, res, id, body.name);
  });
  route(router, 'post', '/access/sign-in', { body: 'signIn', reply: 'accessSession' }, async ({ req, res, body }) => {
    const account = await findAccount(db, body.name);
    const instead = await (nobody ??= hashOfPassword(newSecret()));
    if (!(await isPassword(body.password, account?.password ?? instead)) || !account) throw new Problem('bad-password');
    return signedIn(req, res, account.id, account.name);
  });
  route(router, 'post', '/access/sign-out', { reply: 'accessSession' }, async ({ req, res }) => {
    const session = cookieOf(req, SESSION_COOKIE);
    if (session) await deleteSession(db, hashOfSecret(session));
    res.clearCookie(SESSION_COOKIE, { path: '/' });
    return { needed: guarded, setUp: false, name: null, role: null, scopes: [] };
  });

  route(
    router,
    'put',
    '/access/password',
    { body: 'changePassword', reply: 'accessSession' },
    async ({ req, body }) => {
      const session = cookieOf(req, SESSION_COOKIE);
      const own = session && (await accountOfSession(db, hashOfSecret(session)));
      const account = own ? await findAccount(db, own.name) : null;
      if (!session || !account) throw new Problem('sign-in-needed');
      if (!(await isPassword(body.current, account.password))) throw new Problem('bad-password');
      await setPassword(db, account.id, await hashOfPassword(body.next));
      await deleteOtherSessions(db, account.id, hashOfSecret(session));
      return {
        needed: guarded,
        setUp: false,
        name: account.name,
        role: account.role,
        scopes: [...SCOPES_OF[account.role]],
      };
    },
  );
  route(router, 'get', '/access/accounts', { reply: 'accounts' }, () => listAccounts(db));
  route(router, 'post', '/access/accounts', { body: 'newAccount', reply: 'accounts' }, async ({ body }) => {
    if ((await insertAccount(db, { ...body, password: await hashOfPassword(body.password) })) === null)
      throw new Problem('name-taken', { name: body.name });
    return listAccounts(db);
  });
  route(router, 'delete', '/access/accounts/:id', { reply: 'accounts' }, async ({ id }) => {
    found(
      (await listAccounts(db)).find((account) => account.id === id()),
      'account',
      id(),
    );
    if (!(await deleteAccount(db, id()))) throw new Problem('last-owner');
    return listAccounts(db);
  });
  route(router, 'get', '/access/tokens', { reply: 'tokens' }, () => listTokens(db));
  route(router, 'post', '/access/tokens', { body: 'newToken', reply: 'madeToken' }, async ({ body }) => {
    const secret = newSecret();
    const hash = hashOfSecret(secret);
    await insertToken(db, {
      hash,
      name: body.name,
      scopes: body.scopes,
      expiresAt: body.days === undefined ? null : new Date(Date.now() + body.days * DAY_MS),
    });
    return { secret, token: found(await findToken(db, hash), 'token', body.name) };
  });
  route(router, 'delete', '/access/tokens/:id', { reply: 'tokens' }, async ({ id }) => {
    if (!(await revokeToken(db, id()))) found(null, 'token', id());
    return listTokens(db);
  });
  return router;

  async function signedIn(req: Request, res: Response, accountId: number, name: string): Promise<AccessSession> {
    const secret = newSecret();
    const expiresAt = new Date(Date.now() + SESSION_DAYS * DAY_MS);
    const account = found(await findAccount(db, name), 'account', accountId);
    await insertSession(db, hashOfSecret(secret), accountId, expiresAt);
    // Secure where the way here is: over plain HTTP in the house the browser would not send it back.
    res.cookie(SESSION_COOKIE, secret, {
      httpOnly: true,
      sameSite: 'strict',
      secure: req.secure,
      expires: expiresAt,
      path: '/',
    });
    return {
      needed: guarded,
      setUp: false,
      name: account.name,
      role: account.role,
      scopes: [...SCOPES_OF[account.role]],
    };
  }
}

/** So many tries within a window, of one address; then a sentence. */
export function tries(limit: number, windowMs = WINDOW_MS) {
  return rateLimit({
    limit,
    windowMs,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    skipSuccessfulRequests: true,
    // Its checks of how it is used read the stack and with it every source map: a seventh of a second at each start.
    validate: false,
    handler: (_req, _res, next) => next(new Problem('too-many-tries', { minutes: Math.ceil(windowMs / 60_000) })),
  });
}

function same(given: string, wanted: string): boolean {
  const a = Buffer.from(hashOfSecret(given));
  const b = Buffer.from(hashOfSecret(wanted));
  return timingSafeEqual(a, b);
}
