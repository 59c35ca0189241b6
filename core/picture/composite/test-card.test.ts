import { expect, test } from 'vitest';
import { testCard } from './test-card.ts';

test('the card is opaque, has a rim of strong squares and a mark at its upper edge only', () => {
  const card = testCard(320, 200);
  const at = (x: number, y: number) => [...card.data.subarray((y * 320 + x) * 4, (y * 320 + x) * 4 + 4)];
  expect(card.data.filter((_, i) => i % 4 === 3).every((a) => a === 255)).toBe(true);
  expect(at(5, 10)).not.toEqual(at(25, 10));
  expect(at(160, 36).slice(0, 3)).toEqual([180, 83, 9]);
  expect(at(165, 164).slice(0, 3)).not.toEqual([180, 83, 9]);
});
