import { describe, expect, test } from 'vitest';
import { Problem } from '../../base/problem/problem.ts';
import { checked } from '../../base/schemas/check.ts';
import type { TrackFile } from '../../base/schemas/types.ts';
import { planFromTrack, seatedTrack } from './seat-track.ts';
import { SeatedCorners } from '../../surface/seat/seated-corners.ts';

const CORNERS: [[number, number], [number, number], [number, number], [number, number]] = [
  [20, 20],
  [80, 20],
  [80, 60],
  [20, 60],
];
const at = (dx: number) => CORNERS.map(([x, y]) => [x + dx, y]) as typeof CORNERS;
function track(change: Partial<TrackFile> = {}): TrackFile {
  return {
    format: 'yarlop-track/1',
    pixelCentre: 'half',
    width: 100,
    height: 80,
    rate: [25, 1],
    referenceFrame: 1,
    frames: [
      ...[0, 1, 3].map((frame): TrackFile['frames'][number] => ({
        frame,
        homography: [1, 0, 5 * (frame - 1), 0, 1, 0, 0, 0, 1],
        corners: at(5 * (frame - 1)),
        bound: [0.1, 0.1, 0.1, 0.1],
      })),
      { frame: 2, lost: 'covered' },
    ],
    ...change,
  };
}
const codeOf = (act: () => unknown) => {
  try {
    act();
  } catch (error) {
    return error instanceof Problem ? error.code : String(error);
  }
  return 'nothing';
};

describe('a plan from a file', () => {
  test('follows the corners, so that what somebody has done to them counts; holes are left out', () => {
    const nudged = track();
    nudged.frames[2]!.corners = at(10.5);
    const plan = planFromTrack(nudged, 't');
    expect(plan.frames.map((f) => f.frame)).toEqual([0, 1, 3]);
    expect(plan.frames[2]!.map[2]).toBeCloseTo(10.5, 6);
  });
  test('of integer pixel centres, in our coordinates', () => {
    const plan = planFromTrack({ ...track(), pixelCentre: 'integer' }, 't');
    expect(plan.corners[0]).toEqual([20.5, 20.5]);
  });
  test('a reference without corners is led back from the nearest frame', () => {
    const file = track();
    file.frames = file.frames.filter((f) => f.frame !== 1);
    planFromTrack(file, 't').corners.forEach((c, i) => c.forEach((v, k) => expect(v).toBeCloseTo(CORNERS[i]![k]!, 6)));
  });
  test.each<[string, (f: TrackFile) => void, string]>([
    ['no frame held', (f) => f.frames.forEach((frame) => delete frame.corners), 'nothing-held'],
    [
      'corners that cross',
      (f) => (f.frames[1]!.corners = [CORNERS[0], CORNERS[2], CORNERS[1], CORNERS[3]]),
      'bad-corners',
    ],
    ['a dented quad', (f) => (f.frames[1]!.corners = [CORNERS[0], CORNERS[1], [40, 30], CORNERS[3]]), 'bad-corners'],
    [
      'corners on top of each other',
      (f) => (f.frames[1]!.corners = [CORNERS[0], CORNERS[0], CORNERS[2], CORNERS[3]]),
      'bad-corners',
    ],
    [
      'a surface of five pixels',
      (f) =>
        (f.frames[1]!.corners = [
          [20, 20],
          [25, 20],
          [25, 24],
          [20, 24],
        ]),
      'quad-too-small',
    ],
    [
      'a reference that nothing leads to',
      (f) => {
        f.frames = f.frames.filter((frame) => frame.frame !== 1);
        f.frames.forEach((frame) => delete frame.homography);
      },
      'no-reference-corners',
    ],
  ])('%s is refused in a sentence', (_, spoil, code) => {
    const file = track();
    spoil(file);
    expect(codeOf(() => planFromTrack(file, 'track.json'))).toBe(code);
  });
});

test('a seated track keeps its homographies, says what was done, and is read again to the same plan', () => {
  const file = track();
  const plan = planFromTrack(file, 't');
  const maps = new Map(plan.frames.map((f) => [f.frame, f.map]));
  const seating = {
    corners: plan.corners,
    referenceFrame: 1,
    corrections: [{ frame: 3, corner: 2, dx: 1, dy: -1 }],
    lock: new Map([[0, [0.2, 0, 0, 0, 0, 0, 0, 0]]]),
  };
  const seated = checked(
    'track',
    seatedTrack(file, maps, seating, (frame) => (frame === 3 ? [0.02, 0.02, 0.02, 0.02] : null), ['because'], 'inner'),
    'seated',
  );
  expect(seated.seat).toMatchObject({
    corners: CORNERS,
    snapped: 'inner',
    locked: true,
    corrections: seating.corrections,
    why: ['because'],
  });
  expect(seated.frames.map((f) => f.homography)).toEqual(file.frames.map((f) => f.homography));
  expect(seated.frames.find((f) => f.frame === 3)).toMatchObject({
    corners: [
      [30, 20],
      [90, 20],
      [91, 59],
      [30, 60],
    ],
    bound: [0.02, 0.02, 0.02, 0.02],
  });
  expect(seated.frames.find((f) => f.frame === 0)).toMatchObject({
    corners: [
      [15.2, 20],
      [75, 20],
      [75, 60],
      [15, 60],
    ],
    lock: [0.2, 0, 0, 0, 0, 0, 0, 0],
  });
  expect(seated.frames.find((f) => f.frame === 2)).toEqual({ frame: 2, lost: 'covered' });
  planFromTrack(seated, 't').frames.forEach((f, i) => expect(f.map[2]).toBeCloseTo(plan.frames[i]!.map[2]!, 9));
});

test('corners are carried after lock and corrections, and none where they would pass the horizon', () => {
  const seated = new SeatedCorners({
    corners: CORNERS,
    referenceFrame: 0,
    corrections: [{ frame: 10, corner: 0, dx: 4, dy: 0 }],
    lock: new Map([[5, new Float64Array([0, 1, 0, 0, 0, 0, 0, 0])]]),
  });
  expect(seated.at(5, [1, 0, 100, 0, 1, 0, 0, 0, 1])![0]).toEqual([122, 21]);
  expect(seated.at(5, [1, 0, 0, 0, 1, 0, -0.02, 0, 1])).toBeNull();
});
