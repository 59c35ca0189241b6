import { describe, expect, test } from 'vitest';
import type { Look } from '../../../../core/base/schemas/types.ts';
import { lookKeyFrames, moveLookKeys, removeLookKeys } from './look-keys.ts';

const keyed = (): Look => ({
  soften: [
    { frame: 0, value: 1 },
    { frame: 20, value: 3 },
  ],
  levels: { black: 0.05, white: [{ frame: 20, value: 0.9 }] },
  motionBlur: { shutter: 180 },
  feather: [1, 1, 1, 1],
});

describe('keys of a look in the ledger', () => {
  test('frames are reported once, with all that is keyed there; plain numbers and sides are no keys', () => {
    expect(lookKeyFrames(keyed())).toEqual([
      { frame: 0, titles: ['softness'] },
      { frame: 20, titles: ['white', 'softness'] },
    ]);
  });

  test('keys of a frame go together, and stay in order', () => {
    const look = keyed();
    expect(moveLookKeys(look, 20, 7)).toBe(true);
    expect(look.soften).toEqual([
      { frame: 0, value: 1 },
      { frame: 7, value: 3 },
    ]);
    expect(look.levels?.white).toEqual([{ frame: 7, value: 0.9 }]);
  });

  test('onto another key of the same value they do not go', () => {
    const look = keyed();
    expect(moveLookKeys(look, 20, 0)).toBe(false);
    expect(look).toEqual(keyed());
  });

  test('the last key of a value leaves its number', () => {
    const look = keyed();
    removeLookKeys(look, 20);
    expect(look.levels?.white).toBe(0.9);
    expect(look.soften).toEqual([{ frame: 0, value: 1 }]);
  });
});
