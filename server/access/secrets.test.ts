import { expect, test } from 'vitest';
import { newSecret } from './secrets.ts';

test('a secret never begins as an option of a command line does', () => {
  const drawn = [Buffer.alloc(32, 0xfb), Buffer.alloc(32, 7)];
  expect(drawn[0]!.toString('base64url')).toMatch(/^-/);
  expect(newSecret(() => drawn.shift()!)).toBe(Buffer.alloc(32, 7).toString('base64url'));
  expect(newSecret()).toMatch(/^[A-Za-z0-9_][A-Za-z0-9_-]{42}$/);
});
