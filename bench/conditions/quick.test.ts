import { describe, expect, test } from 'vitest';
import { writeTrack } from '../../core/handoff/exchange/track-file.ts';
import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import { followSpan } from '../../core/motion/follow/follow-run.ts';
import type { FrameFit } from '../../core/motion/follow/frame-fit.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { conditionShot } from '../../demo/conditions/index.ts';
import { renderFrame } from '../../demo/scene/render.ts';
import { recordFrame } from '../../demo/scene/sensor.ts';
import { truthOf } from '../../demo/truth.ts';
import { jobFromTruth } from '../accuracy-job.ts';
import { falselyCertain, measureTrack } from './measure.ts';

/**
 * A quick part of `npm run accuracy:follow`: a few frames of some conditions, of a seed that its table does not hold,
 * rendered at half size, against the generator's exact corners.
 */
const SEED = 7;
const HALF = { width: 480, height: 270, focal: 430 };

describe.each<[condition: string, frames: readonly number[], mean: number]>([
  ['clean', [-1, 0, 1, 2], 0.1],
  ['dark-reflection', [-1, 0, 1, 2], 0.3],
  ['covered', [0, 1, 2, 3], 0.15],
  ['lights-up', [0, 1, 2, 3], 0.12],
])('%s', (condition, around, limit) => {
  test('corners against the truth, and what is said of them', async () => {
    const made = conditionShot(`${condition}@${SEED}`)!;
    const shot = { ...made, scene: () => ({ ...made.scene(), lens: HALF }) };
    const truth = truthOf(shot);
    const scene = shot.scene();
    const first = made.referenceFrame + around[0]!;
    const last = made.referenceFrame + around.at(-1)!;
    const plate = new Map<number, LumaFrame>();
    const read = async (frame: number): Promise<LumaFrame> => {
      const there = plate.get(frame);
      if (there) return there;
      const rgb = recordFrame(renderFrame(scene, frame), shot.noise, shot.seed * 7919 + frame);
      const codes = new Uint8Array(HALF.width * HALF.height);
      for (let i = 0; i < codes.length; i++)
        codes[i] = 0.2126 * rgb[3 * i]! + 0.7152 * rgb[3 * i + 1]! + 0.0722 * rgb[3 * i + 2]! + 0.5;
      const luma = { width: HALF.width, height: HALF.height, codes, peak: 255 as const };
      plate.set(frame, luma);
      return luma;
    };
    const job = jobFromTruth(truth);
    const corners = job.corners as unknown as Quad;
    const fits: FrameFit[] = [];
    const plan = {
      motion: job.motion,
      regions: job.regions,
      keepOut: job.keepOut ?? [],
      screen: corners,
      referenceFrame: job.referenceFrame,
      frames: [first, last] as [number, number],
      direction: 'both' as const,
    };
    for await (const fit of followSpan(plan, read)) fits.push(fit);
    const track = writeTrack(
      {
        pixelCentre: 'half',
        width: HALF.width,
        height: HALF.height,
        rate: truth.rate,
        referenceFrame: job.referenceFrame,
        corners,
      },
      fits,
    );
    const measured = measureTrack(
      { ...truth, frames: truth.frames.filter((f) => f.frame >= first && f.frame <= last) },
      track,
    );
    expect(measured.lost).toBe(0);
    expect(measured.mean).toBeLessThan(limit);
    expect(falselyCertain(measured.frames)).toEqual([]);
    const bounds = measured.frames.flatMap((f) => f.corners.filter((c) => c.bound !== null));
    expect(bounds.filter((c) => c.distance <= c.bound!).length).toBeGreaterThanOrEqual(bounds.length - 2);
    // A bound that holds because it is wide would say nothing.
    expect(Math.max(...bounds.map((c) => c.bound!))).toBeLessThan(1.5);
  });
});
