import { describe, expect, test } from 'vitest';
import { discBlur, discShare } from '../../base/image/disc-blur.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import { BLEND_FUNCTIONS } from '../look/blend-modes.ts';
import { colourMatrix, hueMatrix, saturationMatrix } from '../pin/colour-matrix.ts';
import { flickerLight } from '../pin/flicker.ts';
import { grainAt, grainField, grainSeenSmaller } from './grain-field.ts';
import { mirrorMotion } from './mirror-motion.ts';
import { screenPattern } from '../pin/pixel-grid.ts';
import { roundCorners } from '../pin/round-corners.ts';
import { viewingFalloff } from '../pin/viewing-falloff.ts';

describe('ways to blend (W3C, Compositing and Blending Level 1, §9.1, worked by hand)', () => {
  test.each([
    ['multiply', 0.5, 0.4, 0.2],
    ['screen', 0.5, 0.4, 0.7],
    ['lighten', 0.5, 0.4, 0.5],
    ['lighten', 0.3, 0.4, 0.4],
    ['add', 0.5, 0.4, 0.9],
    ['over', 0.5, 0.4, 0.4],
    // Cs ≤ 0.5: Cb − (1 − 2·Cs)·Cb·(1 − Cb); above: Cb + (2·Cs − 1)·(D(Cb) − Cb), D(0.2) = ((16·0.2 − 12)·0.2 + 4)·0.2 = 0.448, D(0.5) = √0.5.
    ['soft-light', 0.5, 0.25, 0.375],
    ['soft-light', 0.2, 0.75, 0.324],
    ['soft-light', 0.5, 1, 0.70711],
  ] as const)('%s of %f and %f', (mode, backdrop, source, expected) => {
    expect(BLEND_FUNCTIONS[mode](backdrop, source)).toBeCloseTo(expected, 5);
  });

  test('light beyond 1 is never darkened by screen', () => {
    expect(BLEND_FUNCTIONS.screen(1.4, 0.5)).toBe(1.4);
    expect(BLEND_FUNCTIONS.screen(0.5, 3)).toBe(3);
  });
});

