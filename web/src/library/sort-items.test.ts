import { expect, test } from 'vitest';
import { findItems } from './sort-items.ts';

const item = (name: string, createdAt: string, change: object = {}) => ({
  name,
  createdAt,
  archived: false,
  ...change,
});
const ITEMS = [
  item('Shot 10', '2026-01-03'),
  item('shot 2', '2026-01-01', { changedAt: '2026-02-01' }),
  item('Glove phone', '2026-01-02'),
  item('Old bench', '2025-01-01', { archived: true }),
];
const names = (...args: [string, 'name' | 'newest' | 'changed', boolean]) =>
  findItems(ITEMS, ...args).map((i) => i.name);

test('names are in the order people count in', () =>
  expect(names('', 'name', false)).toEqual(['Glove phone', 'shot 2', 'Shot 10']));
test('newest and last changed come first', () => {
  expect(names('', 'newest', false)).toEqual(['Shot 10', 'Glove phone', 'shot 2']);
  expect(names('', 'changed', false)[0]).toBe('shot 2');
});
test('all words must be there, in any order and case', () => {
  expect(names('phone GLOVE', 'name', false)).toEqual(['Glove phone']);
  expect(names('phone 2', 'name', false)).toEqual([]);
});
test('archived ones are shown by themselves', () => expect(names('', 'name', true)).toEqual(['Old bench']));
