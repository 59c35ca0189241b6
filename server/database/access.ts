import type { AccessToken, Account, Role, Scope } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';

interface AccountRow {
  id: number;
  name: string;
  role: Role;
  created_at: Date;
}

const accountOf = (row: AccountRow): Account => ({
  id: row.id,
  name: row.name,
  role: row.role,
  createdAt: row.created_at.toISOString(),
});

export async function hasOwner(db: Queryable): Promise<boolean> {
  return (await select(db, "SELECT id FROM accounts WHERE role = 'owner' LIMIT 1")).length > 0;
}

export async function listAccounts(db: Queryable): Promise<Account[]> {
  return (await select<AccountRow>(db, 'SELECT id, name, role, created_at FROM accounts ORDER BY name')).map(accountOf);
}

/** Null where the name is taken. */
export async function insertAccount(
  db: Queryable,
  account: { name: string; role: Role; password: string },
): Promise<number | null> {
  const { affected, id } = await run(db, 'INSERT IGNORE INTO accounts (name, role, password) VALUES (?, ?, ?)', [
    account.name.trim(),
    account.role,
    account.password,
  ]);
  return affected > 0 ? id : null;
}

export async function findAccount(db: Queryable, name: string): Promise<(Account & { password: string }) | null> {
  const [row] = await select<AccountRow & { password: string }>(
    db,
    'SELECT id, name, role, created_at, password FROM accounts WHERE name = ?',
    [name.trim()],
  );
  return row ? { ...accountOf(row), password: row.password } : null;
}

export async function setPassword(db: Queryable, id: number, password: string): Promise<void> {
  await run(db, 'UPDATE accounts SET password = ? WHERE id = ?', [password, id]);
}

/** Signs an account out everywhere but where it is now. */
export async function deleteOtherSessions(db: Queryable, accountId: number, kept: string): Promise<void> {
  await run(db, 'DELETE FROM access_sessions WHERE account_id = ? AND hash <> ?', [accountId, kept]);
}

/** False for the last owner, who stays. */
export async function deleteAccount(db: Queryable, id: number): Promise<boolean> {
  return (
    (
      await run(
        db,
        "DELETE FROM accounts WHERE id = ? AND (role <> 'owner' OR (SELECT n FROM (SELECT COUNT(*) AS n FROM accounts WHERE role = 'owner') owners) > 1)",
        [id],
      )
    ).affected > 0
  );
}

export async function insertSession(db: Queryable, hash: string, accountId: number, expiresAt: Date): Promise<void> {
  await run(db, 'DELETE FROM access_sessions WHERE expires_at < ?', [new Date()]);
  await run(db, 'INSERT INTO access_sessions (hash, account_id, expires_at) VALUES (?, ?, ?)', [
    hash,
    accountId,
    expiresAt,
  ]);
}

export async function accountOfSession(db: Queryable, hash: string): Promise<Account | null> {
  const [row] = await select<AccountRow>(
    db,
    'SELECT a.id, a.name, a.role, a.created_at FROM access_sessions s JOIN accounts a ON a.id = s.account_id WHERE s.hash = ? AND s.expires_at > ?',
    [hash, new Date()],
  );
  return row ? accountOf(row) : null;
}

export async function deleteSession(db: Queryable, hash: string): Promise<void> {
  await run(db, 'DELETE FROM access_sessions WHERE hash = ?', [hash]);
}

interface TokenRow {
  id: number;
  name: string;
  scopes: string;
  created_at: Date;
  expires_at: Date | null;
  revoked_at: Date | null;
  used_at: Date | null;
}

const SELECT_TOKEN = 'SELECT id, name, scopes, created_at, expires_at, revoked_at, used_at FROM access_tokens';
const tokenOf = (row: TokenRow): AccessToken => ({
  id: row.id,
  name: row.name,
  scopes: row.scopes.split(' ').filter(Boolean) as Scope[],
  createdAt: row.created_at.toISOString(),
  expiresAt: row.expires_at?.toISOString() ?? null,
  revoked: row.revoked_at !== null,
  usedAt: row.used_at?.toISOString() ?? null,
});

export async function listTokens(db: Queryable): Promise<AccessToken[]> {
  return (await select<TokenRow>(db, `${SELECT_TOKEN} ORDER BY id DESC`)).map(tokenOf);
}

export async function insertToken(
  db: Queryable,
  token: { hash: string; name: string; scopes: readonly Scope[]; expiresAt: Date | null },
): Promise<number> {
  return (
    await run(db, 'INSERT INTO access_tokens (hash, name, scopes, expires_at) VALUES (?, ?, ?, ?)', [
      token.hash,
      token.name.trim(),
      token.scopes.join(' '),
      token.expiresAt,
    ])
  ).id;
}

export async function findToken(db: Queryable, hash: string): Promise<AccessToken | null> {
  const [row] = await select<TokenRow>(db, `${SELECT_TOKEN} WHERE hash = ?`, [hash]);
  return row ? tokenOf(row) : null;
}

export async function noteTokenUse(db: Queryable, id: number): Promise<void> {
  await run(db, 'UPDATE access_tokens SET used_at = ? WHERE id = ? AND (used_at IS NULL OR used_at < ?)', [
    new Date(),
    id,
    new Date(Date.now() - 60_000),
  ]);
}

export async function revokeToken(db: Queryable, id: number): Promise<boolean> {
  return (
    (await run(db, 'UPDATE access_tokens SET revoked_at = COALESCE(revoked_at, ?) WHERE id = ?', [new Date(), id]))
      .affected > 0
  );
}
