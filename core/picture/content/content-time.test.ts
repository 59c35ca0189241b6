import { describe, expect, test } from 'vitest';
import { contentFrameAt, shownAt, timePartAt, type ContentTime } from './content-time.ts';

test.each<[number, [number, number], [number, number], number]>([
  [10, [25, 1], [25, 1], 10],
  [10, [25, 1], [50, 1], 20],
  [11, [50, 1], [25, 1], 5],
  // An hour of 30000/1001 against 24: no drift by rounding.
  [107_892, [30000, 1001], [24, 1], 86_399],
  [100_000, [30000, 1001], [30000, 1001], 100_000],
])('frame %i at %j shows frame of %j: %i', (frame, plate, content, shown) =>
  expect(contentFrameAt(frame, plate, content)).toBe(shown),
);

describe('what is shown on a plate frame', () => {
  const rate = [25, 1] as const;
  const show = (time: ContentTime, frames = 4, contentRate: readonly [number, number] = rate) =>
    Array.from({ length: 12 }, (_, f) => {
      const shown = shownAt(time, f, rate, contentRate, frames);
      return shown === null
        ? '-'
        : shown.share > 0
          ? `${shown.first}>${shown.second}@${shown.share.toFixed(2)}`
          : String(shown.first);
    }).join(' ');
  test.each<[string, ContentTime, string]>([
    ['as it is: held at both ends', { start: 2 }, '0 0 0 1 2 3 3 3 3 3 3 3'],
    ['nothing beyond', { start: 2, before: 'nothing', after: 'nothing' }, '- - 0 1 2 3 - - - - - -'],
    ['looped', { start: 2, before: 'loop', after: 'loop' }, '2 3 0 1 2 3 0 1 2 3 0 1'],
    ['there and back', { after: 'ping-pong' }, '0 1 2 3 2 1 0 1 2 3 2 1'],
    ['reversed, part of it', { trim: [1, 3], reverse: true }, '3 2 1 1 1 1 1 1 1 1 1 1'],
    ['an offset into it', { offset: 2, start: 1 }, '1 2 3 3 3 3 3 3 3 3 3 3'],
    ['half as fast', { speed: 0.5 }, '0 0 1 1 2 2 3 3 3 3 3 3'],
    ['half as fast, blended', { speed: 0.5, rate: 'blend' }, '0 0>1@0.50 1 1>2@0.50 2 2>3@0.50 3 3 3 3 3 3'],
    [
      'blended over a loop’s join',
      { speed: 0.5, rate: 'blend', after: 'loop' },
      '0 0>1@0.50 1 1>2@0.50 2 2>3@0.50 3 3>0@0.50 0 0>1@0.50 1 1>2@0.50',
    ],
    [
      'stopped from frame 3 on by a held key',
      {
        speed: [
          { frame: 0, value: 1, ease: 'hold' },
          { frame: 3, value: 0 },
        ],
      },
      '0 1 2 3 3 3 3 3 3 3 3 3',
    ],
    // Speed 0 at frame 0, 1 at frame 4: way t²/8 until then, 2 at frame 4, one a frame on.
    [
      'a speed that grows',
      {
        speed: [
          { frame: 0, value: 0 },
          { frame: 4, value: 1 },
        ],
        rate: 'blend',
      },
      '0 0>1@0.13 0>1@0.50 1>2@0.13 2 3 3 3 3 3 3 3',
    ],
  ])('%s', (_, time, wanted) => expect(show(time)).toBe(wanted));
  test('another rate: every other frame of one twice as fast', () =>
    expect(show({}, 30, [50, 1])).toBe('0 2 4 6 8 10 12 14 16 18 20 22'));
  test('a content of one frame is that frame, whatever is asked', () => {
    for (const after of ['hold', 'loop', 'ping-pong'] as const)
      expect(show({ after, rate: 'blend' }, 1)).toBe('0 0 0 0 0 0 0 0 0 0 0 0');
  });
});

test('each frame of the plate shows content in its time, held, again or not at all', () => {
  const rate = [25, 1] as const;
  const parts = (time: ContentTime) =>
    Array.from({ length: 8 }, (_, f) => timePartAt(time, f, rate, rate, 5)[0]).join('');
  expect(parts({ start: 2, trim: [1, 3], before: 'nothing' })).toBe('nniiihhh');
  expect(parts({ trim: [0, 1], after: 'loop' })).toBe('iiaaaaaa');
  expect(parts({ speed: 2, offset: -2, after: 'nothing' })).toBe('hiiinnnn');
  expect(
    parts({
      speed: [
        { frame: 0, value: 1 },
        { frame: 4, value: 0 },
      ],
    }),
  ).toBe('iiiiiiii');
});
