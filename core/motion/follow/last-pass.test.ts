import { expect, test } from 'vitest';
import { applyToPoint, type Point } from '../../base/geometry/homography.ts';
import { checked } from '../../base/schemas/check.ts';
import { movingFrame, type MovingPlate } from '../../test/moving-plate.ts';
import { EvidenceSpans } from './evidence-spans.ts';
import type { FollowPlan } from './follow-plan.ts';
import { FollowRun } from './follow-run.ts';
import type { FrameFit } from './frame-fit.ts';

const LAST = 14;
/** Evenly fast, with a shutter that is open for longer than is thought at first. */
const speed = (_frame: number): [number, number] => [6, -2.5];
const PLATE: MovingPlate = {
  width: 300,
  height: 190,
  velocity: speed,
  shutter: 0.9,
  noise: 2.5,
  seed: 6,
  gain: (frame) => 1 - 0.02 * frame,
};
const CORNERS: Point[] = [
  [60, 70],
  [180, 70],
  [180, 160],
  [60, 160],
];
const PLAN: FollowPlan = {
  motion: 'perspective',
  regions: [{ points: CORNERS.map(([x, y]) => [x, y] as [number, number]) }],
  keepOut: [],
  referenceFrame: 0,
  frames: [1, LAST],
  direction: 'forward',
  lastPass: true,
};
const read = async (frame: number) => movingFrame(PLATE, frame);

/** The corner error of a frame, px. The map between mid-shutter places is a shift. */
function errorOf(fit: FrameFit): number {
  let dx = 0;
  let dy = 0;
  for (let f = 0; f < fit.frame; f++) {
    dx += speed(f)[0];
    dy += speed(f)[1];
  }
  return Math.max(
    ...CORNERS.map((c) => {
      const [x, y] = applyToPoint(fit.homography!, c);
      return Math.hypot(x - c[0] - dx, y - c[1] - dy);
    }),
  );
}
const mean = (fits: Iterable<FrameFit>) =>
  [...fits].reduce((sum, fit, _, { length }) => sum + errorOf(fit) / length, 0);

test(
  'a last pass makes frames better by what the later ones tell; broken off, it begins anew and ends the same',
  { timeout: 60_000 },
  async () => {
    const run = await FollowRun.begin(PLAN, read);
    const followed = new Map<number, FrameFit>();
    const better = new Map<number, FrameFit>();
    let state: unknown = null;
    let known: FollowPlan['known'];
    for (let fits = await run.step(); fits; fits = await run.step()) {
      // Each frame once; then, all together, what became surer.
      for (const fit of fits) (followed.has(fit.frame) ? better : followed).set(fit.frame, fit);
      if (run.passed === 5) {
        state = JSON.parse(JSON.stringify(run.state())) as unknown;
        known = new Map([...followed].map(([frame, fit]) => [frame, fit.homography]));
      }
    }
    expect([...followed.keys()]).toEqual(Array.from({ length: LAST }, (_, i) => i + 1));
    expect(better.size).toBeGreaterThan(2);
    // The last frame has one neighbour only.
    expect(better.has(LAST)).toBe(false);
    expect(mean(new Map([...followed, ...better]).values())).toBeLessThan(mean(followed.values()));

    const again = await FollowRun.begin(
      {
        ...PLAN,
        known,
        resume: checked('followState', state, 'a state') as unknown as NonNullable<FollowPlan['resume']>,
      },
      read,
    );
    const rest: FrameFit[] = [];
    for (let fits = await again.step(); fits; fits = await again.step()) rest.push(...fits);
    expect(rest.map((fit) => fit.frame)).toEqual([...better.keys()]);
    for (const fit of rest)
      fit.homography!.forEach((v, k) => expect(v).toBeCloseTo(better.get(fit.frame)!.homography![k]!, 6));
  },
);

test('what was listened to is kept as spans', () => {
  const spans = new EvidenceSpans();
  for (const frame of [4, 5, 6, 3]) spans.add(frame, 'all');
  spans.add(5, 'ring');
  expect(spans.state()).toEqual([
    [3, 4, 'all'],
    [5, 5, 'ring'],
    [6, 6, 'all'],
  ]);
  const again = new EvidenceSpans();
  again.restore(spans.state());
  expect(again.frames()).toEqual(spans.frames());
});
