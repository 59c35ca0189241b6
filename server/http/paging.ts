import type { Request, Response } from 'express';
import { Problem } from '../../core/base/problem/problem.ts';

/** Most rows that are answered at once, and as many as come where nothing is said. */
const MOST_ROWS = 1000;

/**
 * The part of a list that was asked for: `?limit=N` rows after the one whose id is `?after=ID`. Where more follow, a Link header leads to them
 * (RFC 8288, relation "next"), so that nobody has to make addresses up. @throws Problem bad-field
 */
export function page<T extends { readonly id: number }>(req: Request, res: Response, rows: readonly T[]): T[] {
  const limit = wholeNumber(req, 'limit', 1, MOST_ROWS) ?? MOST_ROWS;
  const after = wholeNumber(req, 'after', 0, Number.MAX_SAFE_INTEGER);
  const at = after === null ? -1 : rows.findIndex((row) => row.id === after);
  // What it stood after may be gone meanwhile; to begin anew would tell rows twice.
  if (after !== null && at < 0) throw new Problem('not-found', { thing: 'row', id: after });
  const some = rows.slice(at + 1, at + 1 + limit);
  if (at + 1 + limit < rows.length)
    res.set('Link', `<${req.baseUrl}${req.path}?limit=${limit}&after=${some.at(-1)!.id}>; rel="next"`);
  return some;
}

function wholeNumber(req: Request, name: string, least: number, most: number): number | null {
  const text = req.query[name];
  if (text === undefined) return null;
  const value = typeof text === 'string' && /^\d{1,16}$/.test(text) ? Number(text) : NaN;
  if (!(value >= least && value <= most))
    throw new Problem('bad-field', {
      where: 'the address',
      field: name,
      why: `is not a whole number from ${least} to ${most}`,
    });
  return value;
}
