import { expect, test } from 'vitest';
import { otherChoices, useAlone, useOutline } from './use-outline.ts';

test('one outline alone; what else could be tried; used again it leaves no trace', () => {
  const outlines: { off?: boolean }[] = [{}, {}, { off: true }];
  expect(otherChoices(outlines)).toEqual([0, 1, 2]);
  useAlone(outlines, 2);
  expect(outlines).toEqual([{ off: true }, { off: true }, {}]);
  expect(otherChoices(outlines)).toEqual([0, 1]);
  useOutline(outlines[0]!, true);
  expect(outlines[0]).toEqual({});
  expect(otherChoices([{}])).toEqual([]);
});
