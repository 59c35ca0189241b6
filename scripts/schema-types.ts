/** Writes core/base/schemas/types.ts from the JSON Schemas beside it: the schemas are the one source. */
import { compile } from 'json-schema-to-typescript';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const folder = join(import.meta.dirname, '../core/base/schemas');

/** Files that hold definitions only, each of which is a schema of its own. */
const COLLECTIONS = [
  'access.schema.json',
  'api.schema.json',
  'archive.schema.json',
  'blend.schema.json',
  'content.schema.json',
  'front.schema.json',
  'job-work.schema.json',
  'loop.schema.json',
  'media.schema.json',
  'review.schema.json',
  'scene.schema.json',
  'send.schema.json',
  'variants.schema.json',
];

/** The text of core/base/schemas/types.ts. */
export async function schemaTypes(): Promise<string> {
  const files = readdirSync(folder)
    .filter((f) => f.endsWith('.schema.json') && !f.startsWith('common'))
    .sort();
  // One root that mentions every schema, so that shared pieces are declared once.
  const references = files.flatMap((file) =>
    COLLECTIONS.includes(file) ? definitionsOf(file).map((name) => `${file}#/definitions/${name}`) : [file],
  );
  const root = { title: 'AnySchema', anyOf: references.map(($ref) => ({ $ref })) };
  return compile(root, 'AnySchema', {
    bannerComment: '// Made by `npm run schemas` from the .schema.json files beside this one. Do not edit.',
    additionalProperties: false,
    cwd: `${folder}/`,
    style: { singleQuote: true, printWidth: 140 },
  });
}

function definitionsOf(file: string): string[] {
  return Object.keys((JSON.parse(readFileSync(join(folder, file), 'utf8')) as { definitions: object }).definitions);
}

if (process.argv[1] === import.meta.filename) writeFileSync(join(folder, 'types.ts'), await schemaTypes());
