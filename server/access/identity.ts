import type { Request } from 'express';
import { Problem } from '../../core/base/problem/problem.ts';
import type { Role, Scope } from '../../core/base/schemas/types.ts';
import type { Database } from '../database/connection.ts';
import { accountOfSession, findToken, noteTokenUse } from '../database/access.ts';
import { hashOfSecret } from './secrets.ts';
import { SCOPES_OF } from './scopes.ts';

/** Who asks, and what they may do. */
export interface Identity {
  readonly name: string | null;
  readonly role: Role | null;
  readonly scopes: readonly Scope[];
}

/** On a machine of one's own nobody is asked who they are. */
const ANYBODY_HERE: Identity = { name: null, role: 'owner', scopes: SCOPES_OF.owner };

export const SESSION_COOKIE = 'yarlop_session';

/** Who a request comes from: by token, by session, or, where nobody is asked, anybody; null for nobody who is known. A token that is given must be good. @throws Problem bad-token */
export async function identify(db: Database, req: Request, guarded: boolean): Promise<Identity | null> {
  const bearer = /^Bearer (.+)$/.exec(req.get('Authorization') ?? '')?.[1];
  if (bearer !== undefined) {
    const token = await findToken(db, hashOfSecret(bearer));
    if (!token || token.revoked || (token.expiresAt !== null && Date.parse(token.expiresAt) <= Date.now()))
      throw new Problem('bad-token');
    await noteTokenUse(db, token.id);
    return { name: token.name, role: null, scopes: token.scopes };
  }
  if (!guarded) return ANYBODY_HERE;
  const session = cookieOf(req, SESSION_COOKIE);
  const account = session ? await accountOfSession(db, hashOfSecret(session)) : null;
  return account && { name: account.name, role: account.role, scopes: SCOPES_OF[account.role] };
}

export function cookieOf(req: Request, name: string): string | null {
  for (const one of (req.headers.cookie ?? '').split(';')) {
    const at = one.indexOf('=');
    if (at > 0 && one.slice(0, at).trim() === name) return one.slice(at + 1).trim();
  }
  return null;
}
