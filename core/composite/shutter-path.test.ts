import { describe, expect, test } from 'vitest';
import type { Quad } from '../geometry/quad.ts';
import { quadAt, shutterTimes } from './shutter-path.ts';

const at = (x: number): Quad => [[x, 0], [x + 100, 0], [x + 100, 50], [x, 50]];

describe('quadAt', () => {
  test('a parabola through three positions, a line through two, still with one', () => {
    const motion = { before: at(0), now: at(3), after: at(8) };
    expect(quadAt(motion, -1)[0][0]).toBeCloseTo(0, 12);
    expect(quadAt(motion, 1)[0][0]).toBeCloseTo(8, 12);
    expect(quadAt(motion, 0.5)[0][0]).toBeCloseTo(3 + 2 + 0.25, 12);
    expect(quadAt({ before: null, now: at(3), after: at(8) }, 0.5)[0][0]).toBeCloseTo(5.5, 12);
    expect(quadAt({ before: at(0), now: at(3), after: null }, 0.5)[0][0]).toBeCloseTo(4.5, 12);
    expect(quadAt({ before: null, now: at(3), after: null }, 0.5)).toEqual(at(3));
  });
});

describe('shutterTimes', () => {
  const motion = { before: at(-20), now: at(0), after: at(20) };
  test('at phase 0 the shutter is centred on the frame', () => {
    const times = shutterTimes(motion, { shutter: 180, phase: 0 });
    expect(times.reduce((a, b) => a + b) / times.length).toBeCloseTo(0, 12);
    expect(times.at(-1)! - times[0]!).toBeCloseTo(0.5 * (1 - 1 / times.length), 12);
  });
  test('the phase moves its middle: 90° is a quarter of a frame', () => {
    const times = shutterTimes(motion, { shutter: 180, phase: 90 });
    expect(times.reduce((a, b) => a + b) / times.length).toBeCloseTo(0.25, 12);
  });
  test('one moment for a closed shutter or a still surface; more for a longer smear, up to a limit', () => {
    expect(shutterTimes(motion, { shutter: 0, phase: 0 })).toEqual([0]);
    expect(shutterTimes({ before: at(0), now: at(0), after: at(0) }, { shutter: 180, phase: 0 })).toHaveLength(1);
    expect(shutterTimes(motion, { shutter: 180, phase: 0 })).toHaveLength(25);
    expect(shutterTimes({ before: at(-400), now: at(0), after: at(400) }, { shutter: 360, phase: 0 })).toHaveLength(128);
    expect(shutterTimes(motion, { shutter: 180, phase: 0 }, 6)).toHaveLength(6);
  });
});
