import { expect, test } from 'vitest';
import { PROBLEMS } from './catalogue.ts';
import { Problem } from './problem.ts';

test('the catalogue holds these codes; others see them, so they are not renamed', () => {
  expect(Object.keys(PROBLEMS)).toMatchSnapshot();
});

test.each(Object.entries(PROBLEMS))('%s says what is wrong and what to do, in sentences', (_, { what, remedy }) => {
  expect(what).toMatch(/^[A-Z{].*[.}]$/);
  expect(remedy).toMatch(/^[A-Z{].*[.}]$/);
});

test('values are filled in, and kept', () => {
  const problem = new Problem('size-mismatch', { trackSize: '640×360', plateSize: '1280×720' });
  expect(problem.sentence).toBe(
    'The track is for 640×360, the plate is 1280×720. Use the track with the plate it was made from, or scale the plate to that size.',
  );
  expect(problem).toBeInstanceOf(Error);
});
