import { expect, test } from 'vitest';
import { byteWords, TransferRate, transferWords } from './transfer-rate.ts';

test('the rate is that of the last seconds', () => {
  const rate = new TransferRate();
  rate.add(0, 0);
  expect(rate.perSecond).toBeNull();
  for (let s = 1; s <= 20; s++) rate.add(s * 1000, s < 10 ? s * 1e6 : 9e6 + (s - 9) * 4e6);
  expect(rate.perSecond).toBeCloseTo(4e6, -4);
});
test('in words', () => {
  expect(transferWords(4e6, 120e6)).toBe('4.0 MB/s, 30 s left');
  expect(transferWords(1e6, 600e6)).toBe('1.0 MB/s, 10 min left');
  expect(transferWords(null, 5)).toBe('');
  expect([0, 999, 1500, 12_345_678, 2e9].map(byteWords)).toEqual(['0 B', '999 B', '1.5 kB', '12.3 MB', '2.0 GB']);
});
