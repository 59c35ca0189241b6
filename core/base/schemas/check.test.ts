import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { schemaTypes } from '../../../scripts/schema-types.ts';
import { Problem } from '../problem/problem.ts';
import { checked, parsed } from './check.ts';
import type { SchemaName } from './schema-names.ts';
import { SCHEMA_REFERENCES } from './schema-references.ts';
import { validatorOf } from './validators.ts';

const JOB = {
  pixelCentre: 'half',
  referenceFrame: 3,
  motion: 'perspective',
  regions: [
    {
      points: [
        [0, 0],
        [9, 0],
        [9, 9],
      ],
    },
  ],
  corners: [
    [0, 0],
    [9, 0],
    [9, 9],
    [0, 9],
  ],
};

function sentence(change: object | string): string {
  try {
    if (typeof change === 'string') parsed('job', change, 'job.json');
    else checked('job', { ...JOB, ...change }, 'job.json');
  } catch (error) {
    expect(error).toBeInstanceOf(Problem);
    return (error as Problem).message;
  }
  throw new Error('it passed');
}

describe('checked', () => {
  test('gives the value back when it fits', () => expect(checked('job', JOB, 'job.json')).toBe(JOB));
  test.each<[string, object | string, RegExp]>([
    ['a missing field', { motion: undefined }, /job\.json: motion /],
    ['a field nobody knows', { colour: 'red' }, /colour is not known here/],
    ['a wrong word', { motion: 'wobble' }, /motion must be one of translation, similarity, affine, perspective/],
    ['three corners', { corners: JOB.corners.slice(1) }, /corners/],
    ['text for a number', { referenceFrame: '3' }, /referenceFrame must be integer/],
    ['a negative frame', { referenceFrame: -1 }, /referenceFrame/],
    [
      'a point deep inside',
      {
        regions: [
          {
            points: [
              [0, 0],
              [1, 'a'],
              [2, 2],
            ],
          },
        ],
      },
      /regions\[0\]\.points\[1\]\[1\] must be number/,
    ],
    [
      'an infinite number',
      '{"pixelCentre":"half","referenceFrame":0,"motion":"affine","regions":[],"corners":[[1e999,0],[1,0],[1,1],[0,1]]}',
      /corners\[0\]\[0\]/,
    ],
    ['not JSON', '{"a":', /job\.json is not valid JSON/],
    ['a word that is not JSON', '{"a":NaN}', /not valid JSON/],
  ])('names the file and the field: %s', (_, change, words) => expect(sentence(change)).toMatch(words));
});

test('every schema compiles', () => {
  for (const name of Object.keys(SCHEMA_REFERENCES) as SchemaName[])
    expect(validatorOf(name)({})).toBeTypeOf('boolean');
});

test('the types are those of the schemas', async () => {
  expect(readFileSync(join(import.meta.dirname, 'types.ts'), 'utf8')).toBe(await schemaTypes());
});
