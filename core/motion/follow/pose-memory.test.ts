import { describe, expect, test } from 'vitest';
import { applyToPoints, compose, invert, type Homography } from '../../base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { warpFromParameters } from '../../base/geometry/motion-model.ts';
import { PoseMemory, possible, stretchDerivatives, stretchOf, surpriseOf } from './pose-memory.ts';

const WIDTH = 960;
const HEIGHT = 540;

/** A rectangle of 3 by 2 units, turned about the vertical and the level axis, seen with a focal length (px) from `away` units. */
function seen(focal: number, turn: number, tilt: number, away = 6, aside = 0): Quad {
  const corners: [number, number][] = [
    [-1.5, -1],
    [1.5, -1],
    [1.5, 1],
    [-1.5, 1],
  ];
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
  const moves = Array.from({ length: 12 }, (_, i) =>
    mapTo(reference, seen(900, 0.2 + 0.05 * i, -0.3 + 0.04 * i, 6 + 0.1 * i, 0.1 * i)),
  );

  test('its maps do not surprise, whatever the lens; a stretched one does', () => {
    for (const focal of [700, 900, 1600]) {
      const from = seen(focal, 0.2, -0.3);
      const memory = new PoseMemory(WIDTH, HEIGHT, from);
      const h = mapTo(from, seen(focal, 0.3, -0.2, 6.4, 0.3));
      expect(surprise(memory, h), `focal ${focal}`).toBeLessThan(2);
      expect(surprise(memory, [1.06, 0, 0, 0, 1, 0, 0, 0, 1])).toBeGreaterThan(8);
    }
  });

  test('once the camera is known, one side that slips does surprise', () => {
    const memory = new PoseMemory(WIDTH, HEIGHT, reference);
    for (const h of moves) memory.learn(h, SURE);
    const slipped = reference.map(([x, y], i): [number, number] =>
      i === 0 || i === 3 ? [x + 15, y] : [x, y],
    ) as unknown as Quad;
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
    const memory = new PoseMemory(WIDTH, HEIGHT, reference);
    const { view } = memory.expect(moves[6]!);
    const toUnit: Homography = [1 / 200, 0, -2.4, 0, 1 / 200, -1.35, 0, 0, 1];
    const rows = stretchDerivatives(view, moves[6]!, toUnit);
    for (let k = 0; k < 8; k++) {
      const at = (by: number) =>
        stretchOf(
          view,
          compose(
            moves[6]!,
            invert(toUnit)!,
            warpFromParameters(
              'perspective',
              Array.from({ length: 8 }, (_, i) => (i === k ? by : 0)),
            ),
            toUnit,
          ),
        );
      const ahead = at(1e-4);
      const back = at(-1e-4);
      for (const i of [0, 1] as const) expect(rows[i][k]).toBeCloseTo((ahead[i] - back[i]) / 2e-4, 5);
    }
  });

  test('belief goes down with surprise', () => {
    expect([0, 4, 6, 12, 40].map(possible)).toEqual([1, 1, expect.closeTo(0.5, 6) as unknown, 0, 0]);
  });

  test('a rectangle whose sides do not converge is taken as seen from the front', () => {
    const memory = new PoseMemory(WIDTH, HEIGHT, [
      [300, 200],
      [600, 200],
      [600, 400],
      [300, 400],
    ]);
    const h = mapTo(
      [
        [300, 200],
        [600, 200],
        [600, 400],
        [300, 400],
      ],
      [
        [310, 190],
        [640, 190],
        [640, 410],
        [310, 410],
      ],
    );
    expect(surprise(memory, h)).toBeLessThan(1);
    expect(applyToPoints(h, [[300, 200]])[0][0]).toBeCloseTo(310, 6);
  });
});

/**
 * The camera of R. Hartley, A. Zisserman, Multiple View Geometry, 2nd ed. 2004, Example 6.2, with its decomposition. The
 * numbers are from memory; that they agree with each other is checked first.
 */
