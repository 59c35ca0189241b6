// @vitest-environment happy-dom
import { beforeEach, expect, test } from 'vitest';
import { DOCUMENT } from '../test/shot-parts.ts';
import { dropDraft, keepDraft, readDraft } from './draft-keeper.ts';

beforeEach(() => localStorage.clear());

test('a draft is kept by shot until it is dropped', () => {
  keepDraft(3, { base: 5, document: DOCUMENT });
  expect(readDraft(3)).toEqual({ base: 5, document: DOCUMENT });
  expect(readDraft(4)).toBeNull();
  dropDraft(3);
  expect(readDraft(3)).toBeNull();
});

test.each([
  '',
  'nonsense',
  '{"base":1}',
  '{"base":"x","document":{}}',
  `{"base":1,"document":{"format":"yarlop-shot/0"}}`,
])('what cannot be read is no draft: %s', (text) => {
  localStorage.setItem('yarlop-draft-3', text);
  expect(readDraft(3)).toBeNull();
});
