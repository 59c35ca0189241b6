import { describe, expect, test } from 'vitest';
import { boundsBox, grainyRegion, movingDevice, planeWith } from '../../test/generated-device.ts';
import { grainAt } from '../blend/grain-field.ts';
import { motionAbout } from '../pin/shutter-path.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { lightOfRegion } from '../../base/image/light-region.ts';
import { sparseKeys, stopsBetween, withoutSpikes } from './exposure-curve.ts';
import { flatBlocks, grainOf } from './grain.ts';
import { cleanDark, cleanLit } from './measure-clean.ts';
import { MeasureLook } from './measure-look.ts';
import { lightOfCells, planeCells } from './plane-cells.ts';
import { codeToLight } from '../../base/image/transfer.ts';
import { proposeLook } from './propose-look.ts';
import { flatReference, shutterOf, smearMisfits } from './shutter.ts';
import { softnessOnFrame } from './softness.ts';

const NO_KEY = { keys: [], markers: [], spill: null };

describe('grain', () => {
  test.each([
    [{ floor: 0.006, shot: 0, size: 0, channels: [1, 1, 1] }],
    [{ floor: 0.004, shot: 0.012, size: 0, channels: [1, 0.8, 1.3] }],
    [{ floor: 0.008, shot: 0.01, size: 0.7, channels: [1, 1, 1] }],
  ] as const)('of %j is measured to a tenth per channel and level', (noise) => {
    const found = grainOf([1, 2, 3].flatMap((seed) => flatBlocks(grainyRegion(noise, seed))))!;
    for (const level of [0.2, 0.5, 0.8]) {
      ([0, 1, 2] as const).forEach((c) => {
        const sigma = noise.channels[c] * Math.sqrt(noise.floor ** 2 + noise.shot ** 2 * level);
        expect(Math.abs(grainAt(found.grain, level, c) / sigma - 1)).toBeLessThan(0.1);
      });
    }
    expect(Math.abs(found.grain.size![0] - noise.size)).toBeLessThan(0.15);
  });

  test('where everything is textured there is none to tell', () => {
    const region = grainyRegion(
      { floor: 0.005, shot: 0, size: 0, channels: [1, 1, 1] },
      1,
      (x, y) => 0.5 + 0.2 * Math.sin(x * 1.1) * Math.sin(y * 0.9 + x * 0.01 * y),
    );
    const found = grainOf(flatBlocks(region));
    expect(found === null || found.grain.levels[4]!.sigma[1] > 0.02).toBe(true);
  });
});

describe('softness', () => {
  test.each([0.5, 1, 4])('of %f px is measured to a tenth or 0.1 px', (sigma) => {
    const device = movingDevice({ softness: sigma, border: 0.13 });
    const { picture, quad } = device(0);
    const found = softnessOnFrame(
      0,
      lightOfRegion(picture, boundsBox(quad, 60, picture), DISPLAY_COLOUR),
      { before: null, now: quad, after: null },
      0.5,
    )!;
    expect(Math.abs(found.sigma - sigma)).toBeLessThan(Math.max(0.1, 0.1 * sigma));
  });

  test('no straight border, no softness', () => {
    const flat = planeWith(() => [0.3, 0.3, 0.3]);
    const quad: Quad = [
      [60, 50],
      [260, 52],
      [258, 180],
      [62, 178],
    ];
    expect(
      softnessOnFrame(
        0,
        lightOfRegion(flat, boundsBox(quad, 40, flat), DISPLAY_COLOUR),
        { before: null, now: quad, after: null },
        0.5,
      ),
    ).toBeNull();
  });
});

