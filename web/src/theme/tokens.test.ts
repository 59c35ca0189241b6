import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';

const SOURCES = join(import.meta.dirname, '..');
const vueFiles = readdirSync(SOURCES, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.vue'));
const tokens = readFileSync(join(SOURCES, 'theme/tokens.css'), 'utf8');

/** What a file's style says of colours by their numbers. */
const literals = (style: string) => style.match(/#[0-9a-f]{3,8}\b|\b(?:rgb|hsl)a?\([^)]*\)/gi) ?? [];
const styleOf = (text: string) => /<style[^>]*>([\s\S]*)<\/style>/.exec(text)?.[1] ?? '';

test('colours of the page stand in one place: no style names one by its numbers', () => {
  expect(literals('a { color: #ffF; background: rgb(0 0 0 / 20%) }')).toEqual(['#ffF', 'rgb(0 0 0 / 20%)']);
  expect(vueFiles.length).toBeGreaterThan(100);
  const found = vueFiles.flatMap((name) =>
    literals(styleOf(readFileSync(join(SOURCES, name), 'utf8'))).map((colour) => `${name}: ${colour}`),
  );
  expect(found).toEqual([]);
});

test('every name of a colour or size that styles use is one that is set somewhere', () => {
  const styles = vueFiles.map((name) => readFileSync(join(SOURCES, name), 'utf8'));
  const text = [...styles, tokens, readFileSync(join(SOURCES, 'theme/workspace.css'), 'utf8')].join('\n');
  const used = new Set([...text.matchAll(/var\((--[\w-]+)\s*\)/g)].map((match) => match[1]!));
  const set = new Set([...text.matchAll(/(--[\w-]+)'?\s*:/g)].map((match) => match[1]!));
  expect([...used].filter((name) => !name.startsWith('--bs-') && !set.has(name))).toEqual([]);
});
