import { describe, expect, test } from 'vitest';
import type { TrackRow } from '../../../core/base/schemas/types.ts';
import { DOCUMENT, PLATE, row, SHOT } from '../test/shot-parts.ts';
import { decimalRate } from '../../../core/base/time/frame-rate.ts';
import { readings, shorten, trackSummary, type ReadingInput } from './readings.ts';

const tracked = (...rows: TrackRow[]) => ({ track: trackSummary(rows, 'k') });
const INPUT: ReadingInput = {
  shot: SHOT,
  document: DOCUMENT,
  ...tracked(),
  seatOff: null,
  contentName: null,
  render: null,
};
const read = (change: Partial<ReadingInput>) => readings({ ...INPUT, ...change });

describe('readings', () => {
  test('an empty shot', () => {
    const all = read({ shot: { ...SHOT, plate: null }, document: { ...DOCUMENT, regions: [], corners: null } });
    for (const step of Object.values(all)) expect(step.state).toBe('empty');
  });
  test('the plate: coming in, failed, there', () => {
    expect(read({ shot: { ...SHOT, plate: { ...PLATE, state: 'waiting', facts: null } } }).plate.state).toBe('part');
    expect(read({ shot: { ...SHOT, plate: { ...PLATE, state: 'failed', facts: null } } }).plate.state).toBe('look');
    expect(read({}).plate).toEqual({ lines: ['4 f · 25 fps', '1280×720'], state: 'done' });
    expect(read({ document: { ...DOCUMENT, range: [1, 2] } }).plate.lines[0]).toBe('2 f · 25 fps');
    expect(
      read({ shot: { ...SHOT, plate: { ...PLATE, state: 'failed', facts: null, problemCode: 'sequence-gap' } } }).plate,
    ).toEqual({ lines: ['pictures', 'missing'], state: 'look' });
    expect(read({ shot: { ...SHOT, plate: { ...PLATE, state: 'cleared' } } }).plate.state).toBe('look');
  });
  test('riding on another track needs no region', () => {
    const riding = { ...DOCUMENT, regions: [], rides: 9 };
    expect(read({ document: riding }).follow).toEqual({ lines: ['rides on', 'nothing'], state: 'look' });
    expect(read({ document: riding, ...tracked(row(0), row(1), row(2), row(3)) }).follow).toEqual({
      lines: ['4 of 4', 'riding'],
      state: 'done',
    });
  });
  test('a surface that the solved room moves needs no region', () => {
    const room = { ...DOCUMENT, regions: [], spans: [{ from: 0, to: 3, source: 'scene' as const }] };
    expect(read({ document: room }).follow).toEqual({ lines: ['moved by', 'the room'], state: 'part' });
    expect(read({ document: room, ...tracked(row(0), row(1), row(2), row(3)) }).follow.state).toBe('done');
  });
  test('following: how many frames hold, and how well', () => {
    expect(read({}).follow.state).toBe('part');
    expect(read(tracked(row(0), row(1))).follow).toEqual({ lines: ['2 of 4', '0.10 px'], state: 'part' });
    expect(read(tracked(...[0, 1, 2, 3].map((f) => row(f)))).follow.state).toBe('done');
    expect(read(tracked(row(0), row(1, { homography: null, lost: 'covered' }))).follow.state).toBe('look');
    expect(read(tracked(row(0, { runKey: 'older' }))).follow).toEqual({
      lines: ['1 of 4', 'out of date'],
      state: 'look',
    });
  });
  test('the seat: how far off, how many fixes, and whether it wants a look', () => {
    expect(read({ document: { ...DOCUMENT, corners: null } }).seat.state).toBe('empty');
    expect(read({}).seat).toEqual({ lines: ['4 corners', 'on frame 2'], state: 'done' });
    const fixed = {
      ...DOCUMENT,
      corrections: [
        { frame: 1, corner: 0, dx: 1, dy: 0 },
        { frame: 1, corner: 2, dx: 1, dy: 0 },
        { frame: 3, corner: 0, dx: 0, dy: 0 },
      ],
    };
    expect(read({ document: fixed, seatOff: 0.2 }).seat).toEqual({ lines: ['±0.2 px', '2 fixes'], state: 'done' });
    expect(read({ document: { ...DOCUMENT, lock: true }, seatOff: 0.043 }).seat).toEqual({
      lines: ['±0.04 px', 'locked · 0 fixes'],
      state: 'done',
    });
    expect(read({ seatOff: 0.6 }).seat.state).toBe('look');
    expect(read({ document: { ...DOCUMENT, tolerance: 1 }, seatOff: 0.6 }).seat.state).toBe('done');
  });
  test('blend names what is set', () => {
    const look = { levels: { black: 0.07 }, soften: 1.2, motionBlur: { shutter: 180 }, opacity: 0.9 };
    expect(read({ document: { ...DOCUMENT, look } }).blend.lines).toEqual(['levels · soft 1.2', 'blur 180° · 90 %']);
  });
});

test('rates and names are short', () => {
  expect(decimalRate([24000, 1001])).toBe('23.976 fps');
  expect(shorten('bed-temperatures.png', 13)).toBe('bed-temperat…');
});