describe('a published camera, taken apart', () => {
  const P = [
    [353.553, 339.645, 277.744, -1449460],
    [-103.528, 23.3212, 459.607, -632525],
    [0.707107, -0.353553, 0.612372, -918.559],
  ] as const;
  const K: readonly number[][] = [
    [468.2, 91.2, 300],
    [0, 427.2, 200],
    [0, 0, 1],
  ];
  const CENTRE = [1000, 2000, 1500] as const;
  const R = [
    [0.4138, 0.90915, 0.04708],
    [-0.57338, 0.22011, 0.78917],
    [0.70711, -0.35355, 0.61237],
  ] as const;

  test('the numbers agree: the centre is what the camera does not see, K·R its left part', () => {
    for (const row of P)
      expect(
        Math.abs(row[0] * CENTRE[0] + row[1] * CENTRE[1] + row[2] * CENTRE[2] + row[3]) / Math.abs(row[3]),
      ).toBeLessThan(1e-5);
    for (const i of [0, 1, 2])
      for (const k of [0, 1, 2])
        expect(K[i]!.reduce((sum, v, m) => sum + v * R[m]![k]!, 0) / P[i]![k]!).toBeCloseTo(1, 2);
  });

  test('a level ceiling, seen by it and by cameras about it: the normal that is learnt is R’s third column', () => {
    // A square-pixelled camera of known focal length in its place; the ceiling is as high above it as it stands.
    const focal = 1000;
    const about = (axis: readonly number[], angle: number) => {
      const [x, y, z] = axis as [number, number, number];
      const c = Math.cos(angle);
      const s = Math.sin(angle);
      const t = 1 - c;
      return [
        [t * x * x + c, t * x * y - s * z, t * x * z + s * y],
        [t * x * y + s * z, t * y * y + c, t * y * z - s * x],
        [t * x * z - s * y, t * y * z + s * x, t * z * z + c],
      ];
    };
    // Where its axis meets the ceiling.
    const away = CENTRE[2] / R[2][2];
    const foot = [CENTRE[0] + away * R[2][0], CENTRE[1] + away * R[2][1]] as const;
    // Turned about that point, and so many times as far from it.
    const view = (turn: readonly number[][], forward: number): Homography => {
      const rows = R.map((_, i) => [0, 1, 2].map((k) => turn[i]!.reduce((sum, v, m) => sum + v * R[m]![k]!, 0)));
      const place = rows.map((row) => -(row[0]! * foot[0] + row[1]! * foot[1]));
      place[2]! += away * forward;
      const scaled = (i: number) => [rows[i]![0]!, rows[i]![1]!, place[i]!];
      const [x, y, z] = [scaled(0), scaled(1), scaled(2)];
      return [
        ...x.map((v, k) => focal * v + (WIDTH / 2) * z[k]!),
        ...y.map((v, k) => focal * v + (HEIGHT / 2) * z[k]!),
        ...z,
      ];
    };
    const none = about([1, 0, 0], 0);
    const first = view(none, 1);
    const back = invert(first)!;
    const panel = applyToPoints(
      first,
      [
        [-300, -200],
        [300, -200],
        [300, 200],
        [-300, 200],
      ].map(([x, y]): [number, number] => [foot[0] + x!, foot[1] + y!]),
    );
    const memory = new PoseMemory(WIDTH, HEIGHT, panel);
    const axes = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
      [0.6, 0.8, 0],
    ];
    for (let round = 0; round < 3; round++)
      for (const [i, axis] of axes.entries())
        for (const angle of [-0.3, -0.15, 0.15, 0.3])
          memory.learn(compose(view(about(axis, angle), 1 + 0.05 * i), back), SURE);
    const { view: learnt } = memory.expect(first);
    const seen = ([x, y, z]: readonly [number, number, number]) =>
      [(x - learnt.cx * z) / learnt.focal, (y - learnt.cy * z) / learnt.focal, z] as const;
    const [a, b] = [seen(learnt.first), seen(learnt.second)];
    const normal = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]] as const;
    const size = Math.hypot(...normal);
    expect(learnt.focal).toBeGreaterThan(970);
    expect(learnt.focal).toBeLessThan(1030);
    for (const k of [0, 1, 2]) expect(Math.abs(normal[k]! / size)).toBeCloseTo(Math.abs(R[k]![2]), 2);
  });
});
