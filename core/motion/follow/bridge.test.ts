import { expect, test } from 'vitest';
import { checked } from '../../base/schemas/check.ts';
import {
  applyToPoint,
  compose,
  invert,
  translation,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { textureAt } from '../../test/moving-plate.ts';
import { isStrange } from './bridge.ts';
import { cornerBound } from './certainty.ts';
import type { FollowPlan } from './follow-plan.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { FollowRun } from './follow-run.ts';
import type { FrameFit } from './frame-fit.ts';

const W = 320;
const H = 200;
const REFERENCE = 3;
const LAST = 49;
/** A card of 44 × 32 px on the reference that comes nearer, to six times its size: most of its detail is not seen on the reference. */
const CARD: [number, number][] = [
  [138, 84],
  [182, 84],
  [182, 116],
  [138, 116],
];
const MIDDLE: Point = [160, 100];

function pose(frame: number): Homography {
  const size = 1.04 ** (frame - REFERENCE);
  return compose(
    translation(160 + 5 * Math.sin((frame - REFERENCE) / 5), 100 + 3 * Math.sin((frame - REFERENCE) / 7)),
    [size, 0, 0, 0, size, 0, 0, 0, 1],
    translation(-160, -100),
  );
}
async function picture(frame: number): Promise<LumaFrame> {
  const back = invert(pose(frame))!;
  const codes = new Uint8Array(W * H);
  for (let j = 0; j < H; j++) {
    for (let i = 0; i < W; i++) {
      let sum = 0;
      for (const [u, v] of [
        [0.25, 0.25],
        [0.75, 0.25],
        [0.25, 0.75],
        [0.75, 0.75],
      ] as const) {
        const [x, y] = applyToPoint(back, [i + u, j + v]);
        const inside = x > 135 && x < 185 && y > 81 && y < 119;
        sum += inside ? textureAt(6 * x, 6 * y, 3) : 0.45 + 0.1 * Math.sin(i * 0.05) * Math.cos(j * 0.04);
      }
      codes[j * W + i] = Math.round((255 * sum) / 4);
    }
  }
  return { width: W, height: H, codes, peak: 255 };
}
const PLAN: FollowPlan = {
  motion: 'perspective',
  regions: [{ points: CARD }],
  keepOut: [],
  referenceFrame: REFERENCE,
  frames: [0, LAST],
  direction: 'both',
};

test(
  'where the reference is too small to tell, a nearer frame leads on; its error is part of the bound; broken off and taken up again it goes the same way',
  { timeout: 60_000 },
  async () => {
    const run = await FollowRun.begin(PLAN, picture);
    const fits: FrameFit[] = [];
    let kept: { state: unknown; fits: number } | null = null;
    for (let out = await run.step(); out; out = await run.step()) {
      fits.push(...out);
      if (!kept && fits.some((fit) => fit.over !== undefined) && fits.length > LAST - 12)
        kept = { state: JSON.parse(JSON.stringify(run.state())) as unknown, fits: fits.length };
    }
    // On to the end, then back from the reference, where nothing is left of what led there.
    expect(fits.map((fit) => fit.frame)).toEqual([
      ...Array.from({ length: LAST - REFERENCE + 1 }, (_, i) => i + REFERENCE),
      2,
      1,
      0,
    ]);
    expect(fits.filter((fit) => fit.frame < REFERENCE && fit.over !== undefined)).toEqual([]);
    const led = fits.filter((fit) => fit.over !== undefined);
    expect(led.length).toBeGreaterThan(4);
    for (const fit of fits) {
      if (fit.frame === REFERENCE) continue;
      for (const corner of CARD) {
        const [x, y] = applyToPoint(fit.homography!, corner);
        const [u, v] = applyToPoint(pose(fit.frame), corner);
        const off = Math.hypot(x - u, y - v);
        expect(off, `frame ${fit.frame}`).toBeLessThan(0.25 * 1.04 ** Math.abs(fit.frame - REFERENCE));
        expect(off, `frame ${fit.frame}`).toBeLessThan(cornerBound(fit.certainty!, fit.homography!, corner));
      }
    }
    // What is led is not said to be better known than the frame that it is led over, magnified as it is.
    const boundOn = (fit: FrameFit) => Math.max(...CARD.map((c) => cornerBound(fit.certainty!, fit.homography!, c)));
    for (const fit of led) {
      expect(fit.note).toMatch(/led over a nearer frame/);
      expect(boundOn(fit)).toBeGreaterThan(boundOn(fits.find((f) => f.frame === fit.over)!));
    }

    const known = new Map(fits.slice(0, kept!.fits).map((fit) => [fit.frame, fit.homography]));
    const state = checked('followState', kept!.state, 'a state') as unknown as NonNullable<FollowPlan['resume']>;
    const again = await FollowRun.begin({ ...PLAN, known, resume: state }, picture);
    const rest: FrameFit[] = [];
    for (let out = await again.step(); out; out = await again.step()) rest.push(...out);
    expect(rest.map((fit) => fit.frame)).toEqual(fits.slice(kept!.fits).map((fit) => fit.frame));
    rest.forEach((fit, i) =>
      fit.homography!.forEach((value, k) => expect(value).toBeCloseTo(fits[kept!.fits + i]!.homography![k]!, 6)),
    );
  },
);

test('a view is strange when it is much larger, smaller or more oblique than the reference', () => {
  const scaled = (x: number, y: number): Homography => [x, 0, 0, 0, y, 0, 0, 0, 1];
  expect(
    [scaled(1, 1), scaled(1.9, 0.6), [0, -1.5, 0, 1.5, 0, 0, 0, 0, 1] as Homography].map((h) => isStrange(h, MIDDLE)),
  ).toEqual([false, false, false]);
  expect([scaled(2.1, 2.1), scaled(0.45, 0.45), scaled(1, 0.4)].map((h) => isStrange(h, MIDDLE))).toEqual([
    true,
    true,
    true,
  ]);
});
