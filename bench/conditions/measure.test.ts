import { describe, expect, test } from 'vitest';
import type { TrackFile } from '../../core/base/schemas/types.ts';
import type { Truth } from '../../demo/truth.ts';
import { boundChart } from './bound-chart.ts';
import { brokenLimits, falselyCertain, measureTrack, shareInside } from './measure.ts';

type Frame = TrackFile['frames'][number];
const SQUARE = [
  [10, 10],
  [50, 10],
  [50, 40],
  [10, 40],
] as [number, number][];
const truth = (frames: number, away: readonly number[] = []): Truth => ({
  format: 'yarlop-truth/1',
  pixelCentre: 'half',
  width: 100,
  height: 80,
  rate: [25, 1],
  shutter: 180,
  softness: 0.6,
  levels: { black: 0, white: 1 },
  content: '',
  referenceFrame: 0,
  region: SQUARE,
  frames: Array.from({ length: frames }, (_, frame) => ({
    frame,
    corners: SQUARE.map(([x, y]): [number, number] => [x + (away.includes(frame) ? 500 : 0), y]),
  })),
});
const off = (frame: number, by: number, change: Partial<Frame> = {}): Frame => ({
  frame,
  corners: SQUARE.map(([x, y]) => [x + by, y]) as Frame['corners'],
  confidence: 0.9,
  bound: [0.2, 0.2, 0.2, 0.2],
  ...change,
});

describe('measureTrack', () => {
  test('mean, worst and shares over the frames that are seen; lost ones are under no limit', () => {
    const m = measureTrack(truth(6, [5]), {
      frames: [
        off(0, 0),
        off(1, 0.1),
        off(2, -0.3),
        off(3, 6),
        { frame: 4, confidence: 0.1, lost: 'covered' },
        off(5, 90),
      ],
    });
    expect(m.mean).toBeCloseTo((0.1 + 0.3 + 6) / 4, 6);
    expect(m.worst).toBeCloseTo(6, 6);
    expect([m.under1, m.under5, m.lost]).toEqual([3 / 5, 3 / 5, 1]);
    expect(m.frames[2]!.corners[0]).toEqual({ distance: expect.closeTo(0.3, 6) as unknown, bound: 0.2 });
  });

  test('a steady drift has no jitter, a wobble has', () => {
    const drift = measureTrack(truth(5), { frames: [0, 1, 2, 3, 4].map((f) => off(f, 0.1 * f)) });
    const wobble = measureTrack(truth(5), { frames: [0, 1, 2, 3, 4].map((f) => off(f, f % 2 === 0 ? 0.1 : -0.1)) });
    expect(drift.jitter).toBeCloseTo(0, 6);
    expect(wobble.jitter).toBeCloseTo(0.4, 6);
  });

  test('far off and yet certain is reported, doubted or lost is not', () => {
    const { frames } = measureTrack(truth(3), {
      frames: [off(0, 8), off(1, 8, { confidence: 0.2 }), { frame: 2, confidence: 0, lost: 'outside' }],
    });
    expect(falselyCertain(frames).map((f) => f.frame)).toEqual([0]);
  });
});

test('broken limits are said in words, kept ones not', () => {
  const plates = [measureTrack(truth(2), { frames: [off(0, 0), off(1, 0.4)] })];
  expect(brokenLimits({ mean: 0.3, under1: 1, under5: 1 }, plates)).toEqual([]);
  expect(brokenLimits({ mean: 0.1, under5: 1 }, plates)).toEqual(['mean 0.200 > 0.1']);
});

test('the share of a quad inside the picture', () => {
  expect(shareInside(SQUARE, 100, 80)).toBe(1);
  expect(
    shareInside(
      [
        [-20, 0],
        [20, 0],
        [20, 40],
        [-20, 40],
      ],
      100,
      80,
    ),
  ).toBe(0.5);
});

test('the chart has a curve for each condition and one for all', () => {
  const svg = boundChart([
    { title: 'clean', ratios: [0.2, 0.6, 1.1] },
    { title: 'dark', ratios: [0.5] },
  ]);
  expect(svg.match(/<polyline/g)).toHaveLength(3);
  expect(svg).toContain('>clean<');
});
