import { describe, expect, test } from 'vitest';
import { checkLook } from '../composite/check-look.ts';
import { checked } from '../../base/schemas/check.ts';
import type { Look } from '../../base/schemas/types.ts';
import { blendPart, withBlendPart } from './blend-part.ts';
import { SHIPPED_LOOKS } from './shipped-looks.ts';

const why = { says: 'measured', certainty: 0.9 };
const look: Look = {
  levels: {
    black: 0.06,
    white: [
      { frame: 0, value: 0.8 },
      { frame: 10, value: 0.9 },
    ],
  },
  soften: [
    { frame: 0, value: 1 },
    { frame: 10, value: 3 },
  ],
  feather: [
    { frame: 0, value: [1, 1, 1, 1] },
    { frame: 10, value: [3, 1, 1, 1] },
  ],
  exposure: 0.5,
  radius: 12,
  fit: 'fill',
  cast: { areas: [] },
  reflections: {
    from: 'drawn',
    shape: {
      points: [
        [0, 0],
        [9, 0],
        [9, 9],
      ],
    },
  },
  texture: {
    glow: {
      amount: [
        { frame: 0, value: 0 },
        { frame: 10, value: 0.1 },
      ],
    },
  },
  why: { soften: why, exposure: why, 'levels/black': why },
};

describe('the part of a look that goes from shot to shot', () => {
  test('keys are taken as they are on the frame; places, light over time and placement stay behind', () => {
    expect(blendPart(look, 5)).toEqual({
      levels: { black: 0.06, white: expect.closeTo(0.85, 9) as number },
      soften: 2,
      feather: [2, 1, 1, 1],
      texture: { glow: { amount: expect.closeTo(0.05, 9) as number } },
    });
  });

  test('laid on another look it replaces what it says, with the reasons of that', () => {
    const other: Look = {
      fit: 'fit',
      soften: 0.5,
      opacity: 0.8,
      exposure: [{ frame: 0, value: 1 }],
      why: { soften: why, exposure: why },
    };
    expect(withBlendPart(other, { soften: 2 })).toEqual({
      fit: 'fit',
      soften: 2,
      opacity: 0.8,
      exposure: [{ frame: 0, value: 1 }],
      why: { exposure: why },
    });
  });

  test('reflections of a keyed screen go only where there are keys', () => {
    const part: Look = { reflections: { from: 'key' } };
    expect(withBlendPart({}, part)).toEqual({});
    expect(withBlendPart({ keys: [{ colour: [0, 1, 0] }] }, part).reflections).toEqual({ from: 'key' });
  });

  test.each(SHIPPED_LOOKS)('$name, which ships, is a look that can be used', ({ look: shipped }) => {
    checkLook(checked('look', shipped, 'a look that ships'), 'a look that ships');
    expect(blendPart(shipped, 0)).toEqual(shipped);
  });
});