describe('colour matrices (W3C, Filter Effects Level 1, §9.6)', () => {
  test('saturate 0 makes the published grey, 1 leaves all', () => {
    expect(saturationMatrix(0).slice(0, 3)).toEqual([0.213, 0.715, 0.072]);
    expect([...saturationMatrix(1)].map((v) => Math.round(v * 1e9) / 1e9)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  });

  test('a turn of 360° is none, grey stays grey at any', () => {
    expect(colourMatrix(1, 360, [1, 1, 1])).toBeNull();
    for (const angle of [0.4, 2, -1.2])
      for (let row = 0; row < 3; row++)
        expect(
          hueMatrix(angle)
            .slice(3 * row, 3 * row + 3)
            .reduce((a, b) => a + b),
        ).toBeCloseTo(1, 9);
  });

  test('a tint multiplies rows', () => {
    expect(colourMatrix(1, 0, [2, 1, 0.5])!.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([
      2, 0, 0, 0, 1, 0, 0, 0, 0.5,
    ]);
  });
});

describe('disc', () => {
  test('its kernel has the area of the disc', () => {
    for (const radius of [0.8, 2.3, 5]) {
      let sum = 0;
      for (let y = -7; y <= 7; y++) for (let x = -7; x <= 7; x++) sum += discShare(Math.abs(x), Math.abs(y), radius);
      expect(Math.abs(sum / (Math.PI * radius * radius) - 1)).toBeLessThan(0.02);
    }
  });

  test('a point becomes an even disc, and its light is kept', () => {
    const size = 21;
    const data = new Float32Array(size * size * 2);
    data[(10 * size + 10) * 2] = 1;
    data[(10 * size + 10) * 2 + 1] = 0.5;
    const out = discBlur(data, size, size, 2, 4);
    const at = (x: number, y: number, c: number) => out[(y * size + x) * 2 + c]!;
    expect(out.reduce((a, b) => a + b, 0)).toBeCloseTo(1.5, 4);
    expect(at(10, 10, 0)).toBeCloseTo(1 / (Math.PI * 16), 3);
    expect(at(12, 11, 0)).toBeCloseTo(at(10, 10, 0), 6);
    expect(at(15, 10, 0)).toBe(0);
    expect(at(8, 9, 1)).toBeCloseTo(0.5 * at(8, 9, 0), 6);
  });

  test('a radius that is no number throws', () => {
    expect(() => discBlur(new Float32Array(4), 2, 2, 1, NaN)).toThrow(RangeError);
  });
});

describe('grain', () => {
  const box = { left: 3, top: 5, right: 163, bottom: 125 };
  const spread = (v: Float32Array) => {
    const mean = v.reduce((a, b) => a + b, 0) / v.length;
    return Math.sqrt(v.reduce((a, b) => a + (b - mean) ** 2, 0) / v.length);
  };
  const neighbours = (v: Float32Array, width: number, step: number) => {
    let own = 0;
    let cross = 0;
    for (let i = 0; i + step < v.length; i++) {
      if (step === 1 && i % width === width - 1) continue;
      own += v[i]! * v[i]!;
      cross += v[i]! * v[i + step]!;
    }
    return cross / own;
  };

  test.each([
    [[0, 0], 0, 0],
    [[0.8, 0.8], Math.exp(-1 / (4 * 0.64)), Math.exp(-1 / (4 * 0.64))],
    [[0.7, 0], Math.exp(-1 / (4 * 0.49)), 0],
  ] as const)('has a variance of 1, and neighbours correlate as a gaussian of size %j', (size, right, below) => {
    const field = grainField(box, size, 7);
    expect(Math.abs(spread(field) - 1)).toBeLessThan(0.03);
    expect(Math.abs(neighbours(field, 160, 1) - right)).toBeLessThan(0.03);
    expect(Math.abs(neighbours(field, 160, 160) - below)).toBeLessThan(0.03);
  });

  test('a part drawn alone is the same; another frame is another', () => {
    const whole = grainField(box, [0.6, 0.6], 3);
    const part = grainField({ left: 40, top: 50, right: 60, bottom: 60 }, [0.6, 0.6], 3);
    for (let row = 0; row < 10; row++)
      for (let col = 0; col < 20; col++)
        expect(part[row * 20 + col]).toBeCloseTo(whole[(row + 45) * 160 + col + 37]!, 5);
    const next = grainField(box, [0.6, 0.6], 4);
    expect(Math.abs(whole.reduce((s, v, i) => s + v * next[i]!, 0) / whole.length)).toBeLessThan(0.03);
  });

  test('goes straight between its levels, and on as at the ends', () => {
    const grain = {
      levels: [
        { level: 0.2, sigma: [0.01, 0.02, 0.03] },
        { level: 0.6, sigma: [0.03, 0.04, 0.05] },
      ] as never,
    };
    expect(grainAt(grain, 0.4, 0)).toBeCloseTo(0.02, 9);
    expect(grainAt(grain, 0, 1)).toBe(0.02);
    expect(grainAt(grain, 1, 2)).toBe(0.05);
  });

  test('averages out in a smaller picture: white grain by half at half the size', () => {
    expect(
      grainSeenSmaller({ levels: [{ level: 0, sigma: [0.02, 0.02, 0.02] }], size: [0, 0] }, 0.5).levels[0].sigma[0],
    ).toBeCloseTo(0.01, 9);
  });
});

describe('screen', () => {
  test('flicker averages out where the shutter is open for whole swings', () => {
    expect(flickerLight({ amount: 0.02, rate: 50 }, 7, 25, 0.5)).toBeCloseTo(1, 9);
    expect(flickerLight({ amount: 0.02, rate: 6.25, phase: 0 }, 1, 25, 0)).toBeCloseTo(1.02, 9);
  });

  test('a grid is resolved where its pixels are large, fades where they are not, and is 1 in the mean', () => {
    const out: [number, number, number] = [0, 0, 0];
    const swing = (columns: number, sigma: number) => {
      const pattern = screenPattern({ grid: { columns } }, 1, { sigma, motion: [0, 0] });
      const toUnit = homographyBetweenQuads(
        [
          [0, 0],
          [400, 0],
          [400, 400],
          [0, 400],
        ],
        UNIT_SQUARE,
      )!;
      const seen: number[] = [];
      for (let y = 200; y < 210; y++) {
        for (let x = 0; x < 400; x++) {
          pattern(toUnit, x + 0.5, y + 0.5, out);
          seen.push(out[1]);
        }
      }
      return { mean: seen.reduce((a, b) => a + b) / seen.length, most: Math.max(...seen) - Math.min(...seen) };
    };
    const large = swing(40, 0.3);
    const fine = swing(1500, 0.6);
    const beat = swing(410, 0.2);
    expect(large.most).toBeGreaterThan(0.5);
    expect(fine.most).toBeLessThan(0.01);
    // Nearly one panel pixel for each of the plate's: the second harmonic and the slip between the two show as a slow beat.
    expect(beat.most).toBeGreaterThan(0.005);
    expect(Math.abs(large.mean - 1)).toBeLessThan(0.05);
  });

  test('light does not fall off straight on, and by the cosine from the side', () => {
    const camera = { focal: 1000, cx: 500, cy: 400, ratio: 1.5 };
    const straight: Quad = [
      [350, 300],
      [650, 300],
      [650, 500],
      [350, 500],
    ];
    const slope = viewingFalloff(straight, camera, 1)!;
    expect(slope[0] + 500 * slope[1] + 400 * slope[2]).toBeGreaterThan(0.98);
    const flatter: Quad = [
      [425, 300],
      [575, 290],
      [575, 510],
      [425, 500],
    ];
    const side = viewingFalloff(flatter, camera, 1)!;
    expect(side[0] + 500 * side[1] + 400 * side[2]).toBeLessThan(0.75);
  });

  test('rounded corners take off what a square has more than its arc: (1 − π/4)·r² each', () => {
    const quad: Quad = [
      [20, 20],
      [120, 20],
      [120, 100],
      [20, 100],
    ];
    const toPicture = homographyBetweenQuads(UNIT_SQUARE, quad)!;
    const toUnit = homographyBetweenQuads(quad, UNIT_SQUARE)!;
    const round = roundCorners(toUnit, (u, v) => [20 + 100 * u, 20 + 80 * v], 100 / 80, 12 / 80);
    let taken = 0;
    for (let row = 20; row < 100; row++) {
      const weights = new Float32Array(100).fill(1);
      round(row, 20, 120, weights);
      taken += weights.reduce((s, w) => s + 1 - w, 0);
    }
    expect(toPicture).not.toBeNull();
    expect(Math.abs(taken / (4 * (1 - Math.PI / 4) * 144) - 1)).toBeLessThan(0.03);
  });
});

describe('mirror motion', () => {
  const camera = { focal: 900, cx: 480, cy: 270, ratio: 1.6 };
  const at = (yaw: number): Quad =>
    [
      [-0.8, -0.5],
      [0.8, -0.5],
      [0.8, 0.5],
      [-0.8, 0.5],
    ].map(([x, y]) => {
      const px = x! * Math.cos(yaw);
      const pz = 3 - x! * Math.sin(yaw);
      return [480 + (900 * px) / pz, 270 + (900 * y!) / pz] as const;
    }) as unknown as Quad;

  test('what stays still is seen where it was', () => {
    const [x, y] = mirrorMotion(at(0.1), at(0.1), camera)!([500, 250]);
    expect(x).toBeCloseTo(500, 3);
    expect(y).toBeCloseTo(250, 3);
  });

  test('turning the mirror by an angle turns what is seen in it by twice that', () => {
    const turn = 0.03;
    const [x] = mirrorMotion(at(0), at(turn), camera)!([480, 270]);
    expect(Math.abs(Math.atan((x - 480) / 900))).toBeCloseTo(2 * turn, 3);
  });
});
