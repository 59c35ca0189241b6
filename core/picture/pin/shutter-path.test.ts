import { describe, expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import { motionAbout, quadAt, QUICK_STEPS, shutterTimes } from './shutter-path.ts';

const at = (x: number): Quad => [
  [x, 0],
  [x + 100, 0],
  [x + 100, 50],
  [x, 50],
];

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

describe('motionAbout', () => {
  const way = (frame: number) => 3 + frame - 0.2 * frame ** 3 + 0.01 * frame ** 6;
  const known = (from: number, to: number) => (frame: number) => (frame >= from && frame <= to ? at(way(frame)) : null);
  test('through seven frames a way of the sixth degree is exact', () => {
    const motion = motionAbout(known(-9, 9), 0)!;
    expect(motion.beyond).toHaveLength(4);
    expect(quadAt(motion, 0.5)[0][0]).toBeCloseTo(way(0.5), 10);
  });
  test('a jerk of four frames is led through its middle to within a fiftieth', () => {
    // Perlin's smootherstep, as a hand turns a camera and stops.
    const ease = (time: number) => {
      const s = Math.min(1, Math.max(0, time / 4.1 + 0.5));
      return at(100 * s * s * s * (s * (6 * s - 15) + 10));
    };
    const motion = motionAbout(ease, 0)!;
    const moved = (q: (t: number) => Quad) => q(0.25)[0][0] - q(-0.25)[0][0];
    expect(Math.abs(moved((t) => quadAt(motion, t)) / moved(ease) - 1)).toBeLessThan(0.02);
  });
  test('where the corners end, only two frames of the other side are gone by; gaps end what is known', () => {
    expect(motionAbout(known(0, 9), 0)).toEqual({
      before: null,
      now: at(way(0)),
      after: at(way(1)),
      beyond: [{ time: 2, quad: at(way(2)) }],
    });
    expect(motionAbout((f) => (f === 2 ? null : at(f)), 1)).toEqual({
      before: at(0),
      now: at(1),
      after: null,
      beyond: [{ time: -2, quad: at(-1) }],
    });
    expect(motionAbout(known(5, 9), 0)).toBeNull();
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
    expect(shutterTimes({ before: at(-400), now: at(0), after: at(400) }, { shutter: 360, phase: 0 })).toHaveLength(
      128,
    );
    // In haste a few, more where copies would be seen.
    const quick = (reach: number) =>
      shutterTimes({ before: at(-reach), now: at(0), after: at(reach) }, { shutter: 180, phase: 0 }, QUICK_STEPS)
        .length;
    expect([0, 1, 10, 60, 400].map(quick)).toEqual([1, 2, 4, 9, 12]);
  });
});
