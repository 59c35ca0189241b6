import { beforeAll, describe, expect, test } from 'vitest';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoints, compose, type Homography } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { movedCorners } from './corrections.ts';
import { SLICE_LENGTH, SLICE_REACH, SLICE_STEP, stripShifts } from './edge-slices.ts';
import { driftOf, measureSeat, type MeasuredSeat, type SeatPlan } from './measure-seat.ts';
import { proposeCorrections } from './drift-corrections.ts';
import { seatAdvice, seenOf, worthLocking } from './seat-advice.ts';
import { quadOfSides, shiftedSide, sideOf } from './sides.ts';
import { cornerDistances, drawSurface, type Drawing } from '../../../bench/seat/drawn-surface.ts';

const QUAD: Quad = [
  [62.4, 50.3],
  [257.1, 55.8],
  [250.6, 190.2],
  [57.9, 181.7],
];
const SIZE = { width: 320, height: 240 };
const COUNT = 13;
const REFERENCE = 4;
const OUTLINE = quadOfSides([0, 1, 2, 3].map((k) => shiftedSide(sideOf(QUAD, k), 24, 24)))!;
/** Where the surface really is: a hand that sways and comes nearer. */
const trueMap = (f: number): Homography =>
  compose(
    [
      1,
      0,
      6 * Math.sin(f / 3) - 6 * Math.sin(REFERENCE / 3),
      0,
      1,
      4 * Math.cos(f / 4) - 4 * Math.cos(REFERENCE / 4),
      0,
      0,
      1,
    ],
    [
      1 + 0.004 * (f - REFERENCE),
      0.003 * (f - REFERENCE),
      0,
      -0.002 * (f - REFERENCE),
      1 + 0.003 * (f - REFERENCE),
      0,
      1e-5 * (f - REFERENCE),
      0,
      1,
    ],
  );
const trueCorners = (f: number) => applyToPoints(trueMap(f), QUAD) as unknown as Quad;
function plate(change: (f: number) => Partial<Drawing> = () => ({})): LumaFrame[] {
  return Array.from({ length: COUNT }, (_, f) =>
    drawSurface({
      ...SIZE,
      quad: trueCorners(f),
      outline: applyToPoints(trueMap(f), OUTLINE),
      noise: 0.003,
      seed: f + 1,
      ...change(f),
    }),
  );
}
const still = Array.from({ length: COUNT }, (_, f) => f);
/** A track that is right but for what is planted, px of the reference. */
function plan(
  plant: (f: number, corner: number) => readonly [number, number] = () => [0, 0],
  bounds: number | null = 0.1,
  frames = still,
): SeatPlan {
  return {
    corners: QUAD,
    referenceFrame: REFERENCE,
    frames: frames.map((frame) => ({
      frame,
      bounds: bounds === null ? null : [bounds, bounds, bounds, bounds],
      map: compose(
        trueMap(frame),
        homographyBetweenQuads(
          QUAD,
          movedCorners(
            QUAD,
            [0, 1, 2, 3].flatMap((c) => plant(frame, c)),
          ),
        )!,
      ),
    })),
  };
}
const look = (p: SeatPlan, frames: LumaFrame[]) => measureSeat(p, async (frame) => frames[frame]!);
/** Worst distance of locked corners from the truth, frame by frame. */
const worst = (p: SeatPlan, { locked }: MeasuredSeat) =>
  p.frames.map(({ frame, map }, i) =>
    Math.max(
      ...cornerDistances(
        applyToPoints(map, movedCorners(QUAD, locked[i]!.moves)) as unknown as Quad,
        trueCorners(frame),
      ),
    ),
  );

let clean: LumaFrame[];
beforeAll(() => {
  clean = plate();
});

describe('a perfect sequence of homographies', () => {
  test('gives borders that are straight to 0.01 px, and slices with the edge in the middle', async () => {
    const exact = plate(() => ({ noise: 0 }));
    const p = plan();
    const measured = await look(p, exact);
    expect(measured.rails.filter((r) => r.own).map((r) => r.side)).toEqual([0, 1, 2, 3]);
    for (const { moves } of measured.locked)
      for (const shift of stripShifts(QUAD, moves)) expect(Math.abs(shift)).toBeLessThan(0.01);
    for (const strips of measured.strips) {
      for (let side = 0; side < 4; side++) {
        // Bright inside, dark outside: the crossing of half is where the corners are.
        const column = strips.subarray(side * SLICE_LENGTH, (side + 1) * SLICE_LENGTH);
        const half = (column[8]! + column[40]!) / 2;
        const at = column.findIndex((v) => v < half);
        const crossing = at - 1 + (column[at - 1]! - half) / (column[at - 1]! - column[at]!);
        expect(Math.abs(crossing * SLICE_STEP - SLICE_REACH)).toBeLessThan(0.5);
      }
    }
    expect(worthLocking(p, measured)).toBe(true);
  });
});

