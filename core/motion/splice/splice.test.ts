import { describe, expect, test } from 'vitest';
import { CAMERA, screenAt } from '../../../bench/points/drawn-corners.ts';
import { joinAcceleration } from '../../../bench/points/joins.ts';
import { cornersOfPose } from '../pose/plane-pose.ts';
import { rotationFromVector } from '../pose/rotation.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { blendQuads } from '../pose/blend-quads.ts';
import { applyToPoints } from '../../base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { NineNumbers, QuadCorners, ShotDocument, TrackRow } from '../../base/schemas/types.ts';
import { shotMotion } from './shot-motion.ts';
import { orderedSpans, smoothStep, spliceSpans, type SpliceSpan } from './splice-spans.ts';

const moved = (quad: Quad, dx: number, dy: number): Quad => quad.map(([x, y]) => [x + dx, y + dy]) as unknown as Quad;
const off = (a: Quad, b: Quad) => Math.max(...a.map((p, i) => Math.hypot(p[0] - b[i]![0], p[1] - b[i]![1])));
const within = (from: number, to: number, quadAt: (f: number) => Quad): SpliceSpan => ({
  from,
  to,
  quadAt: (f) => (f >= from && f <= to ? quadAt(f) : null),
});
const everywhere = (from: number, to: number, quadAt: (f: number) => Quad): SpliceSpan => ({ from, to, quadAt });

describe('spans joined', () => {
  test('the jump is reported, and led over within the fade; outside it nothing changes', () => {
    const { frames, joins } = spliceSpans(
      [everywhere(0, 9, screenAt), everywhere(10, 19, (f) => moved(screenAt(f), 2, 0))],
      8,
      260,
      200,
    );
    expect(joins).toEqual([{ frame: 10, jump: expect.closeTo(2, 6) as number, fade: [6, 13] }]);
    expect(frames[5]!.corners).toEqual(screenAt(5));
    expect(off(frames[14]!.corners!, moved(screenAt(14), 2, 0))).toBe(0);
    const way = frames.slice(5, 15).map((f) => f.corners![0][0] - screenAt(f.frame)[0][0]);
    way.slice(1).forEach((v, i) => expect(v).toBeGreaterThanOrEqual(way[i]! - 1e-9));
    expect(frames[8]!.fading).toMatchObject({ with: 1 });
    // Each states the other's share: as far before the join as after it, the same.
    expect(frames[8]!.fading!.share).toBeCloseTo(frames[11]!.fading!.share, 9);
  });
  test('sources that end at the join are led over by the distance that they have there', () => {
    const { frames, joins } = spliceSpans(
      [within(0, 9, screenAt), within(10, 19, (f) => moved(screenAt(f), 0, 3))],
      6,
      260,
      200,
    );
    expect(joins[0]!.jump).toBeCloseTo(3, 1);
    const way = frames.map((f) => f.corners![2][1] - screenAt(f.frame)[2][1]);
    expect(way[5]).toBeCloseTo(0, 6);
    expect(way[14]).toBeCloseTo(3, 6);
    for (let f = 6; f < 14; f++) expect(way[f + 1]! - way[f]!).toBeLessThan(1.3);
  });
  test('without a fade it jumps; apart from each other spans are not joined; what a source does not know is a hole', () => {
    const { frames, joins } = spliceSpans(
      [
        everywhere(0, 3, screenAt),
        everywhere(4, 7, (f) => moved(screenAt(f), 2, 0)),
        { from: 10, to: 11, quadAt: () => null },
      ],
      0,
      260,
      200,
    );
    expect(joins.map((j) => [j.frame, j.fade])).toEqual([
      [4, null],
      [10, null],
    ]);
    expect(frames[4]!.corners![0][0] - screenAt(4)[0][0]).toBeCloseTo(2, 9);
    expect(frames.map((f) => f.frame)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 10, 11]);
    expect(frames.at(-1)!.corners).toBeNull();
  });
  test('a fade never reaches beyond the middle of a span', () => {
    const { joins } = spliceSpans(
      [everywhere(0, 9, screenAt), everywhere(10, 13, (f) => moved(screenAt(f), 1, 0)), everywhere(14, 23, screenAt)],
      20,
      260,
      200,
    );
    expect(joins.map((j) => j.fade)).toEqual([
      [8, 11],
      [12, 15],
    ]);
  });
  test('a jump of 2 px makes no jerk', () => {
    const truth = {
      width: 260,
      height: 200,
      referenceFrame: 0,
      frames: Array.from({ length: 30 }, (_, frame) => ({ frame, corners: screenAt(frame).map((p) => [...p]) })),
    };
    expect(joinAcceleration({ truth: truth as never }, 8)).toBeLessThan(2);
  });
});

