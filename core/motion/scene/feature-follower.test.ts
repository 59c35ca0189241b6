import { describe, expect, test } from 'vitest';
import { movingFrame, type MovingPlate } from '../../test/moving-plate.ts';
import { followFeatures, outsideKeepOuts } from './follow-features.ts';
import { lastFrame, placeAt } from './feature-tracks.ts';

const PLATE: MovingPlate = { width: 320, height: 200, velocity: () => [2.3, -1.1], shutter: 0.2, noise: 1.5, seed: 4 };
const FRAMES = 12;
const frames = Array.from({ length: FRAMES }, (_, i) => movingFrame(PLATE, i));
const read = async (frame: number) => frames[frame] ?? null;

describe('features', () => {
  test('are spread over the picture and follow it to a few hundredths of a pixel a frame, without drifting', async () => {
    const { tracks, last } = await followFeatures({ width: 320, height: 200, frames: [0, null] }, read);
    const whole = tracks.filter((t) => t.first === 0 && lastFrame(t) === FRAMES - 1);
    expect(last).toBe(FRAMES - 1);
    expect(whole.length).toBeGreaterThan(40);
    const offs = whole
      .map((t) =>
        Math.hypot(t.xs.at(-1)! - t.xs[0]! - 2.3 * (FRAMES - 1), t.ys.at(-1)! - t.ys[0]! + 1.1 * (FRAMES - 1)),
      )
      .sort((a, b) => a - b);
    expect(offs[offs.length >> 1]!).toBeLessThan(0.12);
    const columns = new Set(whole.map((t) => Math.floor(t.xs[0]! / 80)));
    const rows = new Set(whole.map((t) => Math.floor(t.ys[0]! / 66)));
    expect([columns.size, rows.size]).toEqual([4, 3]);
  });
  test('keep-outs are not looked at; a place that is taken out does not count; one that is put is followed both ways', async () => {
    const keepOut = outsideKeepOuts(
      [
        {
          points: [
            [0, 0],
            [160, 0],
            [160, 200],
            [0, 200],
          ],
        },
      ],
      0,
    );
    const plan = { width: 320, height: 200, frames: [0, FRAMES - 1] as const };
    const right = await followFeatures({ ...plan, allowed: keepOut }, read);
    expect(Math.min(...right.tracks.flatMap((t) => t.xs))).toBeGreaterThanOrEqual(160);
    const some = right.tracks.find((t) => t.first === 0 && t.xs.length > 4)!;
    const without = await followFeatures(
      { ...plan, allowed: keepOut, removed: [{ frame: 2, at: placeAt(some, 2)! }] },
      read,
    );
    expect(without.tracks.length).toBeLessThan(right.tracks.length);
    const put = await followFeatures({ ...plan, allowed: keepOut, drawn: [{ frame: 6, at: [240.25, 100.5] }] }, read);
    const mine = put.tracks.find((t) => {
      const at = placeAt(t, 6);
      return at && at[0] === 240.25 && at[1] === 100.5;
    })!;
    expect(mine.first).toBeLessThan(6);
    expect(lastFrame(mine)).toBeGreaterThan(6);
  });
});
