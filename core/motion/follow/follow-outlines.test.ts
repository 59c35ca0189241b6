import { describe, expect, test } from 'vitest';
import { applyToPoint } from '../../base/geometry/homography.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { W, H, CORNERS, pose, picture, run, errorOf } from '../../test/drawn-wall.ts';

describe('what a person drew badly', () => {
  test('a region over two planes that move apart: it is said which part goes its own way', async () => {
    // The right third has slipped downwards and goes on.
    const fits = await run({ direction: 'forward', frames: [4, 7] }, (frame) => {
      const { codes, ...rest } = picture(frame);
      const by = frame > 4 ? 6 + 2 * frame - 8 : 0;
      const apart = codes.slice();
      for (let j = by; j < H; j++) apart.set(codes.subarray((j - by) * W + 118, (j - by + 1) * W), j * W + 118);
      return { ...rest, codes: apart };
    });
    for (const fit of fits.slice(1)) expect(fit.note).toMatch(/^the right part of the region disagrees/);
    for (const fit of fits) expect(errorOf(fit)).toBeLessThan(0.3);
    // A plane by itself is not complained of.
    expect((await run({ direction: 'forward', frames: [4, 7] })).filter((fit) => fit.note)).toEqual([]);
  });

  test('a shot of one frame is its own reference', async () => {
    expect(await run({ frames: [4, 4] })).toMatchObject([{ frame: 4, confidence: 1, error: 0 }]);
  });

  test.each<[string, [number, number][], RegExp]>([
    [
      'outside the picture',
      [
        [500, 400],
        [600, 400],
        [600, 500],
      ],
      /outside the picture/,
    ],
    [
      'eleven px high',
      [
        [50, 40],
        [150, 40],
        [150, 51],
        [50, 51],
      ],
      /at least 12 pixels/,
    ],
  ])('a region %s', async (_, points, words) => {
    await expect(run({ regions: [{ points }] })).rejects.toThrow(words);
  });
});

describe('outlines that change over time', () => {
  const box = (x0: number, x1: number): [number, number][] => [
    [x0, 40],
    [x1, 40],
    [x1, 115],
    [x0, 115],
  ];
  // Something else slides over the right half from frame 5 on, and moves with a motion of its own.
  const slid = (frame: number) => {
    const plain = picture(frame);
    const shifted = picture(frame + 1);
    if (frame > 4)
      for (let j = 0; j < H; j++) plain.codes.set(shifted.codes.subarray(j * W + 100, (j + 1) * W), j * W + 100);
    return plain;
  };

  test('a keyed region looks only where it lies on each frame', async () => {
    const fits = await run(
      { direction: 'forward', regions: [{ points: box(50, 150), keys: [{ frame: 5, points: box(50, 92) }] }] },
      slid,
    );
    for (const fit of fits) expect(errorOf(fit), `frame ${fit.frame}`).toBeLessThan(0.5);
  });

  test('a keyed keep-out that rides leaves out what it covers', async () => {
    const away: [number, number][] = [
      [300, 40],
      [360, 40],
      [360, 115],
      [300, 115],
    ];
    const fits = await run(
      { direction: 'forward', keepOut: [{ points: away, keys: [{ frame: 5, points: box(92, 160) }] }] },
      slid,
    );
    for (const fit of fits) expect(errorOf(fit), `frame ${fit.frame}`).toBeLessThan(0.5);
  });

  test('without it, what slides over is followed or pulls', async () => {
    const fits = await run({ direction: 'forward' }, slid);
    expect(Math.max(...fits.map((fit) => (fit.homography ? errorOf(fit) : 99)))).toBeGreaterThan(0.5);
  });
});

test('what has turned more than may be from one frame to the next is found, or, where that is ruled out, not taken for it', async () => {
  // The picture of frame 6 turned about its middle by 150°.
  const [c, s] = [Math.cos(2.618), Math.sin(2.618)];
  const whole = picture(6);
  const codes = new Uint8Array(W * H);
  for (let j = 0; j < H; j++)
    for (let i = 0; i < W; i++) {
      const x = Math.floor(100 + c * (i - 99.5) + s * (j - 74.5));
      const y = Math.floor(75 - s * (i - 99.5) + c * (j - 74.5));
      codes[j * W + i] = x >= 0 && y >= 0 && x < W && y < H ? whole.codes[y * W + x]! : 128;
    }
  const turned = (frame: number): LumaFrame => (frame === 6 ? { ...whole, codes } : picture(frame));
  const plan = { frames: [4, 6], direction: 'forward', turnsWithin: Math.PI } as const;
  const there = (await run(plan, turned)).find((f) => f.frame === 6)!;
  const [x, y] = applyToPoint(pose(6), CORNERS[0]!);
  const [u, v] = applyToPoint(there.homography!, CORNERS[0]!);
  expect(Math.hypot(100 + c * (x - 100) - s * (y - 75) - u, 75 + s * (x - 100) + c * (y - 75) - v)).toBeLessThan(1);
  expect(there.homography![0]).toBeLessThan(-0.5);
  // The waves look much alike upside down: what is found within the limit, if anything, is turned by 30° the other way.
  const within = (await run({ ...plan, turnsWithin: 1.3 }, turned)).find((f) => f.frame === 6)!.homography;
  expect(within === null || within[0]! > 0.5).toBe(true);
});
