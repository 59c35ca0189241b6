import { describe, expect, test } from 'vitest';
import { formatTimecode, parseTimecode } from './timecode.ts';

const NTSC = [30000, 1001] as const;

describe('timecode (SMPTE ST 12-1)', () => {
  test.each([
    ['00:00:00:00', [25, 1], 0],
    ['01:00:00:00', [25, 1], 90_000],
    ['10:11:12:24', [25, 1], 916_824],
    ['00:00:01:00', [24000, 1001], 24],
  ] as const)('%s at %j is frame %i', (text, rate, count) => {
    expect(parseTimecode(text, rate)).toEqual({ count, drop: false });
    expect(formatTimecode({ count, drop: false }, rate)).toBe(text);
  });
  // The numbers that drop-frame counting leaves out and keeps, as the standard's own example has them.
  test.each([
    ['00:00:59;29', 1799],
    ['00:01:00;02', 1800],
    ['00:10:00;00', 17_982],
    ['01:00:00;00', 107_892],
  ])('drop-frame %s is frame %i', (text, count) => {
    expect(parseTimecode(text, NTSC)).toEqual({ count, drop: true });
    expect(formatTimecode({ count, drop: true }, NTSC)).toBe(text);
  });
  test('every drop-frame count of an hour goes there and back', () => {
    for (let count = 0; count < 107_892; count += 7)
      expect(parseTimecode(formatTimecode({ count, drop: true }, NTSC), NTSC)!.count).toBe(count);
  });
  test.each(['', 'noon', '00:61:00:00', '00:00:00:25'])('%j is none', (text) =>
    expect(parseTimecode(text, [25, 1])).toBeNull(),
  );
});
