import { describe, expect, test } from 'vitest';
import { applyToPoint } from '../../base/geometry/homography.ts';
import { meeting } from './join-pictures.ts';
import { loopFrame, loopTimes } from './loop-times.ts';
import { gainsBetween } from './match-light.ts';
import { shareWhenGone, splitMatte } from './split-share.ts';
import { warpLight } from './warp-light.ts';

describe('the times of a loop', () => {
  test('its last frames lie over those before its first, and it goes on where it began', () => {
    const times = loopTimes(10, 59, 8);
    const all = Array.from({ length: times.length }, (_, i) => loopFrame(times, i));
    expect(times.length).toBe(42);
    expect(all.map((f) => f.frame)).toEqual(Array.from({ length: 42 }, (_, i) => 18 + i));
    expect(all.filter((f) => f.partner !== null).map((f) => f.partner)).toEqual([10, 11, 12, 13, 14, 15, 16, 17]);
    // The frame after the last partner is the loop's own first.
    expect(all.at(-1)!.partner! + 1).toBe(all[0]!.frame);
    expect(all.at(-1)!.part).toBeCloseTo(8 / 9, 12);
  });
  test('without a fade it is the span itself', () => {
    expect(loopFrame(loopTimes(0, 9, 0), 9)).toEqual({ frame: 9, partner: null, part: 0 });
  });
});

describe('where two pictures meet', () => {
  test('the same place lies on itself, part of the way', () => {
    const map = [1, 0, 8, 0, 1, -4, 0, 0, 1] as const;
    const { first, second } = meeting(map, 0.25, 100, 50)!;
    expect(applyToPoint(first, [40, 20])).toEqual([expect.closeTo(42, 9), expect.closeTo(19, 9)]);
    expect(applyToPoint(second, applyToPoint(map, [40, 20]))).toEqual([expect.closeTo(42, 9), expect.closeTo(19, 9)]);
  });
  test('light is carried to a hundredth, and it is reported where the picture ends', () => {
    const width = 40;
    const height = 30;
    const plane = () =>
      Float32Array.from(
        { length: width * height },
        (_, i) => 0.4 + 0.2 * Math.sin((i % width) / 4) * Math.cos(Math.floor(i / width) / 5),
      );
    const planes = [plane(), plane(), plane()] as const;
    const {
      planes: [out],
      seen,
    } = warpLight(planes, width, height, [1, 0, 2.5, 0, 1, -1.25, 0, 0, 1])!;
    let worst = 0;
    for (let row = 5; row < 25; row++)
      for (let col = 6; col < 34; col++)
        worst = Math.max(
          worst,
          Math.abs(out[row * width + col]! - (0.4 + 0.2 * Math.sin((col - 2.5) / 4) * Math.cos((row + 1.25) / 5))),
        );
    expect(worst).toBeLessThan(0.002);
    expect([seen[10 * width], seen[10 * width + 20], seen[29 * width + 20]]).toEqual([0, 1, 0]);
  });
  test('gains are those of what is alike, whatever moved by itself', () => {
    const n = 60 * 60;
    const a = Float32Array.from({ length: n }, (_, i) => 0.1 + (0.3 * ((i * 7919) % 101)) / 101);
    const b = a.map((v, i) => (i % 60 < 18 ? 0.9 : 1.2 * v));
    const gains = gainsBetween([a, a, a], [b, b, b], 60, 60, [
      [0, 0],
      [60, 0],
      [60, 60],
      [0, 60],
    ]);
    gains.forEach((g) => expect(g).toBeCloseTo(1.2, 2));
  });
});

describe('a split', () => {
  test('is soft about its line, keyed in time, its right as one looks along it', () => {
    const line = {
      points: [
        [50, 0],
        [50, 40],
      ] as const,
      keys: [
        {
          frame: 10,
          points: [
            [70, 0],
            [70, 40],
          ] as const,
        },
      ],
    };
    const at = (frame: number, col: number) => splitMatte({ line, home: 0, soft: 10 }, frame, 100, 40)[20 * 100 + col]!;
    expect([at(0, 30), at(0, 60)]).toEqual([1, 0]);
    expect(at(0, 49) + at(0, 50)).toBeCloseTo(1, 5);
    expect([at(5, 45), at(5, 65)]).toEqual([1, 0]);
    const shape = splitMatte(
      {
        shape: {
          points: [
            [10, 10],
            [30, 10],
            [30, 30],
            [10, 30],
          ],
        },
        home: 0,
        soft: 0,
      },
      0,
      100,
      40,
    );
    expect([shape[20 * 100 + 20], shape[20 * 100 + 50]]).toEqual([1, 0]);
  });
  test('what lies within goes over first, and at the end all has', () => {
    const split = Float32Array.of(1, 0, 0.5);
    expect([...shareWhenGone(0.5, split, 3)]).toEqual([1, 0, 0.5]);
    expect([...shareWhenGone(1, split, 3)]).toEqual([1, 1, 1]);
    expect([...shareWhenGone(0, split, 3)]).toEqual([0, 0, 0]);
    expect([...shareWhenGone(0.5, null, 2)]).toEqual([0.5, 0.5]);
  });
});
