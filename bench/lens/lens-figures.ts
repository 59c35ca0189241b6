import { readFileSync } from 'node:fs';
import { followSpan } from '../../core/motion/follow/follow-run.ts';
import type { FollowPlan } from '../../core/motion/follow/follow-plan.ts';
import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import type { FrameFit } from '../../core/motion/follow/frame-fit.ts';
import { applyToPoints } from '../../core/base/geometry/homography.ts';
import { distance, type Quad } from '../../core/base/geometry/quad.ts';
import { lensFromScene } from '../../core/motion/scene/lens-from-scene.ts';
import { filmedFit, ThroughLens } from '../../core/motion/lens/follow-through-lens.ts';
import { straighten, type Lens } from '../../core/motion/lens/lens.ts';
import { followFeatures } from '../../core/motion/scene/follow-features.ts';
import { randomFrom } from '../../core/motion/scene/seeded-random.ts';
import { solveScene } from '../../core/motion/scene/solve-scene.ts';
import { conditionShot } from '../../demo/conditions/index.ts';
import { conditionPlate } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { lumaOf } from '../plate-luma.ts';

export interface OffByFrame {
  readonly mean: number;
  readonly worst: number;
  /** Of corners near the picture's border. */ readonly border: number;
  readonly lost: number;
}

/** A corner so near to the picture's border (of its width) is at the border. */
const BORDER = 0.12;

/** A plate that is filmed through a lens: what following comes to without it, with it, and with it as the scene tells it; and how far off that is at the picture's corners, px. */
export async function lensFigures(name: string): Promise<{
  without: OffByFrame;
  told: OffByFrame;
  estimated: OffByFrame | null;
  corners: number;
  estimate: Lens | null;
  truth: Lens;
}> {
  const { plate, truth: file } = await conditionPlate(name);
  const truth = JSON.parse(readFileSync(file, 'utf8')) as Truth;
  const luma = await lumaOf(plate);
  const { width, height } = truth;
  const { lens: filmed } = conditionShot(name)!.scene();
  const lens: Lens = {
    k1: filmed.bend!.k1,
    k2: filmed.bend!.k2,
    k3: 0,
    centre: [width / 2, height / 2],
    focal: filmed.focal,
  };
  const estimate = await fromScene(luma, width, height);
  return {
    without: await followed(truth, luma),
    told: await followed(truth, luma, lens),
    estimated: estimate && (await followed(truth, luma, estimate)),
    estimate,
    truth: lens,
    corners: estimate ? cornersOff(estimate, lens, width, height) : Infinity,
  };
}

async function fromScene(luma: readonly LumaFrame[], width: number, height: number): Promise<Lens | null> {
  const frames: [number, number] = [0, luma.length - 1];
  const { tracks } = await followFeatures({ width, height, frames }, async (frame) => luma[frame]!);
  return lensFromScene(
    await solveScene({ width, height, frames, tracks, lens: { terms: 2 }, random: randomFrom(1) }),
    width,
    height,
  );
}

/** How far off the straightened picture's corners are, px; a lens's size is its own, so that the scale about the middle is taken out. */
export function cornersOff(lens: Lens, truth: Lens, width: number, height: number): number {
  const rim: [number, number][] = [
    [0, 0],
    [width / 2, 0],
    [width, 0],
    [width, height / 2],
    [width, height],
    [width / 2, height],
    [0, height],
    [0, height / 2],
  ];
  const a = rim.map((p) => straighten(lens, p));
  const b = rim.map((p) => straighten(truth, p));
  const from = (p: readonly [number, number]) => [p[0] - width / 2, p[1] - height / 2] as const;
  const scale =
    a.reduce((s, p, i) => s + from(p)[0] * from(b[i]!)[0] + from(p)[1] * from(b[i]!)[1], 0) /
    a.reduce((s, p) => s + from(p)[0] ** 2 + from(p)[1] ** 2, 0);
  return Math.max(
    ...a.map((p, i) => Math.hypot(from(p)[0] * scale - from(b[i]!)[0], from(p)[1] * scale - from(b[i]!)[1])),
  );
}

export async function followed(truth: Truth, luma: readonly LumaFrame[], lens?: Lens): Promise<OffByFrame> {
  const { width, height, referenceFrame } = truth;
  const corners = truth.frames[referenceFrame]!.corners as unknown as Quad;
  const through = lens && new ThroughLens(lens, width, height);
  const filmed = lens && filmedFit<FrameFit>(lens, corners);
  const plan: FollowPlan = {
    motion: 'perspective',
    referenceFrame,
    frames: [0, luma.length - 1],
    direction: 'both',
    screen: corners,
    regions: [{ points: truth.region }],
    keepOut: [],
  };
  const off: number[] = [];
  const rim: number[] = [];
  const fits = new Map<number, FrameFit>();
  for await (const fit of through
    ? followSpan(through.plan(plan), async (frame) => through.luma(luma[frame]!))
    : followSpan(plan, async (frame) => luma[frame]!))
    fits.set(fit.frame, through && filmed ? filmed(through.ideal(fit)) : fit);
  let lost = 0;
  for (const { frame, homography } of fits.values()) {
    if (frame === referenceFrame) continue;
    if (!homography) {
      lost++;
      continue;
    }
    const away = applyToPoints(homography, corners).map((p, i) => distance(p, truth.frames[frame]!.corners[i]!));
    off.push(Math.sqrt(away.reduce((s, d) => s + d * d, 0) / 4));
    truth.frames[frame]!.corners.forEach(([x, y], i) => {
      if (Math.min(x, y, width - x, height - y) < BORDER * width) rim.push(away[i]!);
    });
  }
  const mean = (v: readonly number[]) => v.reduce((s, d) => s + d, 0) / Math.max(1, v.length);
  return { mean: mean(off), worst: Math.max(0, ...off), border: mean(rim), lost };
}
