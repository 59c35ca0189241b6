import { describe, expect, test } from 'vitest';
import {
  applyToPoint,
  compose,
  invert,
  translation,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { noisyPlane, waveAt } from '../../test/planes.ts';
import { NothingToFollow, type FollowPlan } from './follow-plan.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { FollowRun, followSpan } from './follow-run.ts';
import type { FollowState } from './follow-state.ts';
import type { FrameFit } from './frame-fit.ts';

const W = 200;
const H = 150;
const REGION: [number, number][] = [
  [50, 40],
  [150, 40],
  [150, 115],
  [50, 115],
];
const CORNERS: Point[] = REGION;

/** A plane that drifts, turns and comes closer; everything else is another texture. */
function pose(frame: number): Homography {
  const f = frame - 4;
  const angle = 0.012 * f;
  const scale = 1 + 0.008 * f;
  const about = compose(
    translation(100 + 2.1 * f, 75 - 1.2 * f),
    [
      scale * Math.cos(angle),
      -scale * Math.sin(angle),
      0,
      scale * Math.sin(angle),
      scale * Math.cos(angle),
      0,
      2e-5 * f,
      0,
      1,
    ],
    translation(-100, -75),
  );
  return about;
}

function picture(frame: number, covered: (x: number, y: number) => boolean = () => false): LumaFrame {
  const back = invert(pose(frame))!;
  const codes = new Uint8Array(W * H);
  for (let j = 0; j < H; j++) {
    for (let i = 0; i < W; i++) {
      const [x, y] = applyToPoint(back, [i + 0.5, j + 0.5]);
      const inside = x > 42 && x < 158 && y > 32 && y < 123;
      const value = covered(i, j) ? 0.9 : inside ? waveAt(x, y) : 0.5 + 0.3 * Math.sin(i * 0.21) * Math.cos(j * 0.17);
      codes[j * W + i] = Math.round(255 * value);
    }
  }
  return { width: W, height: H, codes, peak: 255 };
}

const PLAN: FollowPlan = {
  motion: 'perspective',
  regions: [{ points: REGION }],
  keepOut: [],
  referenceFrame: 4,
  frames: [0, 9],
  direction: 'both',
  // What is lost is looked for in a few turns only, but where turns are the subject.
  turnsWithin: 0.4,
};

async function run(plan: Partial<FollowPlan>, read: (frame: number) => LumaFrame = picture): Promise<FrameFit[]> {
  const fits: FrameFit[] = [];
  for await (const fit of followSpan({ ...PLAN, ...plan }, async (frame) => read(frame))) fits.push(fit);
  return fits;
}

function errorOf(fit: FrameFit): number {
  return Math.max(
    ...CORNERS.map((c) => {
      const [x, y] = applyToPoint(fit.homography!, c);
      const [u, v] = applyToPoint(pose(fit.frame), c);
      return Math.hypot(x - u, y - v);
    }),
  );
}

describe('followSpan', () => {
  test('follows outward from the reference, each frame once, to a fraction of a pixel', async () => {
    const fits = await run({});
    expect(fits.map((f) => f.frame)).toEqual([4, 5, 6, 7, 8, 9, 3, 2, 1, 0]);
    expect(fits.filter((f) => f.homography === null)).toEqual([]);
    for (const fit of fits) expect(errorOf(fit), `frame ${fit.frame}`).toBeLessThan(0.12);
    for (const fit of fits) expect(fit.confidence).toBeGreaterThan(0.8);
  });

  test.each<[FollowPlan['direction'], number[]]>([
    ['forward', [4, 5, 6]],
    ['backward', [4, 3, 2]],
  ])('goes %s only', async (direction, frames) => {
    expect((await run({ direction, frames: [2, 6] })).map((f) => f.frame)).toEqual(frames);
  });

  test('a span away from the reference is reached through the frames between, which are not given out', async () => {
    const fits = await run({ frames: [7, 8], direction: 'forward' });
    expect(fits.map((f) => f.frame)).toEqual([7, 8]);
    expect(errorOf(fits[1]!)).toBeLessThan(0.12);
  });

  test('what is known already is not done again and serves as the start', async () => {
    const known = new Map<number, Homography | null>([
      [4, [1, 0, 0, 0, 1, 0, 0, 0, 1]],
      [5, pose(5)],
      [6, pose(6)],
      [7, null],
    ]);
    const read: number[] = [];
    const fits = await run({ known, direction: 'forward' }, (frame) => {
      read.push(frame);
      return picture(frame);
    });
    expect(read).toEqual([4, 8, 9]);
    expect(fits.map((f) => f.frame)).toEqual([8, 9]);
    for (const fit of fits) expect(errorOf(fit)).toBeLessThan(0.12);
  });

  test('a frame on which nothing is seen is lost with a reason, and the next ones are found again', async () => {
    const fits = await run({ direction: 'forward', frames: [4, 8] }, (frame) => picture(frame, () => frame === 6));
    const lost = fits.find((f) => f.frame === 6)!;
    expect(lost.homography).toBeNull();
    expect(lost.lost).toMatch(/^(covered|unlike the reference|pulled apart): /);
    for (const fit of fits.filter((f) => f.frame > 6)) expect(errorOf(fit)).toBeLessThan(0.15);
  });

  test('gives a way up when nothing has been found for long, and goes the other', async () => {
    const fits = await run({ patience: 1 }, (frame) => picture(frame, () => frame > 5));
    expect(fits.map((f) => [f.frame, f.homography !== null])).toEqual([
      [4, true],
      [5, true],
      [6, false],
      [3, true],
      [2, true],
      [1, true],
      [0, true],
    ]);
  });

  test('holds while a third of the region is covered', async () => {
    const fits = await run({ direction: 'forward', frames: [4, 7] }, (frame) =>
      picture(frame, (x) => frame > 4 && x > 122),
    );
    for (const fit of fits) expect(errorOf(fit), `frame ${fit.frame}`).toBeLessThan(0.4);
  });

  test.each<[string, Partial<FollowPlan>, RegExp]>([
    [
      'outside the picture',
      {
        regions: [
          {
            points: [
              [900, 900],
              [950, 900],
              [950, 950],
            ],
          },
        ],
      },
      /outside the picture/,
    ],
    [
      'wholly kept out',
      {
        keepOut: [
          {
            points: [
              [0, 0],
              [200, 0],
              [200, 150],
              [0, 150],
            ],
          },
        ],
      },
      /kept out/,
    ],
    [
      'four pixels wide',
      {
        regions: [
          {
            points: [
              [50, 50],
              [54, 50],
              [54, 90],
              [50, 90],
            ],
          },
        ],
      },
      /too small/,
    ],
  ])('says what is wrong with a region %s', async (_, plan, words) => {
    const failure = await run(plan).catch((error: unknown) => error);
    expect(failure).toBeInstanceOf(NothingToFollow);
    expect((failure as Error).message).toMatch(words);
  });
});

test('a blank wall has nothing to hold on to, even a noisy one', async () => {
  const wall = (frame: number): LumaFrame => ({
    width: W,
    height: H,
    peak: 255,
    codes: noisyPlane(W, H, frame + 1).data.reduce(
      (codes, v, i) => ((codes[i] = 120 + Math.round(5 * v)), codes),
      new Uint8Array(W * H),
    ),
  });
  const failure = await run({}, wall).catch((error: unknown) => error);
  expect((failure as Error).message).toMatch(/nothing to hold on to here: 3 edges needed, found [012]\./);
});

describe('a run that is broken off', () => {
  const SHORT: [number, number] = [3, 9];
  // A loss and a cover on the way: lost frames wait for those after them, and what was learnt matters.
  const read = (frame: number) => picture(frame, (x) => frame === 6 || (frame > 6 && x > 130));

  test('goes on in another process as if it had not been, wherever that happens', async () => {
    const whole = await run({ frames: SHORT }, read);
    expect(whole.map((f) => f.frame)).toContain(6);
    let steps = 0;
    const kept: FrameFit[] = [];
    let state: FollowState | undefined;
    // Every other step in a run of its own: only what can be written down goes on.
    for (;;) {
      const known = new Map(kept.map((fit) => [fit.frame, fit.homography]));
      const one = await FollowRun.begin({ ...PLAN, frames: SHORT, known, resume: state }, async (frame) => read(frame));
      const first = await one.step();
      const second = first && (await one.step());
      if (!first) break;
      kept.push(...(JSON.parse(JSON.stringify([...first, ...(second ?? [])])) as FrameFit[]));
      if (!second) break;
      state = JSON.parse(JSON.stringify(one.state())) as FollowState;
      steps += 2;
    }
    expect(steps).toBeGreaterThan(6);
    expect(kept.map((f) => f.frame)).toEqual(whole.map((f) => f.frame));
    kept.forEach((fit, i) => {
      const other = whole[i]!;
      expect(fit.confidence).toBeCloseTo(other.confidence, 6);
      for (const corner of CORNERS) {
        const [x, y] = applyToPoint(fit.homography ?? [1, 0, 0, 0, 1, 0, 0, 0, 1], corner);
        const [u, v] = applyToPoint(other.homography ?? [1, 0, 0, 0, 1, 0, 0, 0, 1], corner);
        expect(Math.hypot(x - u, y - v)).toBeLessThan(1e-6);
      }
    });
  });

  test('a run goes on from any known frame', async () => {
    const known = new Map([3, 4, 5, 6].map((frame) => [frame, pose(frame)]));
    const on = await run({ known, from: 6, direction: 'forward' });
    const back = await run({ known, from: 3, direction: 'backward' });
    expect(on.map((f) => f.frame)).toEqual([7, 8, 9]);
    expect(back.map((f) => f.frame)).toEqual([2, 1, 0]);
    for (const fit of [...on, ...back]) expect(errorOf(fit)).toBeLessThan(0.12);
  });
});

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
