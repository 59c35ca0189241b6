import { vi } from 'vitest';

/** What a route of the table answers: a value, or what a function makes of the request's body. */
export type Answer = unknown;
type Answering = (body: never, address: string) => unknown;

/** An answer that is a problem, as the service words it. */
export class Refusal {
  readonly status: number;
  readonly body: { code: string; message: string; remedy: string; request: string; current?: number };
  constructor(status: number, code: string, message: string, more: { remedy?: string; current?: number } = {}) {
    this.status = status;
    this.body = { code, message, remedy: 'Do something else.', request: 'r1', ...more };
  }
}

/** The network is away: what is asked meanwhile fails as a fetch fails. */
export const AWAY = Symbol('away');

export interface Call {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
}

/**
 * Answers the page's requests from a table, "METHOD /path" (without /api/v1; with its query) to answer; what is not in it is refused with 404.
 * Answers are held to the same schemas as the service's own.
 */
export class TableApi {
  readonly calls: Call[] = [];
  readonly table: Map<string, Answer>;

  constructor(table: Record<string, Answer> = {}) {
    this.table = new Map(Object.entries(table));
    vi.stubGlobal('fetch', (url: string | URL | Request, options: RequestInit = {}) => this.answer(url, options));
  }
  on(route: string, answer: Answer): this {
    this.table.set(route, answer);
    return this;
  }
  /** Requests of a route, in their order. */
  asked(method: string, path: string | RegExp): Call[] {
    return this.calls.filter(
      (call) => call.method === method && (typeof path === 'string' ? call.path === path : path.test(call.path)),
    );
  }
  /** The body of a route's last request. */
  last(method: string, path: string | RegExp): unknown {
    return this.asked(method, path).at(-1)?.body;
  }

  private async answer(url: string | URL | Request, options: RequestInit): Promise<Response> {
    const address = url instanceof Request ? url.url : String(url);
    const path = address.replace(/^https?:\/\/[^/]+/, '').replace(/^\/api\/v1/, '');
    const method = options.method ?? 'GET';
    const body: unknown = typeof options.body === 'string' ? JSON.parse(options.body) : options.body;
    this.calls.push({ method, path, body });
    const told = this.table.get(`${method} ${path}`) ?? this.table.get(`${method} ${path.replace(/\?.*$/, '')}`);
    const made: unknown = await (typeof told === 'function' ? (told as Answering)(body as never, path) : told);
    if (made === AWAY) throw new TypeError('Failed to fetch');
    if (made instanceof Refusal) return reply(made.status, made.body);
    if (made instanceof Response) return made;
    if (told === undefined)
      return reply(404, {
        code: 'no-route',
        message: `The table has no ${method} ${path}.`,
        remedy: 'Add it.',
        request: '',
      });
    return reply(200, made);
  }
}

const reply = (status: number, body: unknown): Response =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
