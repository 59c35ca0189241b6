import { describe, expect, test } from 'vitest';
import { bounds, quadFault, sideRatio, signedArea, type Quad } from './quad.ts';

const SCREEN: Quad = [
  [100, 100],
  [500, 110],
  [490, 380],
  [95, 370],
];

describe('quadFault', () => {
  test.each<[string, Quad, ReturnType<typeof quadFault>]>([
    ['a screen', SCREEN, null],
    ['a screen seen in a mirror', [SCREEN[1], SCREEN[0], SCREEN[3], SCREEN[2]], null],
    ['a screen turned upside down', [SCREEN[2], SCREEN[3], SCREEN[0], SCREEN[1]], null],
    [
      'corners outside the picture',
      [
        [-900, -50],
        [4000, 10],
        [4100, 2000],
        [-800, 1900],
      ],
      null,
    ],
    ['two neighbours swapped', [SCREEN[1], SCREEN[0], SCREEN[2], SCREEN[3]], 'crossed'],
    [
      'a dent',
      [
        [0, 0],
        [100, 0],
        [20, 20],
        [0, 100],
      ],
      'concave',
    ],
    [
      'three on a line',
      [
        [0, 0],
        [50, 0],
        [100, 0],
        [50, 90],
      ],
      'concave',
    ],
    [
      'two corners on one spot',
      [
        [0, 0],
        [1, 0],
        [100, 80],
        [0, 90],
      ],
      'too-small',
    ],
  ])('%s', (_, quad, fault) => expect(quadFault(quad)).toBe(fault));
});

test('the area is positive clockwise on the picture', () => {
  expect(
    signedArea([
      [0, 0],
      [4, 0],
      [4, 3],
      [0, 3],
    ]),
  ).toBe(12);
  expect(
    signedArea([
      [0, 3],
      [4, 3],
      [4, 0],
      [0, 0],
    ]),
  ).toBe(-12);
});

test('bounds and proportions', () => {
  expect(bounds(SCREEN)).toEqual({ left: 95, top: 100, right: 500, bottom: 380 });
  expect(
    sideRatio([
      [0, 0],
      [160, 0],
      [160, 90],
      [0, 90],
    ]),
  ).toBeCloseTo(16 / 9, 12);
});