test('keys that end where another source begins: the fade does not lead to corners that stand still', () => {
  const corners = screenAt(0);
  const copied = (frame: number) => screenAt(frame).map((p) => [...p]) as QuadCorners;
  const followed = Array.from({ length: 10 }, (_, i): TrackRow => ({
    frame: 10 + i,
    runKey: '',
    homography: [...homographyBetweenQuads(corners, screenAt(10 + i))!] as NineNumbers,
    certainty: null,
    confidence: 1,
    error: 0,
    blur: 0,
    note: null,
    lost: null,
  }));
  const document = {
    referenceFrame: 0,
    corners: copied(0),
    handKeys: [2, 4, 6, 8, 9].map((frame) => ({ frame, corners: copied(frame) })),
    spans: [
      { from: 2, to: 9, source: 'keys' },
      { from: 10, to: 19, source: 'shot', shot: 7 },
    ],
    fade: 6,
  } as unknown as ShotDocument;
  const { rows, joins } = shotMotion(
    document,
    '',
    { plane: [], points: [], pulled: [], shots: new Map([[7, followed]]) },
    260,
    200,
  );
  expect(joins).toMatchObject([{ frame: 10, fade: [7, 12] }]);
  for (const { frame, homography } of rows)
    expect(off(applyToPoints(homography!, corners) as unknown as Quad, screenAt(frame))).toBeLessThan(0.3);
});

test('half-way between two poses lies a rigid rectangle, where corners led straight would shrink', () => {
  const at = (turn: number) =>
    cornersOfPose({ rotation: rotationFromVector([0, 0, turn]), position: [0, 0, 4] }, CAMERA)!;
  const diagonal = (q: Quad) => Math.hypot(q[0][0] - q[2][0], q[0][1] - q[2][1]);
  expect(diagonal(blendQuads(at(0), at(2), 0.5, CAMERA))).toBeCloseTo(diagonal(at(1)), 6);
  expect(diagonal(blendQuads(at(0), at(2), 0.5, null))).toBeLessThan(0.7 * diagonal(at(1)));
  expect(blendQuads(at(0), at(2), 0, CAMERA)).toEqual(at(0));
});

test('the fade has neither speed nor acceleration at its ends', () => {
  const h = 1e-3;
  const speed = (t: number) => (smoothStep(t + h) - smoothStep(t - h)) / (2 * h);
  const bend = (t: number) => (smoothStep(t + h) - 2 * smoothStep(t) + smoothStep(t - h)) / (h * h);
  for (const t of [0, 1]) expect([Math.abs(speed(t)) < 1e-4, Math.abs(bend(t)) < 0.05]).toEqual([true, true]);
  expect([smoothStep(-1), smoothStep(0.5), smoothStep(2)]).toEqual([0, 0.5, 1]);
});

test.each([
  ['none', [], /no spans/],
  [
    'overlapping',
    [
      { from: 0, to: 9 },
      { from: 9, to: 12 },
    ],
    /0-9 and 9-12 overlap/,
  ],
  ['backwards', [{ from: 9, to: 3 }], /9-3/],
])('spans %s: a sentence', (_, spans, sentence) => expect(() => orderedSpans(spans, 'the job')).toThrow(sentence));
