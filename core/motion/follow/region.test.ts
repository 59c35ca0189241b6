import { expect, test } from 'vitest';
import { FixedKeepOuts } from './region-over-time.ts';
import { regionMask } from './region.ts';

const BOX = (x: number, y: number, side: number) => ({
  points: [
    [x, y],
    [x + side, y],
    [x + side, y + side],
    [x, y + side],
  ] as [number, number][],
});
const sum = (mask: Uint8Array) => mask.reduce((a, b) => a + b, 0);

test('looks inside any region and outside every keep-out', () => {
  const mask = regionMask(
    20,
    10,
    [BOX(1, 1, 6), BOX(10, 2, 6)],
    [BOX(3, 3, 2), { ...BOX(12, 4, 2), fixed: true }],
    undefined,
    0,
  );
  expect(sum(mask)).toBe(36 + 36 - 4 - 4);
  expect(mask[3 * 20 + 3]).toBe(0);
});

test('a region may reach outside the picture', () => {
  expect(sum(regionMask(10, 10, [BOX(-5, -5, 8)], [], undefined, 0))).toBe(9);
});

test('all that a region covers on any frame can be looked at; a keep-out that moves takes nothing away for good', () => {
  const moving = { ...BOX(0, 0, 4), keys: [{ frame: 8, ...BOX(16, 0, 4) }] };
  expect(sum(regionMask(20, 4, [moving], [], undefined, 0))).toBe(80);
  expect(
    sum(regionMask(20, 4, [BOX(0, 0, 4)], [{ ...BOX(1, 1, 2), keys: [{ frame: 5, ...BOX(9, 1, 2) }] }], undefined, 0)),
  ).toBe(16);
});

test('only fixed keep-outs stay in the picture; keyed ones move in it', () => {
  expect(new FixedKeepOuts({ keepOut: [BOX(2, 2, 3)] }, 0, 10, 10).at(0)).toBeNull();
  const still = new FixedKeepOuts({ keepOut: [BOX(2, 2, 3), { ...BOX(5, 5, 2), fixed: true }] }, 0, 10, 10);
  expect(still.at(0)!.filter((v) => v === 0)).toHaveLength(4);
  const moving = new FixedKeepOuts(
    { keepOut: [{ ...BOX(0, 5, 2), fixed: true, keys: [{ frame: 4, ...BOX(8, 5, 2) }] }] },
    0,
    10,
    10,
  );
  const left = (frame: number) => moving.at(frame)!.indexOf(0) % 10;
  expect([0, 2, 4, 9].map(left)).toEqual([0, 4, 8, 8]);
});