describe('exposure', () => {
  test.each([-1, -0.3, 0.4, 1])('%f stops are measured to 0.05', (stops) => {
    const device = movingDevice({ light: (f) => (f === 0 ? 1 : 2 ** stops) });
    const cells = planeCells(1.5);
    const at = (frame: number) => {
      const { picture, quad } = device(frame);
      return lightOfCells(cells, quad, lightOfRegion(picture, boundsBox(quad, 80, picture), DISPLAY_COLOUR));
    };
    const found = stopsBetween(cells, at(0), at(1), 0)!;
    expect(Math.abs(found.stops - stops)).toBeLessThan(0.05);
    expect(found.agree).toBeGreaterThan(0.2);
  });

  test('keys stay within the tolerance, and a line needs two', () => {
    expect(
      sparseKeys(
        [
          [0, 0],
          [1, 1],
          [2, 2],
          [3, 3],
        ],
        0.01,
      ),
    ).toEqual([
      [0, 0],
      [3, 3],
    ]);
    const wave = Array.from({ length: 40 }, (_, f): [number, number] => [f, Math.sin(f / 5)]);
    const keys = sparseKeys(wave, 0.02);
    expect(keys.length).toBeLessThan(25);
    for (const [f, v] of wave) {
      const after = keys.findIndex(([k]) => k >= f);
      const [fa, va] = keys[Math.max(0, after - 1)]!;
      const [fb, vb] = keys[after]!;
      expect(Math.abs(v - (fa === fb ? vb : va + ((f - fa) / (fb - fa)) * (vb - va)))).toBeLessThanOrEqual(0.0201);
    }
    expect(withoutSpikes([0, 0, 5, 0, 0])).toEqual([0, 0, 0, 0, 0]);
  });
});

describe('shutter', () => {
  test.each([90, 360])('of %f° is measured to 8° from smears of eight pixels and more', (degrees) => {
    const device = movingDevice({ speed: 38, shutter: degrees / 360 });
    const quads = [-2, -1, 0, 1, 2].map((f) => device(f, true).quad);
    const still = movingDevice({})(0);
    const reference = flatReference(
      lightOfRegion(still.picture, boundsBox(still.quad, 30, still.picture), DISPLAY_COLOUR),
      still.quad,
    )!;
    const { picture } = device(0);
    const motion = motionAbout((f) => quads[f + 2] ?? null, 0)!;
    const misfits = smearMisfits(
      reference,
      lightOfRegion(picture, boundsBox(motion.now, 40, picture), DISPLAY_COLOUR),
      motion,
      true,
    )!;
    expect(Math.abs(shutterOf([misfits])!.open * 360 - degrees)).toBeLessThan(8);
  });

  test('frames that hardly differ tell nothing', () => {
    expect(shutterOf([[1, 1.01, 1.02, 1.02, 1.03, 1.03, 1.04, 1.04, 1.05, 1.05, 1.06]])).toBeNull();
  });
});

describe('a surface told clean', () => {
  test('a dark one is what its places fall to, whatever passes over it', () => {
    const device = movingDevice({ screen: () => 0.01, mirrored: (f, u) => (Math.abs(u - f / 12) < 0.2 ? 0.3 : 0) });
    const frames = Array.from({ length: 12 }, (_, f) => ({ ...device(f), stops: 0 }));
    const clean = cleanDark(frames, 1.5, DISPLAY_COLOUR)!;
    const { data } = clean.pyramid.level(0);
    for (let i = 0; i < data.length; i += 4) expect(Math.abs(data[i]! - 0.01)).toBeLessThan(0.004);
  });

  test('a lit one keeps what the reference shows where later frames are covered', () => {
    const device = movingDevice({ screen: (u, v) => 0.2 + 0.2 * u + 0.1 * v, covered: (f, u) => f > 0 && u < 0.5 });
    const frames = [0, 1, 2, 3].map((f) => ({ ...device(f), stops: 0 }));
    const clean = cleanLit(frames, DISPLAY_COLOUR)!;
    const { width, height, data } = clean.pyramid.level(0);
    for (let row = 3; row < height - 3; row += 7)
      for (let col = 3; col < width - 3; col += 7)
        expect(
          Math.abs(data[4 * (row * width + col)]! - (0.2 + (0.2 * col) / width + (0.1 * row) / height)),
        ).toBeLessThan(0.02);
  });
});

