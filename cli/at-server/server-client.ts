import { createWriteStream, openAsBlob, renameSync, rmSync, statSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { setTimeout as sleep } from 'node:timers/promises';
import { Problem } from '../../core/base/problem/problem.ts';
import { checked, type SchemaName, type SchemaTypes } from '../../core/base/schemas/check.ts';
import type { Job } from '../../core/base/schemas/types.ts';
import { progress } from '../options.ts';

/** How often a job is looked at, ms. */
const LOOK_EVERY_MS = 400;
/** A server that does not answer is asked again for so long: it may be starting again. */
const PATIENCE_MS = 60_000;

/** A Yarlop that runs elsewhere (docs/api.md), as the command line talks to it. */
export class ServerClient {
  private readonly base: string;

  constructor(
    server: string,
    private readonly token: string | undefined,
  ) {
    if (!URL.canParse(server) || !/^https?:$/.test(new URL(server).protocol))
      throw new Problem('bad-field', {
        where: 'the command',
        field: '--server',
        why: `is "${server}", not an address such as http://127.0.0.1:8460`,
      });
    this.base = `${server.replace(/\/+$/, '')}/api/v1`;
  }

  /** Calls a route; the reply is held to its schema. @throws Problem what the server says; server-unreachable */
  async call<R extends SchemaName>(method: string, path: string, reply: R, body?: unknown): Promise<SchemaTypes[R]> {
    return checked(reply, await this.json(method, path, body), `the reply to ${method} ${path}`);
  }

  /** Calls a route and gives what comes back as it is. */
  async json(method: string, path: string, body?: unknown): Promise<unknown> {
    const response = await this.fetch(path, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
    });
    return response.json();
  }

  /** Sends a file as the body. */
  async send<R extends SchemaName>(path: string, file: string, reply: R): Promise<SchemaTypes[R]> {
    if (!statSync(file, { throwIfNoEntry: false })?.isFile()) throw new Problem('file-missing', { file });
    const response = await this.fetch(path, {
      method: 'POST',
      body: await openAsBlob(file),
      headers: { 'Content-Type': 'application/octet-stream' },
    });
    return checked(reply, await response.json(), `the reply to POST ${path}`);
  }

  /** Fetches a file, whole or not at all. */
  async download(path: string, file: string): Promise<void> {
    const response = await this.fetch(path, {});
    const part = join(dirname(resolve(file)), `.${basename(file)}.${process.pid}.part`);
    try {
      await pipeline(Readable.fromWeb(response.body as never), createWriteStream(part));
      renameSync(part, file);
    } catch (error) {
      rmSync(part, { force: true });
      throw new Problem('file-unwritable', { file, why: (error as Error).message }, { cause: error });
    }
  }

  /** Waits until a job has ended, telling how far it is. A server that is started again meanwhile is waited for. @throws Problem job-came-to-nothing */
  async ended(job: Job, what: string): Promise<Job> {
    let now = job;
    for (let silentSince = 0; now.state === 'queued' || now.state === 'running' || now.state === 'paused';) {
      progress(now.state === 'paused' ? `${what} (held)` : what, now.done, Math.max(1, now.total));
      await sleep(LOOK_EVERY_MS);
      try {
        now = await this.call('GET', `/jobs/${job.id}`, 'apiJob');
        silentSince = 0;
      } catch (error) {
        silentSince ||= Date.now();
        if (
          !(error instanceof Problem) ||
          error.code !== 'server-unreachable' ||
          Date.now() - silentSince > PATIENCE_MS
        )
          throw error;
      }
    }
    if (now.state !== 'done')
      throw new Problem('job-came-to-nothing', { job: now.id, state: now.state, why: now.problem ?? '' });
    progress(what, now.total, Math.max(1, now.total));
    return now;
  }

  private async fetch(path: string, init: RequestInit): Promise<Response> {
    let response: Response;
    try {
      response = await fetch(this.base + path, {
        ...init,
        headers: {
          ...(init.headers as Record<string, string>),
          ...(this.token ? { Authorization: `Bearer ${this.token}` } : {}),
        },
      });
    } catch (error) {
      throw new Problem(
        'server-unreachable',
        {
          server: this.base,
          why: String((error as { cause?: { code?: string } }).cause?.code ?? (error as Error).message),
        },
        { cause: error },
      );
    }
    if (response.ok) return response;
    const told = (await response.json().catch(() => null)) as { message?: string; remedy?: string } | null;
    throw new Problem('server-refused', {
      message: told?.message ?? `The server answered with status ${response.status}.`,
      remedy: told?.remedy ?? 'Check the address.',
    });
  }
}
