import { describe, expect, test } from 'vitest';
import { applyToPoints, compose, invert, type Homography } from '../geometry/homography.ts';
import { homographyBetweenQuads } from '../geometry/estimate-homography.ts';
import type { Quad } from '../geometry/quad.ts';
import { warpFromParameters } from '../geometry/motion-model.ts';
import { PoseMemory, possible, stretchDerivatives, stretchOf, surpriseOf } from './pose-memory.ts';

const WIDTH = 960, HEIGHT = 540;

/** A rectangle of 3 by 2 units, turned about the vertical and the level axis, seen with a focal length (px) from `away` units. */
function seen(focal: number, turn: number, tilt: number, away = 6, aside = 0): Quad {
  const corners: [number, number][] = [[-1.5, -1], [1.5, -1], [1.5, 1], [-1.5, 1]];
  return corners.map(([x, y]): [number, number] => {
    const [x1, z1] = [x * Math.cos(turn), x * Math.sin(turn)];
    const [y2, z2] = [y * Math.cos(tilt) - z1 * Math.sin(tilt), y * Math.sin(tilt) + z1 * Math.cos(tilt)];
    return [WIDTH / 2 + (focal * (x1 + aside)) / (away + z2), HEIGHT / 2 + (focal * y2) / (away + z2)];
  }) as unknown as Quad;
}
const mapTo = (from: Quad, to: Quad): Homography => homographyBetweenQuads(from, to)!;
const surprise = (memory: PoseMemory, h: Homography) => surpriseOf(memory.expect(h), h);
const SURE = [1e-8, 0, 1e-8] as const;

describe('one plane seen by one camera', () => {
  const reference = seen(900, 0.2, -0.3);
  const moves = Array.from({ length: 12 }, (_, i) => mapTo(reference, seen(900, 0.2 + 0.05 * i, -0.3 + 0.04 * i, 6 + 0.1 * i, 0.1 * i)));

  test('its maps do not surprise, whatever the lens; a stretched one does', () => {
    for (const focal of [700, 900, 1600]) {
      const from = seen(focal, 0.2, -0.3), memory = new PoseMemory(WIDTH, HEIGHT, from), h = mapTo(from, seen(focal, 0.3, -0.2, 6.4, 0.3));
      expect(surprise(memory, h), `focal ${focal}`).toBeLessThan(2);
      expect(surprise(memory, [1.06, 0, 0, 0, 1, 0, 0, 0, 1])).toBeGreaterThan(8);
    }
  });

  test('once the camera is known, one side that slips does surprise', () => {
    const memory = new PoseMemory(WIDTH, HEIGHT, reference);
    for (const h of moves) memory.learn(h, SURE);
    const slipped = reference.map(([x, y], i): [number, number] => (i === 0 || i === 3 ? [x + 15, y] : [x, y])) as unknown as Quad;
    for (const h of moves) expect(surprise(memory, compose(h, mapTo(reference, slipped)))).toBeGreaterThan(5);
  });

  test('the focal length and the normal are learnt, also without a rectangle', () => {
    for (const rectangle of [reference, undefined]) {
      const memory = new PoseMemory(WIDTH, HEIGHT, rectangle);
      for (const h of [...moves, ...moves]) memory.learn(h, SURE);
      const [zoom] = memory.state().known;
      expect(1.1 * WIDTH * Math.exp(zoom!)).toBeGreaterThan(800);
      expect(1.1 * WIDTH * Math.exp(zoom!)).toBeLessThan(1010);
      expect(surprise(memory, mapTo(reference, seen(900, -0.4, 0.3, 7)))).toBeLessThan(2);
    }
  });

  test('what cannot be does not teach; what is learnt is kept', () => {
    const memory = new PoseMemory(WIDTH, HEIGHT, reference);
    for (const h of moves) memory.learn(h, SURE);
    const before = memory.state();
    memory.learn([1.2, 0, 0, 0, 1, 0, 0, 0, 1], SURE);
    expect(memory.state()).toEqual(before);
    const other = new PoseMemory(WIDTH, HEIGHT, reference);
    other.restore(before);
    expect(surprise(other, moves[5]!)).toBe(surprise(memory, moves[5]!));
  });

  test('how the stretch answers to small warps: as differences say', () => {
    const memory = new PoseMemory(WIDTH, HEIGHT, reference), { view } = memory.expect(moves[6]!), toUnit: Homography = [1 / 200, 0, -2.4, 0, 1 / 200, -1.35, 0, 0, 1];
    const rows = stretchDerivatives(view, moves[6]!, toUnit);
    for (let k = 0; k < 8; k++) {
      const at = (by: number) => stretchOf(view, compose(moves[6]!, invert(toUnit)!, warpFromParameters('perspective', Array.from({ length: 8 }, (_, i) => (i === k ? by : 0))), toUnit));
      const ahead = at(1e-4), back = at(-1e-4);
      for (const i of [0, 1] as const) expect(rows[i][k]).toBeCloseTo((ahead[i] - back[i]) / 2e-4, 5);
    }
  });

  test('belief goes down with surprise', () => {
    expect([0, 4, 6, 12, 40].map(possible)).toEqual([1, 1, expect.closeTo(0.5, 6) as unknown, 0, 0]);
  });

  test('a rectangle whose sides do not converge is taken as seen from the front', () => {
    const memory = new PoseMemory(WIDTH, HEIGHT, [[300, 200], [600, 200], [600, 400], [300, 400]]);
    const h = mapTo([[300, 200], [600, 200], [600, 400], [300, 400]], [[310, 190], [640, 190], [640, 410], [310, 410]]);
    expect(surprise(memory, h)).toBeLessThan(1);
    expect(applyToPoints(h, [[300, 200]])[0]![0]).toBeCloseTo(310, 6);
  });
});