describe('proposeLook', () => {
  const propose = (device: ReturnType<typeof movingDevice>, frames: number) => {
    const made = Array.from({ length: frames }, (_, f) => device(f));
    const quads = new Map(made.map((m, f) => [f, m.quad]));
    const shot = {
      quads,
      width: made[0]!.picture.width,
      height: made[0]!.picture.height,
      ratio: 1.5,
      colour: DISPLAY_COLOUR,
      referenceFrame: 0,
      perSecond: 25,
    };
    const measure = new MeasureLook(shot);
    measure.begin(made[measure.home]!.picture);
    for (const frame of measure.frames) measure.add(frame, made[frame]!.picture);
    return proposeLook(measure.finish(), NO_KEY, shot);
  };

  test('a screen that goes on and off is followed itself', () => {
    const look = propose(
      movingDevice({
        screen: (u, v) => 0.25 + 0.2 * Math.sin(9 * u) * Math.sin(7 * v),
        glow: (f) => (f >= 2 && f < 4 ? 0.1 : 1),
      }),
      5,
    );
    const keys = look.exposure as { frame: number; value: number }[];
    expect(Array.isArray(keys)).toBe(true);
    expect(Math.min(...keys.map((k) => k.value))).toBeCloseTo(Math.log2(0.1), 1);
    expect(Math.max(...keys.map((k) => k.value))).toBeCloseTo(0, 1);
    expect(look.why.exposure!.says).toContain("screen's own light");
  });

  test('where the frame that light is compared with is overexposed, levels are measured at less light and the content still comes out as bright', () => {
    const dark = { screen: () => 0.004 };
    const even = propose(movingDevice({ ...dark, light: (f) => (f === 0 ? 1 : 0.25) }), 4);
    const over = propose(movingDevice({ ...dark, light: (f) => (f === 0 ? 4 : 1) }), 4);
    const keys = over.exposure as { frame: number; value: number }[];
    expect(over.levels!.white).toBeCloseTo(0.85, 2);
    expect(over.why.exposure!.says).toContain('brighter than the plate records');
    // White as light on the last frame goes with the room's, which is two stops brighter, to a fifth of a stop.
    const white = (look: typeof even) =>
      Math.log2(codeToLight(look.levels!.white as number)) + (look.exposure as typeof keys).at(-1)!.value;
    expect(Math.abs(white(over) - white(even) - 2)).toBeLessThan(0.2);
    expect(keys[0]!.value - keys.at(-1)!.value).toBeCloseTo(2, 1);
  });

  test('a screen that is off tells no white: the usual one in steady light, what is seen around where light changes', () => {
    const dark = { screen: () => 0.004 };
    const steady = propose(movingDevice(dark), 3);
    const changing = propose(movingDevice({ ...dark, light: (f) => 2 ** (-f / 3) }), 4);
    expect(steady.levels!.white).toBe(0.85);
    // It mirrors nothing either: nothing of that kind is kept.
    expect(steady.reflections).toBeUndefined();
    expect(steady.why['levels/white']!.says).toContain('usual 0.85');
    expect(changing.levels!.white).toBeLessThan(0.8);
    expect(changing.why['levels/white']!.says).not.toContain('usual');
  });

  test('one frame: no exposure, 180° taken and said so', () => {
    const look = propose(movingDevice({}), 1);
    expect(look.exposure).toBeUndefined();
    expect(look.motionBlur!.shutter).toBe(180);
    expect(look.why['motionBlur/shutter']!.says).toContain('One frame tells no shutter');
    expect(look.why['motionBlur/shutter']!.certainty).toBeLessThan(0.5);
  });

  test('a locked-off shot says that it tells no shutter', () => {
    expect(propose(movingDevice({ speed: 0 }), 4).why['motionBlur/shutter']!.says).toContain(
      'too little to tell the shutter',
    );
  });

  test('a dark screen that mirrors something keeps it', () => {
    expect(
      propose(movingDevice({ screen: () => 0.008, mirrored: (f, u) => (Math.abs(u - f / 5) < 0.2 ? 0.2 : 0) }), 5)
        .reflections,
    ).toEqual({ from: 'dark' });
  });

  test('what hides a lit screen stands in front', () => {
    expect(
      propose(
        movingDevice({
          screen: (u, v) => 0.3 + 0.2 * Math.sin(9 * u) * Math.sin(7 * v),
          covered: (f, u) => f > 2 && u < 0.4,
        }),
        6,
      ).difference,
    ).toEqual({});
  });

  test('corners on no frame are refused', () => {
    expect(
      () =>
        new MeasureLook({
          quads: new Map(),
          width: 10,
          height: 10,
          ratio: 1,
          colour: DISPLAY_COLOUR,
          referenceFrame: 0,
          perSecond: 25,
        }),
    ).toThrow(RangeError);
  });
});
