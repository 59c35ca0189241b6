import type { Request, RequestHandler, Response, Router } from 'express';
import { Problem } from '../../core/base/problem/problem.ts';
import { checked, type SchemaName, type SchemaTypes } from '../../core/base/schemas/check.ts';

export interface RouteInput<B> {
  req: Request;
  res: Response;
  body: B;
  /** A path parameter as a row number. */
  id(name?: string): number;
}

export type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';

/** What is known of a JSON route without calling it. */
export interface DescribedRoute {
  readonly method: Method;
  readonly path: string;
  readonly body: SchemaName | null;
  readonly reply: SchemaName;
}

/** Routes that were made, by method and path; a second service in one process makes the same. */
const made = new Map<string, DescribedRoute>();
export const describedRoutes = (): DescribedRoute[] => [...made.values()];

/** A JSON route: the body is held to its schema before the handler sees it, the reply before it leaves. */
export function route<R extends SchemaName, B extends SchemaName | undefined = undefined>(
  router: Router,
  method: Method,
  path: string,
  schemas: { body?: B; reply: R },
  handler: (input: RouteInput<B extends SchemaName ? SchemaTypes[B] : undefined>) => Promise<SchemaTypes[R]>,
): void {
  const handle: RequestHandler = async (req, res) => {
    const body = schemas.body === undefined ? undefined : checked(schemas.body, req.body as unknown, 'the request');
    const reply = await handler({ req, res, body: body as never, id: (name = 'id') => rowNumber(req, name) });
    res.json(checked(schemas.reply, reply, `the reply to ${method} ${path}`));
  };
  made.set(`${method} ${path}`, { method, path, body: schemas.body ?? null, reply: schemas.reply });
  router[method](path, handle);
}

export function rowNumber(req: Request, name: string): number {
  const text = String(req.params[name] ?? '');
  const id = Number(text);
  if (!/^\d{1,15}$/.test(text) || id < 0)
    throw new Problem('bad-field', { where: 'the address', field: name, why: `is "${text}", not a number` });
  return id;
}
