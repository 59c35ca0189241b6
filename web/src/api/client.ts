import { checked, type SchemaName, type SchemaTypes } from '../../../core/schemas/check.ts';
import type { ProblemReply } from '../../../core/schemas/types.ts';
import { BASE } from './urls.ts';

/** An answer that says what was wrong and what to do. */
export class ApiProblem extends Error {
  override readonly name = 'ApiProblem';
  constructor(readonly status: number, readonly reply: ProblemReply) {
    super(`${reply.message} ${reply.remedy}`);
  }
}

/** Calls the API; the reply is held to its schema before anybody sees it. */
export async function call<R extends SchemaName>(method: string, path: string, reply: R, body?: unknown, options: { keepalive?: boolean } = {}): Promise<SchemaTypes[R]> {
  let response: Response;
  try {
    response = await fetch(BASE + path, {
      method, keepalive: options.keepalive ?? false,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
    });
  } catch (error) {
    throw unreachable(error);
  }
  return checked(reply, await readReply(response), `the reply to ${method} ${path}`);
}

async function readReply(response: Response): Promise<unknown> {
  const data: unknown = await response.json().catch(() => null);
  if (response.ok) return data;
  throw problemFrom(response.status, data);
}

function problemFrom(status: number, data: unknown): ApiProblem {
  try {
    return new ApiProblem(status, checked('problem', data, 'the reply'));
  } catch {
    return new ApiProblem(status, { code: 'unknown', message: `The server answered with status ${status}.`, remedy: 'Try again.', request: '' });
  }
}

function unreachable(cause: unknown): ApiProblem {
  void cause;
  return new ApiProblem(0, { code: 'unreachable', message: 'The server does not answer.', remedy: 'Check that Yarlop is running; your edits are kept here meanwhile.', request: '' });
}

/** Sends a file with progress 0…1; resolves with the checked reply. */
export function upload(projectId: number, name: string, file: Blob, onProgress: (share: number) => void, signal: AbortSignal): Promise<SchemaTypes['uploadReply']> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', `${BASE}/projects/${projectId}/media?name=${encodeURIComponent(name)}`);
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    request.responseType = 'json';
    request.upload.onprogress = (event) => onProgress(event.lengthComputable ? event.loaded / event.total : 0);
    request.onload = () => {
      try {
        if (request.status !== 200) throw problemFrom(request.status, request.response);
        resolve(checked('uploadReply', request.response, 'the reply to the upload'));
      } catch (error) {
        reject(error as Error);
      }
    };
    request.onerror = () => reject(unreachable(null));
    request.onabort = () => reject(new DOMException('cancelled', 'AbortError'));
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}
