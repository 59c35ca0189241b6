import { createHash, randomBytes, scrypt, timingSafeEqual } from 'node:crypto';

/** Bytes of a secret: 256 bits cannot be guessed. */
const SECRET_BYTES = 32;

/** A new secret, as it stands in a link, a header or a command line: there, what begins with "-" would be taken for an option. */
export function newSecret(random: (bytes: number) => Buffer = randomBytes): string {
  const secret = random(SECRET_BYTES).toString('base64url');
  return secret.startsWith('-') ? newSecret(random) : secret;
}

/** What is kept of a secret. It is random and long, so a plain hash gives nothing away (no salt, no stretching needed). */
export function hashOfSecret(secret: string): string {
  return createHash('sha256').update(secret).digest('hex');
}

/** What OWASP's Password Storage Cheat Sheet asks of scrypt at least: N = 2^17, r = 8, p = 1 (from memory). */
const COST = { N: 2 ** 17, r: 8, p: 1 };
const SALT_BYTES = 16;
const KEY_BYTES = 32;

/** A password as it is kept: `scrypt$N$r$p$salt$key` (RFC 7914). */
export async function hashOfPassword(password: string): Promise<string> {
  const salt = randomBytes(SALT_BYTES);
  const key = await derived(password, salt, COST);
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64url'), key.toString('base64url')].join('$');
}

/** Whether a password is the one that is kept. */
export async function isPassword(password: string, kept: string): Promise<boolean> {
  const [kind, N, r, p, salt, key] = kept.split('$');
  if (kind !== 'scrypt' || !salt || !key) return false;
  const expected = Buffer.from(key, 'base64url');
  const given = await derived(password, Buffer.from(salt, 'base64url'), { N: Number(N), r: Number(r), p: Number(p) });
  return expected.length === given.length && timingSafeEqual(expected, given);
}

function derived(password: string, salt: Buffer, cost: typeof COST): Promise<Buffer> {
  // The same letters typed on another keyboard are the same password.
  return new Promise((resolve, reject) =>
    scrypt(password.normalize('NFC'), salt, KEY_BYTES, { ...cost, maxmem: 256 * cost.N * cost.r }, (error, key) =>
      error ? reject(error) : resolve(key),
    ),
  );
}