describe('what is planted is found', () => {
  test.each([[0.1], [null]])('a drift of up to 3 px, in a track that states bounds of %s', async (bounds) => {
    const p = plan(
      (f, c) => [((3 * (f - REFERENCE)) / 9) * (c === 2 ? 1 : 0.6), c === 0 ? 0.1 * (f - REFERENCE) : 0],
      bounds,
    );
    const measured = await look(p, clean);
    expect(Math.max(...worst(p, measured))).toBeLessThan(0.1);
    expect(Math.max(...measured.locked.map((l) => l.drift))).toBeGreaterThan(2.4);
    measured.locked.forEach((l, i) => expect(worst(p, measured)[i]!).toBeLessThan(Math.max(...l.bounds) + 0.02));
    const { corrections, after, pops } = proposeCorrections(driftOf(p, measured), REFERENCE, 0.25);
    expect(pops).toEqual([]);
    expect(new Set(corrections.map((c) => c.frame)).size).toBeLessThanOrEqual(3);
    expect(Math.max(...after)).toBeLessThan(0.3);
  });
  test('a jump of 1 px on one frame is named in words, and only that one', async () => {
    const p = plan((f) => (f === 9 ? [0.8, -0.6] : [0, 0]));
    const measured = await look(p, clean);
    const proposal = proposeCorrections(driftOf(p, measured), REFERENCE, 0.25);
    expect(proposal.pops.map((pop) => pop.frame)).toEqual([9]);
    const advice = seatAdvice({ referenceFrame: REFERENCE, frames: COUNT }, seenOf(measured), proposal, 1001);
    expect(advice).toEqual([
      { kind: 'pop', frames: [9, 9], text: expect.stringMatching(/^Frame 1010 jumps by [01]\.\d px/) as string },
    ]);
  });
});

describe('what is in the way', () => {
  test('two sides covered on some frames: the others and the neighbours hold', async () => {
    const covered = (f: number) => (f > 6 && f < 10 ? [{ at: trueCorners(f)[2], radius: 95, light: 0.35 }] : []);
    const p = plan((f) => [0.15 * (f - REFERENCE), 0]);
    const measured = await look(
      p,
      plate((f) => ({ cover: covered(f) })),
    );
    expect(Math.max(...worst(p, measured))).toBeLessThan(0.35);
    expect(measured.locked[8]!.support).toBeLessThan(measured.locked[2]!.support);
    expect(Math.max(...measured.locked[8]!.bounds)).toBeGreaterThan(Math.max(...measured.locked[2]!.bounds));
  });
  test('light a stop up and down, and blur: the middle of a ramp stays', async () => {
    const p = plan((f) => [0.2 * (f - REFERENCE), 0]);
    const measured = await look(
      p,
      plate((f) => ({ exposure: 2 ** Math.sin(f), screen: 0.3, blur: 0.8 + (f % 4) * 0.5 })),
    );
    expect(Math.max(...worst(p, measured))).toBeLessThan(0.15);
  });
  test('no border at all: said, and nothing is moved', async () => {
    const p = plan();
    const measured = await look(
      p,
      plate(() => ({ screen: 0.2, bezel: 0.2, behind: 0.2, noise: 0 })),
    );
    expect(measured).toMatchObject({ rails: [], locked: [] });
    expect(measured.strips).toHaveLength(COUNT);
    expect(worthLocking(p, measured)).toBe(false);
    expect(seatAdvice({ referenceFrame: REFERENCE, frames: COUNT }, seenOf(measured), null)[0]).toMatchObject({
      kind: 'no-border',
      text: expect.stringContaining('None of the four sides') as string,
    });
  });
  test('frames that the track does not hold are left out; the rest is solved over the hole', async () => {
    const p = plan(
      (f) => [0.2 * (f - REFERENCE), 0],
      0.1,
      still.filter((f) => f < 6 || f > 8),
    );
    const measured = await look(p, clean);
    expect(measured.locked.map((l) => l.frame)).toEqual(p.frames.map((f) => f.frame));
    expect(Math.max(...worst(p, measured))).toBeLessThan(0.1);
  });
});

test('a track that is right and says so gains nothing, and that is reported', async () => {
  const p = plan(() => [0, 0], 0.012);
  const measured = await look(p, clean);
  expect(worthLocking(p, measured)).toBe(false);
});

test('too many keys, or a correction too far: following again is advised, with the reason', () => {
  const seen = { borders: [1, 1, 1, 0], seen: [] };
  const proposal = {
    pops: [],
    before: [],
    after: [],
    corrections: [5, 10, 15, 20].map((frame) => ({ frame, corner: 0, dx: 1, dy: 0 })),
  };
  const kinds = (frames: number, p = proposal) => seatAdvice({ referenceFrame: 0, frames }, seen, p).map((a) => a.kind);
  expect(kinds(30)).toEqual(['no-border', 'follow-again']);
  expect(kinds(100)).toEqual(['no-border']);
  expect(kinds(100, { ...proposal, corrections: [{ frame: 5, corner: 0, dx: 3, dy: 2 }] })).toEqual([
    'no-border',
    'follow-again',
  ]);
});
