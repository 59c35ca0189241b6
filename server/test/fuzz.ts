import { randomFrom } from '../../core/motion/scene/seeded-random.ts';
import { request } from 'node:http';
import { Api } from './api.ts';

type Json = Record<string, unknown>;
interface Operation {
  readonly parameters?: readonly { readonly name: string; readonly in: string; readonly schema: Json }[];
  readonly requestBody?: { readonly content: Readonly<Record<string, { readonly schema?: Json }>> };
}
interface Description {
  readonly paths: Readonly<Record<string, Readonly<Record<string, Operation>>>>;
  readonly components: { readonly schemas: Readonly<Record<string, Json>> };
}

/** What came of many made-up requests. */
export interface FuzzReport {
  readonly asked: number;
  /** How often each status was answered. */
  readonly statuses: ReadonlyMap<number, number>;
  /** Requests that were answered as they must not be, with what was wrong. */
  readonly faults: readonly string[];
}

/** What people and programs send by mistake, or on purpose. */
const ODD: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  1e308,
  2 ** 53,
  -0.5,
  '',
  ' ',
  '\u0000',
  '‮abc',
  '../../etc/passwd',
  "'; DROP TABLE shots; --",
  '<script>alert(1)</script>',
  '{{7*7}}',
  '%00',
  'a'.repeat(5000),
  [],
  [[]],
  {},
  { __proto__: null, constructor: 1 },
  [null],
  '2026-13-45',
  '1e999',
];
const ODD_WORDS = [
  '0',
  '1',
  '2',
  '3',
  '99999',
  '-1',
  '1.5',
  '999999999999999999999',
  'abc',
  '%2e%2e%2f',
  '..',
  '%00',
  'NaN',
  "1'%20OR%20'1'='1",
  '%F0%9F%8C%B1',
  '%',
];

/**
 * Sends `count` requests to every route that the service describes: bodies as they should be, and with one or more places gone wrong. Nothing may
 * be answered with a fault of the service's own (5xx; but 503 and 507 say that a tool or room is missing), or other than as problem details.
 */
export async function fuzz(
  address: string,
  count: number,
  seed: number,
  skip: readonly string[] = [],
): Promise<FuzzReport> {
  const description = await new Api(address).call<Description>('GET', '/openapi.json');
  const random = randomFrom(seed);
  const faults: string[] = [];
  const statuses = new Map<number, number>();
  const maker = new Values(description, random);
  const routes = Object.entries(description.paths)
    .flatMap(([path, operations]) =>
      Object.entries(operations).map(([method, operation]) => ({ path, method, operation })),
    )
    .filter(({ path, method }) => path !== '/events' && !skip.includes(`${method} ${path}`));
  for (let i = 0; i < count; i++) {
    const { path, method, operation } = maker.pick(routes);
    const body = operation.requestBody?.content['application/json']?.schema;
    const text = body ? maker.body(body) : operation.requestBody ? maker.bytes() : undefined;
    const asked = `${path.replace(/\{(\w+)\}/g, () => (random() < 0.75 ? String(1 + Math.floor(random() * 4)) : maker.pick(ODD_WORDS)))}${maker.query(operation)}`;
    const { status, type, reply } = await send(
      address,
      method.toUpperCase(),
      asked,
      text,
      body ? 'application/json' : 'application/octet-stream',
    );
    statuses.set(status, (statuses.get(status) ?? 0) + 1);
    const wrong =
      status >= 500 && status !== 503 && status !== 507
        ? 'is a fault of the service'
        : status >= 400 && !type.startsWith('application/problem+json')
          ? `is reported as ${type || 'nothing'}`
          : null;
    if (wrong)
      faults.push(
        `${method.toUpperCase()} ${asked} ${text?.slice(0, 300) ?? ''}: ${status} ${wrong}: ${reply.slice(0, 300)}`,
      );
  }
  return { asked: count, statuses, faults };
}

