import { clamp } from '../../core/base/geometry/clamp.ts';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Job, Media } from '../../core/base/schemas/types.ts';
import { Described } from './described.ts';

/** How often a test asks whether something came: each time costs the service as much as a page's question. */
const OFTEN_MS = 60;
const SELDOM_MS = 300;

/** The HTTP interface as another program would use it. */
export class Api {
  private described: Promise<Described> | null = null;

  /** `headers` go with every request: a token, a session. */
  constructor(
    readonly address: string,
    private readonly headers: Readonly<Record<string, string>> = {},
  ) {}

  /** The same service, asked by somebody else. */
  as(headers: Readonly<Record<string, string>>): Api {
    return new Api(this.address, headers);
  }

  async request(
    method: string,
    path: string,
    body?: unknown,
  ): Promise<{ status: number; body: never; headers: Headers }> {
    const response = await fetch(`${this.address}/api/v1${path}`, {
      method,
      headers: { ...this.headers, ...(body === undefined ? {} : { 'Content-Type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const reply = (await response.json()) as never;
    // Every test of the service is one of its description too.
    this.described ??= Described.of(this.address);
    (await this.described).check(
      method,
      path,
      body,
      response.status,
      response.headers.get('content-type') ?? '',
      reply,
    );
    return { status: response.status, body: reply, headers: response.headers };
  }
  /** The reply's body; throws when it is a problem. */
  async call<T>(method: string, path: string, body?: unknown): Promise<T> {
    const reply = await this.request(method, path, body);
    if (reply.status !== 200) throw new Error(`${method} ${path}: ${reply.status} ${JSON.stringify(reply.body)}`);
    return reply.body;
  }
  async bytes(path: string): Promise<Buffer> {
    const response = await fetch(`${this.address}/api/v1${path}`, { headers: this.headers });
    if (!response.ok) throw new Error(`${path}: ${response.status}`);
    return Buffer.from(await response.arrayBuffer());
  }
  async upload(projectId: number, name: string, bytes: Uint8Array | string): Promise<{ status: number; body: never }> {
    const response = await fetch(
      `${this.address}/api/v1/projects/${projectId}/media?name=${encodeURIComponent(name)}`,
      { method: 'POST', body: bytes as BodyInit },
    );
    return { status: response.status, body: (await response.json()) as never };
  }
  /** Waits until a job has ended. */
  async ended(jobId: number, seconds = 120): Promise<Job> {
    const isOver = (job: Job) => job.state !== 'queued' && job.state !== 'running';
    return this.until(`/jobs/${jobId}`, isOver, seconds, SELDOM_MS);
  }
  /** Asks again and again; with `most`, ever more seldom up to so many ms, where it does not matter when exactly it is noticed. */
  async until<T>(path: string, reached: (value: T) => boolean, seconds = 120, most = OFTEN_MS): Promise<T> {
    const begun = Date.now();
    const end = begun + seconds * 1000;
    for (;;) {
      const value = await this.call<T>('GET', path);
      if (reached(value)) return value;
      if (Date.now() > end)
        throw new Error(`${path} did not get there in ${seconds} s: ${JSON.stringify(value).slice(0, 500)}`);
      await sleep(clamp((Date.now() - begun) / 10, OFTEN_MS / 2, most));
    }
  }
  async bringIn(projectId: number, name: string, bytes: Uint8Array | string): Promise<{ media: Media; job: Job }> {
    const { status, body } = await this.upload(projectId, name, bytes);
    if (status !== 200) throw new Error(`upload of ${name}: ${status} ${JSON.stringify(body)}`);
    const reply = body as { media: Media; job: Job };
    const job = await this.ended(reply.job.id);
    return { media: await this.call('GET', `/media/${reply.media.id}`), job };
  }
}
