import { Problem } from '../../core/base/problem/problem.ts';

/** The value or a not-found Problem. */
export function found<T>(value: T | null | undefined, thing: string, id: number | string): T {
  if (value === null || value === undefined) throw new Problem('not-found', { thing, id });
  return value;
}
