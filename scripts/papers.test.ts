import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { expect, test } from 'vitest';
import { noticeText } from './notice.ts';

const ROOT = join(import.meta.dirname, '..');
const PAPERS = [
  'README.md',
  'CONTRIBUTING.md',
  'docs/architecture.md',
  'docs/command-line.md',
  'docs/gallery.md',
  'docs/measuring.md',
  'docs/settings.md',
  'docs/glossary.md',
  ...readdirSync(join(ROOT, 'docs/decisions')).map((name) => `docs/decisions/${name}`),
];

test('NOTICE names what is shipped, as the lock file has it (npm run notice writes it)', () => {
  expect(readFileSync(join(ROOT, 'NOTICE'), 'utf8')).toBe(noticeText());
});

test.each(PAPERS)('%s: links lead somewhere, and files that are named with their folder are there', (paper) => {
  const text = readFileSync(join(ROOT, paper), 'utf8');
  const links = [...text.matchAll(/\]\(([^)#\s]+)[^)]*\)/g)]
    .map(([, to]) => to!)
    .filter((to) => !/^https?:/.test(to))
    .map((to) => join(dirname(paper), to));
  const named = [...text.matchAll(/`((?:core|server|web|cli|demo|bench|e2e|scripts|docs)\/[\w./-]+\.\w+)`/g)].map(
    ([, path]) => path!,
  );
  expect([...links, ...named].filter((path) => !existsSync(join(ROOT, path)))).toEqual([]);
});

test('architecture is a paper for ten minutes: at most 250 lines', () => {
  expect(readFileSync(join(ROOT, 'docs/architecture.md'), 'utf8').split('\n').length).toBeLessThanOrEqual(250);
});

test('decisions are numbered without a gap', () => {
  const numbers = readdirSync(join(ROOT, 'docs/decisions')).map((name) => Number(name.slice(0, 4)));
  expect(numbers.sort((a, b) => a - b)).toEqual(numbers.map((_, i) => i + 1));
});
