import { describe, expect, test } from 'vitest';
import { CAMERA, drawnFrames, screenAt } from '../../../bench/points/drawn-corners.ts';
import { cornersOfPose } from '../pose/plane-pose.ts';
import { rotationFromVector } from '../pose/rotation.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { checkKeys, KeyedMotion } from './hand-keys.ts';
import { nextKey } from './next-key.ts';
import { inwardOrder, PullRun, type PulledFrame } from './pull-run.ts';

/** Spinning as it flies: half round in 24 frames. */
const flying = (f: number): Quad =>
  cornersOfPose(
    {
      rotation: rotationFromVector([0.3, 0.2, (Math.PI * f) / 24]),
      position: [0.03 * f - 0.3, 0.9 - 0.18 * f + 0.0075 * f * f, 4],
    },
    CAMERA,
  )!;
const keysOn = (frames: readonly number[], at = flying) => frames.map((frame) => ({ frame, corners: at(frame) }));
const off = (a: Quad, b: Quad) => Math.max(...a.map((p, i) => Math.hypot(p[0] - b[i]![0], p[1] - b[i]![1])));

describe('corners between hand keys', () => {
  const motion = new KeyedMotion(keysOn([0, 6, 12, 18, 24]), 260, 200);
  test('are those of one rigid rectangle in space', () => {
    expect(motion.why).toBeNull();
    for (let f = 0; f <= 24; f++) expect(off(motion.at(f).corners, flying(f))).toBeLessThan(1);
    expect([motion.at(6).how, motion.at(7).how]).toEqual(['key', 'pose']);
    expect(motion.at(6).corners).toEqual(flying(6));
  });
  test('far nearer than four curves of their own', () => {
    const worst = (m: KeyedMotion) =>
      Math.max(...Array.from({ length: 25 }, (_, f) => off(m.at(f).corners, flying(f))));
    const [first, second] = [0, 12].map((frame) => ({ frame, corners: flying(frame) }));
    const last = { frame: 24, corners: flying(24) };
    const posed = new KeyedMotion([first!, second!, last], 260, 200);
    const dented: Quad = [
      [100, 50],
      [180, 60],
      [150, 90],
      [90, 140],
    ];
    const curves = new KeyedMotion(
      [first!, { frame: 60, corners: dented }, second!, last].filter((k) => k.frame <= 24),
      260,
      200,
      { focal: 20, ratio: 30, cx: 0, cy: 0 },
    );
    expect(curves.why).toMatch(/curves of their own/);
    expect(worst(posed)).toBeLessThan(0.3 * worst(curves));
  });
  test('what keys are off a rectangle is led over, and told where it is too much', () => {
    const bent = keysOn([0, 12, 24]).map((k, i) =>
      i === 1
        ? { ...k, corners: [[k.corners[0][0] + 2, k.corners[0][1]], ...k.corners.slice(1)] as unknown as Quad }
        : k,
    );
    const slightly = new KeyedMotion(bent, 260, 200);
    expect(slightly.why).toBeNull();
    expect(slightly.at(12).corners).toEqual(bent[1]!.corners);
    const odd = new KeyedMotion(
      [
        {
          frame: 0,
          corners: [
            [50, 50],
            [150, 50],
            [150, 120],
            [50, 120],
          ],
        },
        {
          frame: 8,
          corners: [
            [50, 50],
            [250, 50],
            [120, 60],
            [50, 190],
          ],
        },
      ],
      260,
      200,
    );
    expect(odd.why).toMatch(/curves of their own/);
    expect(odd.at(4).how).toBe('curves');
  });
  test('beyond the keys they stand still, unless more is known', () => {
    expect(motion.at(30)).toEqual({ corners: flying(24), how: 'held' });
    const known = new KeyedMotion(keysOn([6, 12]), 260, 200, {}, keysOn([0, 1, 2, 17, 18]));
    expect(known.at(15).how).toBe('pose');
    expect(off(known.at(15).corners, flying(15))).toBeLessThan(0.6);
  });
  test('a frame that is known twice counts once', () => {
    const twice = new KeyedMotion(keysOn([6, 12]), 260, 200, {}, [...keysOn([0, 2, 12, 18]), ...keysOn([2, 18])]);
    expect(off(twice.at(9).corners, flying(9))).toBeLessThan(0.6);
  });
  test('may flip over by way of edge-on', () => {
    const flip = (f: number) =>
      cornersOfPose({ rotation: rotationFromVector([0, 0.02 + (Math.PI * f) / 20, 0]), position: [0, 0, 4] }, CAMERA)!;
    const turned = new KeyedMotion(keysOn([0, 5, 9, 13, 20], flip), 260, 200);
    expect(() => checkKeys(keysOn([0, 5, 9, 13, 20], flip), 'the job')).not.toThrow();
    for (let f = 0; f <= 20; f++) expect(off(turned.at(f).corners, flip(f))).toBeLessThan(2.5);
  });
});

