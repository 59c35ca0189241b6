import { checked, type SchemaName, type SchemaTypes } from '../../../core/base/schemas/check.ts';
import type { ProblemReply } from '../../../core/base/schemas/types.ts';
import { BASE } from './urls.ts';

/** An answer that says what was wrong and what to do. */
export class ApiProblem extends Error {
  override readonly name = 'ApiProblem';
  constructor(
    readonly status: number,
    readonly reply: ProblemReply,
  ) {
    super(`${reply.message} ${reply.remedy}`);
  }
}

/** Calls the API; the reply is held to its schema before anybody sees it. */
export async function call<R extends SchemaName>(
  method: string,
  path: string,
  reply: R,
  body?: unknown,
  options: { keepalive?: boolean } = {},
): Promise<SchemaTypes[R]> {
  let response: Response;
  try {
    response = await fetch(BASE + path, {
      method,
      keepalive: options.keepalive ?? false,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
    });
  } catch (error) {
    throw unreachable(error);
  }
  return checked(reply, await readReply(response), `the reply to ${method} ${path}`);
}

/** Sends a file as it is. */
export async function sendFile<R extends SchemaName>(path: string, reply: R, file: Blob): Promise<SchemaTypes[R]> {
  let response: Response;
  try {
    response = await fetch(BASE + path, {
      method: 'POST',
      body: file,
      headers: { 'Content-Type': 'application/octet-stream' },
    });
  } catch (error) {
    throw unreachable(error);
  }
  return checked(reply, await readReply(response), `the reply to POST ${path}`);
}

async function readReply(response: Response): Promise<unknown> {
  const data: unknown = await response.json().catch(() => null);
  if (response.ok) return data;
  throw problemFrom(response.status, data);
}

export function problemFrom(status: number, data: unknown): ApiProblem {
  try {
    return new ApiProblem(status, checked('problem', data, 'the reply'));
  } catch {
    return new ApiProblem(status, {
      code: 'unknown',
      message: `The server answered with status ${status}.`,
      remedy: 'Try again.',
      request: '',
    });
  }
}

export function unreachable(cause: unknown): ApiProblem {
  void cause;
  return new ApiProblem(0, {
    code: 'unreachable',
    message: 'The server does not answer.',
    remedy: 'Check that Yarlop is running; your edits are kept here meanwhile.',
    request: '',
  });
}

/** Text at an address of the API. */
export async function fetchText(url: string): Promise<string> {
  let response: Response;
  try {
    response = await fetch(url);
  } catch (error) {
    throw unreachable(error);
  }
  if (!response.ok) throw problemFrom(response.status, await response.json().catch(() => null));
  return response.text();
}
