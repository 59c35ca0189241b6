import { Problem } from '../../core/base/problem/problem.ts';

/** The last part of a name that a person's machine gave; it is shown, and never becomes a path. */
export function cleanName(given: string): string {
  const name = given
    .split(/[\\/]/)
    .at(-1)!
    .replace(/\p{Cc}/gu, '')
    .slice(0, 255)
    .trim();
  if (!name) throw new Problem('bad-field', { where: 'the request', field: 'name', why: 'is missing' });
  return name;
}