/** Makes values for schemas, right ones and wrong ones. */
class Values {
  constructor(
    private readonly description: Description,
    private readonly random: () => number,
  ) {}

  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)]!;
  }

  body(schema: Json): string {
    const value = this.of(schema, 0);
    const chance = this.random();
    if (chance < 0.04)
      return this.pick(['', '{', '[1,', '{"a":1e999}', '"', '\u0000', '{"__proto__":{"x":1}}', 'null', '[[[[[[[[']);
    return JSON.stringify(chance < 0.4 ? value : this.spoilt(value)) ?? 'null';
  }

  bytes(): string {
    return this.pick([
      '',
      'PK\u0003\u0004 no zip',
      '<svg xmlns="http://www.w3.org/2000/svg"><image href="http://127.0.0.1/"/></svg>',
      'a'.repeat(2000),
    ]);
  }

  query({ parameters = [] }: Operation): string {
    const given = parameters
      .filter((one) => one.in === 'query' && this.random() < 0.7)
      .map(
        ({ name, schema }) =>
          `${name}=${this.random() < 0.5 ? this.pick(ODD_WORDS) : encodeURIComponent(String(schema.enum ? this.pick(schema.enum as string[]) : Math.floor(this.random() * 10)))}`,
      );
    return given.length > 0 ? `?${given.join('&')}` : '';
  }

  /** A value that fits, as far as that is simple. */
  private of(schema: Json, depth: number): unknown {
    if (typeof schema.$ref === 'string')
      return this.of(this.description.components.schemas[schema.$ref.split('/').at(-1)!] ?? {}, depth);
    const { random } = this;
    const choice = (schema.anyOf ?? schema.oneOf) as Json[] | undefined;
    if (choice) return this.of(this.pick(choice), depth + 1);
    if (schema.const !== undefined) return schema.const;
    if (schema.enum) return this.pick(schema.enum as unknown[]);
    switch (Array.isArray(schema.type) ? this.pick(schema.type) : schema.type) {
      case 'object': {
        const properties = Object.entries((schema.properties ?? {}) as Record<string, Json>);
        const required = (schema.required ?? []) as string[];
        return Object.fromEntries(
          properties
            .filter(([name]) => required.includes(name) || (depth < 5 && random() < 0.35))
            .map(([name, own]) => [name, this.of(own, depth + 1)]),
        );
      }
      case 'array': {
        const first = (schema.prefixItems ?? []) as Json[];
        const least = Number(schema.minItems ?? 0);
        if (first.length > 0) return first.map((one) => this.of(one, depth + 1));
        return Array.from({ length: Math.max(least, depth > 6 ? 0 : Math.floor(random() * 4)) }, () =>
          this.of((schema.items ?? {}) as Json, depth + 1),
        );
      }
      case 'integer':
        return Math.round(this.number(schema));
      case 'number':
        return this.number(schema);
      case 'boolean':
        return random() < 0.5;
      case 'null':
        return null;
      case 'string':
        return this.pick(['bed 4', 'Käse & Co', 'abc', 'x'.repeat(Number(schema.minLength ?? 1)), '#a0b0c0']);
      default:
        return this.pick(ODD);
    }
  }

  private number({ minimum, maximum, exclusiveMinimum }: Json): number {
    const least = Number(minimum ?? exclusiveMinimum ?? -50);
    const most = Math.min(Number(maximum ?? 1300), least + 1300);
    return this.random() < 0.15 ? this.pick([least, most]) : least + this.random() * (most - least);
  }

  /** With one place changed to something odd, or gone, or one too many. */
  private spoilt(value: unknown): unknown {
    const { random } = this;
    if (typeof value !== 'object' || value === null || random() < 0.15) return this.pick(ODD);
    const keys = Object.keys(value);
    if (keys.length === 0) return { unknown: 1 };
    const copy = (Array.isArray(value) ? [...(value as unknown[])] : { ...value }) as Record<string, unknown>;
    const key = this.pick(keys);
    const how = random();
    if (how < 0.6) copy[key] = this.spoilt(copy[key]);
    else if (how < 0.75) delete copy[key];
    else if (how < 0.85) copy[`${key}x`] = 1;
    else copy[key] = this.pick(ODD);
    return copy;
  }
}

/** As it is: not made plain by the client, as fetch would. */
function send(
  address: string,
  method: string,
  path: string,
  body: string | undefined,
  type: string,
): Promise<{ status: number; type: string; reply: string }> {
  return new Promise((resolve, reject) => {
    const { hostname, port } = new URL(address);
    const asked = request(
      {
        hostname,
        port,
        method,
        path: `/api/v1${path.replace(/[^\x21-\x7e]/g, '_')}`,
        headers: body === undefined ? {} : { 'Content-Type': type, 'Content-Length': Buffer.byteLength(body) },
      },
      (res) => {
        const parts: Buffer[] = [];
        res.on('data', (part: Buffer) => parts.push(part));
        res.on('end', () =>
          resolve({
            status: res.statusCode!,
            type: res.headers['content-type'] ?? '',
            reply: Buffer.concat(parts).toString('utf8', 0, 2000),
          }),
        );
        res.on('error', reject);
      },
    );
    asked.setTimeout(30_000, () => asked.destroy(new Error(`${method} ${path} was not answered within 30 s`)));
    asked.on('error', reject);
    asked.end(body);
  });
}
