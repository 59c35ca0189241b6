import { describe, expect, test } from 'vitest';
import { applyToPoint, type Homography } from '../../base/geometry/homography.ts';
import { noisyPlane } from '../../test/planes.ts';
import { NothingToFollow, type FollowPlan } from './follow-plan.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { FollowRun } from './follow-run.ts';
import type { FollowState } from './follow-state.ts';
import type { FrameFit } from './frame-fit.ts';
import { W, H, CORNERS, pose, picture, PLAN, run, errorOf } from '../../test/drawn-wall.ts';

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
