import { describe, expect, test } from 'vitest';
import { shownAt, type ContentTime } from '../../../../core/picture/content/content-time.ts';
import type { ContentTiming } from '../../../../core/base/schemas/types.ts';
import { endOn, moveSpeedKey, setSpeed, speedAt, speedKeys, toggleSpeedKey } from './time-edits.ts';

describe('the speed of content', () => {
  test('is for the whole time until it is keyed', () => {
    const time: ContentTiming = {};
    setSpeed(time, 4, 0.5);
    expect(time.speed).toBe(0.5);
    toggleSpeedKey(time, 10);
    setSpeed(time, 20, 1.5);
    expect(speedKeys(time)).toEqual([
      { frame: 10, value: 0.5 },
      { frame: 20, value: 1.5 },
    ]);
    expect(speedAt(time, 15)).toBe(1);
  });
  test('keys are moved, not onto another, and taken away', () => {
    const time: ContentTiming = {
      speed: [
        { frame: 10, value: 1 },
        { frame: 20, value: 2 },
      ],
    };
    expect(moveSpeedKey(time, 10, 20)).toBe(false);
    expect(moveSpeedKey(time, 10, 30)).toBe(true);
    expect(speedKeys(time).map((k) => k.frame)).toEqual([20, 30]);
    toggleSpeedKey(time, 20);
    toggleSpeedKey(time, 30);
    expect(time.speed).toBe(1);
  });
});

describe('content is ended on a frame of the plate', () => {
  const rate = [25, 1] as const;
  test.each<[string, ContentTiming, number]>([
    ['as it is', {}, 20],
    ['started later', { start: 5 }, 20],
    ['at half speed', { speed: 0.5 }, 20],
    ['at another rate and trimmed before', { trim: [3, 30] }, 12],
  ])('%s', (_, start, frame) => {
    const time: ContentTiming = { ...start };
    const shown = shownAt(time, frame, rate, rate, 48)!;
    expect(endOn(time, frame, rate, rate, 48)).toBe(true);
    expect(time.trim![1]).toBe(shown.first);
    expect(shownAt(time as ContentTime, frame + 9, rate, rate, 48)!.first).toBe(shown.first);
  });
  test('not where there is none of it', () => {
    const time: ContentTiming = { start: 10 };
    expect(endOn(time, 4, rate, rate, 48)).toBe(false);
    expect(endOn(time, 90, rate, rate, 48)).toBe(false);
    expect(time.trim).toBeUndefined();
  });
  test('backwards it is the first of its frames that is cut', () => {
    const time: ContentTiming = { reverse: true };
    endOn(time, 20, rate, rate, 48);
    expect(time.trim).toEqual([27, 47]);
  });
});
