import { describe, expect, test } from 'vitest';
import type { Look } from '../../../../core/base/schemas/types.ts';
import { partsOf, takePart } from './proposal-parts.ts';

const why = { says: 'measured on 9 frames', certainty: 0.9 };
const proposed: Look = {
  levels: { black: 0.048, white: 0.85 },
  exposure: [
    { frame: 0, value: -0.5 },
    { frame: 9, value: 0.25 },
  ],
  soften: 0.58,
  motionBlur: { shutter: 182, phase: 0 },
  oldScreen: 'edges',
  why: {
    'levels/black': why,
    'levels/white': why,
    exposure: why,
    soften: why,
    'motionBlur/shutter': why,
    grain: why,
    oldScreen: why,
  },
};

describe('parts of a proposed look', () => {
  test('each has its value with its unit; what was found to be nothing says so', () => {
    expect(partsOf(proposed).map((p) => [p.title, p.value, p.takes])).toEqual([
      ['Black', '0.048', true],
      ['White', '0.85', true],
      ['Exposure', '-0.5 to 0.25 stops, 2 keys', true],
      ['Softness', '0.58 px', true],
      ['Shutter', '182°', true],
      ['Grain', 'nothing', false],
      ['Old screen', 'off the edges', true],
    ]);
  });

  test('one is taken alone, with its reason; the rest of the look stays', () => {
    const look: Look = { levels: { black: 0.07, white: 0.9, gamma: 1.1 }, disc: 3, opacity: 0.8 };
    takePart(look, proposed, 'levels/black');
    takePart(look, proposed, 'soften');
    expect(look).toEqual({
      levels: { black: 0.048, white: 0.9, gamma: 1.1 },
      soften: 0.58,
      opacity: 0.8,
      why: { 'levels/black': why, soften: why },
    });
  });
});
