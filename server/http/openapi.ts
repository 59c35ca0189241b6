import { SCHEMA_REFERENCES } from '../../core/base/schemas/schema-references.ts';
import { SCHEMAS } from '../../core/base/schemas/validators.ts';
import { SESSION_COOKIE } from '../access/identity.ts';
import { VERSION } from '../version.ts';
import { describedRoutes, type DescribedRoute } from './route.ts';
import { FILE_WORDS, ROUTE_WORDS, type RouteWords } from './route-words.ts';

type Json = Record<string, unknown>;

/** Routes whose body is a file. */
const FILE_BODIES: readonly string[] = [
  'post /archives',
  'post /projects/:id/media',
  'post /guest/slots/:secret/content',
  'put /finished/:name',
];

/** The service as OpenAPI 3.1.0 describes it (OpenAPI Initiative, 2021): every route with what it takes and gives. */
export function openApi(): Json {
  const paths: Record<string, Json> = {};
  const components = new Components();
  const add = (path: string, method: string, operation: Json) =>
    (paths[templated(path)] = { ...paths[templated(path)], [method]: operation });
  for (const one of describedRoutes()) add(one.path, one.method, operationOf(one, components));
  for (const [path, { says, types, query }] of Object.entries(FILE_WORDS)) {
    add(path, 'get', {
      operationId: idOf('get', path),
      summary: says,
      parameters: [...pathParameters(path), ...queryParameters(query)],
      responses: {
        200: { description: says, content: Object.fromEntries(types.map((type) => [type, {}])) },
        default: problem(),
      },
    });
  }
  components.of('problem');
  return {
    openapi: '3.1.0',
    jsonSchemaDialect: 'https://json-schema.org/draft/2020-12/schema',
    info: {
      title: 'Yarlop',
      version: VERSION,
      description:
        'Following screens in plates, placing content on them, handing on the data. Errors are problem details (RFC 9457) with `code`, `message` and `remedy`. A POST with an `Idempotency-Key` is done once.',
    },
    servers: [{ url: '/api/v1' }],
    paths,
    components: {
      schemas: components.all(),
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'A token of an owner\u2019s making.' },
        session: { type: 'apiKey', in: 'cookie', name: SESSION_COOKIE },
      },
    },
    // On a machine of one's own nobody is asked.
    security: [{}, { token: [] }, { session: [] }],
  };
}

function operationOf({ method, path, body, reply }: DescribedRoute, components: Components): Json {
  const key = `${method} ${path}`;
  const words = ROUTE_WORDS[key];
  const says = words?.says ?? key;
  const taken = body
    ? { 'application/json': { schema: components.of(body) } }
    : FILE_BODIES.includes(key)
      ? { 'application/octet-stream': {} }
      : null;
  return {
    operationId: idOf(method, path),
    summary: says,
    parameters: [...pathParameters(path), ...queryParameters(words?.query)],
    ...(taken ? { requestBody: { required: true, content: taken } } : {}),
    responses: {
      200: { description: says, content: { 'application/json': { schema: components.of(reply) } } },
      default: problem(),
    },
  };
}

const problem = (): Json => ({
  description: 'What was wrong and what to do.',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/problem' } } },
});
const templated = (path: string): string => path.replace(/:(\w+)/g, '{$1}');
const idOf = (method: string, path: string): string =>
  `${method}${path.replace(/[^a-zA-Z0-9]+(\w)/g, (_, letter: string) => letter.toUpperCase()).replace(/\W/g, '')}`;

function pathParameters(path: string): Json[] {
  return [...path.matchAll(/:(\w+)/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema:
      name === 'id' || name === 'frame' || name === 'revision' || name === 'version'
        ? { type: 'integer', minimum: 0 }
        : { type: 'string' },
  }));
}

function queryParameters(query: RouteWords['query'] = {}): Json[] {
  return Object.entries(query).map(([name, { type, says, needed = false, known }]) => ({
    name,
    in: 'query',
    required: needed,
    description: says,
    schema: { type, ...(known ? { enum: known } : {}) },
  }));
}

/** Schemas of this project, which are draft 7 in several files, as components of one document in JSON Schema 2020-12. */
class Components {
  private readonly made = new Map<string, Json>();

  of(name: keyof typeof SCHEMA_REFERENCES): Json {
    return this.reference(SCHEMA_REFERENCES[name], name);
  }

  all(): Json {
    return Object.fromEntries([...this.made].sort(([a], [b]) => (a < b ? -1 : 1)));
  }

  private reference(uri: string, named?: string): Json {
    const [file, pointer = ''] = uri.split('#') as [string, string?];
    const short = file.slice(file.lastIndexOf('/') + 1).replace('.schema.json', '');
    const name = named ?? (pointer ? `${short}.${pointer.replace('/definitions/', '')}` : short);
    if (!this.made.has(name)) {
      // Entered before it is looked into: schemas may refer to themselves.
      this.made.set(name, {});
      this.made.set(name, this.converted(definitionAt(file, pointer), file) as Json);
    }
    return { $ref: `#/components/schemas/${name}` };
  }

  private converted(value: unknown, file: string): unknown {
    if (Array.isArray(value)) return value.map((item) => this.converted(item, file));
    if (typeof value !== 'object' || value === null) return value;
    const {
      $schema: _schema,
      $id: _id,
      definitions: _definitions,
      additionalItems: _additional,
      ...schema
    } = value as Json;
    if (typeof schema.$ref === 'string') return this.reference(new URL(schema.$ref, file).href);
    const rows = Object.entries(schema).map(([key, own]): [string, unknown] => {
      // A tuple of draft 7 has its items in order, and no more.
      if (key === 'items' && Array.isArray(own)) return ['prefixItems', own.map((item) => this.converted(item, file))];
      // What stands in these is data or names, not schemas.
      if (key === 'enum' || key === 'const' || key === 'required' || key === 'default') return [key, own];
      if (key === 'properties')
        return [
          key,
          Object.fromEntries(
            Object.entries(own as Json).map(([name, property]) => [name, this.converted(property, file)]),
          ),
        ];
      return [key, this.converted(own, file)];
    });
    return Object.fromEntries(Array.isArray(schema.items) ? [...rows, ['items', false]] : rows);
  }
}

function definitionAt(file: string, pointer: string): unknown {
  const schema = SCHEMAS.find(({ $id }) => $id === file);
  return pointer
    .split('/')
    .slice(1)
    .reduce<unknown>((value, key) => (value as Json)[key], schema);
}