test('the next key is asked for where most is guessed, or where the picture holds least', () => {
  const keys = [0, 4, 24];
  const motion = new KeyedMotion(keysOn(keys), 260, 200);
  const frames = Array.from({ length: 25 }, (_, frame) => ({ frame, bound: null as number | null }));
  const asked = nextKey(motion, keys, frames)!;
  expect(asked.frame).toBeGreaterThan(9);
  expect(asked.frame).toBeLessThan(19);
  expect(
    nextKey(
      motion,
      keys,
      frames.map((f) => ({ ...f, bound: f.frame === 2 ? 7 : 0.5 })),
    ),
  ).toEqual({ frame: 2, off: 7 });
  expect(nextKey(motion, [0], [{ frame: 0, bound: null }])).toBeNull();
});

describe('keys that no surface could show', () => {
  const [a] = keysOn([3]);
  test.each([
    ['none', [], /no keyed corners/],
    ['one frame twice', [a!, a!], /frame 3 is keyed twice/],
    [
      'crossed',
      [
        {
          frame: 5,
          corners: [
            [0, 0],
            [50, 50],
            [50, 0],
            [0, 50],
          ] as Quad,
        },
      ],
      /keyed on frame 5 cross each other/,
    ],
    [
      'inside out from one frame to the next',
      [
        {
          frame: 5,
          corners: [
            [0, 0],
            [50, 0],
            [50, 50],
            [0, 50],
          ] as Quad,
        },
        {
          frame: 6,
          corners: [
            [50, 0],
            [0, 0],
            [0, 50],
            [50, 50],
          ] as Quad,
        },
      ],
      /frame 6 are turned inside out/,
    ],
  ])('%s: a sentence', (_, keys, sentence) => expect(() => checkKeys(keys, 'the job')).toThrow(sentence));
});

describe('pulled onto the picture', () => {
  const frames = drawnFrames(13);
  const rough = (f: number): Quad =>
    screenAt(f).map(([x, y], i) => [
      x + 1.2 * Math.cos(3 * f + i),
      y + 1.2 * Math.sin(5 * f + 2 * i),
    ]) as unknown as Quad;
  async function pull(
    change: (frames: ReturnType<typeof drawnFrames>) => ReturnType<typeof drawnFrames> = (f) => f,
  ): Promise<Map<number, PulledFrame>> {
    const plate = change(frames);
    const found = new Map<number, PulledFrame>();
    const run = await PullRun.begin(
      {
        motion: 'perspective',
        regions: [
          {
            points: [
              [40, 35],
              [225, 35],
              [225, 175],
              [40, 175],
            ],
          },
        ],
        keepOut: [],
        referenceFrame: 0,
        corners: screenAt(0),
        keys: [4, 8, 12].map((frame) => ({ frame, corners: rough(frame) })),
        known: [0, 1].map((frame) => ({ frame, corners: screenAt(frame) })),
        frames: [2, 12],
      },
      async (frame) => plate[frame]!,
    );
    expect(run.total).toBe(11);
    for (let at = await run.step(); at; at = await run.step()) found.set(at.frame, at);
    return found;
  }
  test('the frames between come within a fraction of a pixel, keys stay as they were put', async () => {
    const found = await pull();
    expect([...found.keys()].sort((a, b) => a - b)).toEqual([2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12]);
    for (const frame of [2, 3, 5, 6, 7, 9, 10, 11]) {
      expect(found.get(frame)!.pulled).toBe(true);
      expect(off(found.get(frame)!.corners, screenAt(frame))).toBeLessThan(0.3);
    }
    expect(found.get(8)).toMatchObject({ how: 'key', pulled: false, corners: rough(8) });
  });
  test('where the picture does not show it a frame is only interpolated, and says how sure', async () => {
    const found = await pull((plate) =>
      plate.map((frame, f) =>
        f === 10 ? { ...frame, codes: new Uint16Array(frame.codes.length).fill(20000) } : frame,
      ),
    );
    expect(found.get(10)).toMatchObject({ pulled: false, how: 'pose', confidence: 0.25 });
    expect(off(found.get(10)!.corners, screenAt(10))).toBeLessThan(found.get(10)!.bounds[0]!);
    expect(found.get(9)!.pulled).toBe(true);
  });
  test('it is gone about from what is known inward', () =>
    expect(inwardOrder([3, 8], [2, 9])).toEqual([3, 8, 4, 7, 5, 6]));
});
