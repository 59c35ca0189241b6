import { expect, test } from 'vitest';
import { PROBLEMS, type ProblemCode } from '../../core/base/problem/catalogue.ts';
import { statusOf } from './status-of.ts';

test('every problem has a status of its own choosing; others see both, so they are not changed', () => {
  const codes = Object.keys(PROBLEMS) as ProblemCode[];
  expect(Object.fromEntries(codes.map((code) => [code, statusOf(code)]))).toMatchSnapshot();
});
