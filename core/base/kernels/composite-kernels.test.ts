import { afterEach, describe, expect, test } from 'vitest';
import { compiledCompositeKernels } from '../../../server/kernels/load-kernels.ts';
import { layGrain } from '../../picture/blend/lay-grain.ts';
import { layBehindFront } from '../../picture/composite/occlusion.ts';
import { ContentPyramid } from '../../picture/pin/content-pyramid.ts';
import { halveLight } from '../../picture/pin/halve-light.ts';
import { plainPin, renderPin } from '../../picture/pin/pin-layer.ts';
import type { Quad } from '../geometry/quad.ts';
import { convolveSeparable, gaussianKernel } from '../filters/gaussian.ts';
import type { CodedPicture } from '../image/picture.ts';
import { DISPLAY_COLOUR } from '../image/plate-colour.ts';
import { NO_FRONT } from '../../picture/look/look.ts';
import { coarseFill, filledBlocks } from '../../picture/matte/coarse-fill.ts';
import { frontOfFrame } from '../../picture/matte/front-of-frame.ts';
import { lightOfRegion } from '../image/light-region.ts';
import type { Grain } from '../schemas/types.ts';
import { greenScreen, SCREEN_QUAD } from '../../test/green-screen.ts';
import { useCompositeKernels } from './composite-kernels.ts';
import { apart, noise, picture, QUAD, box } from '../../test/twin-pictures.ts';

afterEach(() => useCompositeKernels(compiledCompositeKernels()));

/** What is computed with the plain loops and with the compiled ones. */
function both<T>(run: () => T): [plain: T, compiled: T] {
  useCompositeKernels(null);
  const plain = run();
  useCompositeKernels(compiledCompositeKernels());
  return [plain, run()];
}

describe('the compiled loops of compositing give what the plain ones give', () => {
  const laid = { quad: QUAD, placement: [1, 0, 0, 0, 1, 0, 0, 0, 1], feather: [0, 0, 0, 0], mesh: null };
  const none = [false, false, false, false];
  const cases: [string, number, number, object, boolean[], boolean][] = [
    ['enlarged', 24, 20, {}, none, false],
    ['about as large', 90, 70, {}, none, false],
    ['shrunk to a quarter', 331, 287, {}, none, false],
    ['shrunk to a thirtieth', 2400, 600, {}, none, false],
    ['faded at its sides', 90, 70, { feather: [3, 0, 6, 2.5] }, none, false],
    ['grown outward', 90, 70, { outset: 3 }, none, false],
    ['with bars', 90, 70, { placement: [1.2, 0, -0.1, 0, 1, 0, 0, 0, 1] }, [true, false, true, false], false],
    ['quickly', 130, 90, {}, none, true],
    ['quickly and shrunk', 700, 500, {}, none, true],
  ];
  test.each(cases)('content %s', (_, width, height, change, sides, quick) => {
    const content = new ContentPyramid(picture(width, height), 0.02);
    const [sx, , tx, , sy, ty] = (change as { placement?: number[] }).placement ?? laid.placement;
    const one = {
      ...laid,
      ...change,
      placement: [sx! * width, 0, tx! * width, 0, sy! * height, ty! * height, 0, 0, 1],
    };
    const [plain, compiled] = both(() => {
      const cover = new Float32Array(97 * 77);
      return {
        layer: renderPin({ content, laid: [one], reach: () => one.quad, sides, quick }, box, cover).data,
        cover,
      };
    });
    expect(plain.layer.some((v) => v > 0.3)).toBe(true);
    expect(apart(plain.layer, compiled.layer)).toBeLessThan(4e-4);
    expect(apart(plain.cover, compiled.cover)).toBeLessThan(1e-5);
  });

  // One that leans away is looked at on several levels along a row; a line of pixels has no neighbours one way.
  const leaning: Quad = [
    [40, 6],
    [60, 7],
    [95, 74],
    [2, 70],
  ];
  test.each([
    [200, 150, QUAD],
    [720, 540, leaning],
    [640, 90, leaning],
    [1, 40, QUAD],
    [300, 1, QUAD],
    [2, 2, QUAD],
  ] as const)('content of %i×%i at many moments', (width, height, quad) => {
    const content = new ContentPyramid(picture(width, height), 0);
    const moments = Array.from({ length: 9 }, (_, k) => ({
      ...laid,
      quad: quad.map(([x, y]) => [x + k * 0.7, y - k * 0.3]) as unknown as Quad,
      placement: [width, 0, 0, 0, height, 0, 0, 0, 1],
    }));
    const [plain, compiled] = both(
      () => renderPin({ content, laid: moments, reach: (one) => one.quad, sides: none }, box).data,
    );
    expect(plain.some((v) => v > 0.3)).toBe(true);
    expect(apart(plain, compiled)).toBeLessThan(4e-4);
  });

  test('a place that is none, where nothing is to be seen, spoils none beside it', () => {
    const content = new ContentPyramid(picture(60, 40), 0);
    const looks = [plainPin(content, 16, 1, false), compiledCompositeKernels().openPin(content, 16, 1, false)!].map(
      (work) => {
        for (let i = 0; i < 16; i++) {
          const none = i % 5 === 0 || i > 12;
          work.weights[i] = none ? 0 : 0.25;
          Object.entries({ u: 3 * i, v: 20, su: 1 + i / 4, sv: 1.3 }).forEach(
            ([name, value]) => (work.places[name as 'u'][i] = none ? NaN : value),
          );
        }
        work.smooth(16, 0, 0.58, true);
        return work.finish().layer;
      },
    );
    expect(looks[1]!.every(Number.isFinite)).toBe(true);
    expect(looks[0]!.some((v) => v > 0.05)).toBe(true);
    expect(apart(looks[0]!, looks[1]!)).toBeLessThan(1e-5);
  });

  test.each([
    [1, 'empty'],
    [1, 'repeat'],
    [4, 'empty'],
    [4, 'repeat'],
    [3, 'repeat'],
  ] as const)('convolution of %i channels, %s beyond the border', (channels, border) => {
    const width = 29;
    const height = 17;
    const data = Float32Array.from({ length: width * height * channels }, (_, i) => noise(i));
    for (const sigma of [0.4, 1.7, 6]) {
      const [plain, compiled] = both(() =>
        convolveSeparable(data, width, height, channels, gaussianKernel(sigma), border),
      );
      expect(apart(plain, compiled)).toBeLessThan(2e-6);
    }
  });

  test.each([
    [40, 30],
    [41, 31],
    [5, 3],
    [1, 9],
    [2, 1],
  ])('halving %i by %i pixels', (width, height) => {
    const [plain, compiled] = both(() => halveLight(picture(width, height)));
    expect([compiled.width, compiled.height]).toEqual([plain.width, plain.height]);
    expect(apart(plain.data, compiled.data)).toBeLessThan(2e-6);
  });

  test('content too large for their memory is left to the plain loops', () => {
    expect(
      compiledCompositeKernels().openPin(
        { width: 30_000, height: 4000, coarsest: 15, level: () => picture(1, 1) },
        10,
        10,
        false,
      ),
    ).toBeNull();
  });

  test.each([
    [37, 23, 2],
    [40, 24, 8],
    [7, 5, 2],
  ])('known values of %i by %i filled over blocks', (width, height, block) => {
    const planes = [0, 1].map((k) => Float32Array.from({ length: width * height }, (_, i) => noise(i + 5 * k)));
    const weight = Float32Array.from({ length: width * height }, (_, i) =>
      i % width < width / 2 && noise(i * 3) > 0.5 ? noise(i) : 0,
    );
    const [plain, compiled] = both(() => filledBlocks(planes, weight, width, height, block).map((plane) => plane.data));
    plain.forEach((plane, k) => expect(apart(plane, compiled[k]!)).toBeLessThan(3e-6));
    const [wide, wideCompiled] = both(() => coarseFill(planes, weight, width, height, block));
    wide.forEach((plane, k) => expect(apart(plane, wideCompiled[k]!)).toBeLessThan(3e-6));
  });

  test.each([[false], [true]])('a key, its soft edges and its screen; with markers: %s', (withMarkers) => {
    const { picture } = greenScreen({
      bar: [
        [60, 0],
        [84, 0],
        [98, 120],
        [70, 120],
      ],
      noise: 0.01,
    });
    const motion = { before: null, now: SCREEN_QUAD, after: null };
    const markers = withMarkers
      ? ([
          [0.3, 0.4, 0.05, 0.05],
          [0.55, 0.5, 0.06, 0.06],
        ] as [number, number, number, number][])
      : [];
    const scene = {
      outline: SCREEN_QUAD,
      smeared: [SCREEN_QUAD],
      motion,
      frame: 0,
      reference: null,
      referenceFrame: 0,
      shutter: 0,
      phase: 0,
      mostMoments: 1,
    };
    const [plain, compiled] = both(() =>
      frontOfFrame(picture, DISPLAY_COLOUR, { ...NO_FRONT, keys: [{ colour: [0.03, 0.45, 0.06] }], markers }, scene)!,
    );
    expect(plain.front.some((v) => v > 0.1 && v < 0.9)).toBe(true);
    expect(apart(plain.front, compiled.front)).toBeLessThan(2e-3);
    plain.screen!.forEach((plane, c) => expect(apart(plane, compiled.screen![c]!)).toBeLessThan(1e-5));
  });

  test.each([
    [[0, 0], 0],
    [[0.7, 1.2], 0],
    [[0.5, 0.5], 0.4],
  ] as [[number, number], number][])('grain of %j px, together %d', (size, together) => {
    const plate: CodedPicture = {
      width: 75,
      height: 41,
      peak: 255,
      data: Uint8Array.from({ length: 75 * 41 * 3 }, (_, i) => 250 * noise(i >> 5)),
    };
    const at = { left: 5, top: 3, right: 68, bottom: 39 };
    const shown = Float32Array.from({ length: 63 * 36 }, (_, i) => (i % 9 === 0 ? 0 : i % 7 === 0 ? 0.5 : 1));
    const grain: Grain = {
      size,
      together,
      levels: [
        { level: 0, sigma: [0.01, 0.02, 0.03] },
        { level: 1, sigma: [0.03, 0.02, 0.04] },
      ],
    };
    const [plain, compiled] = both(() => {
      const out = { ...plate, data: plate.data.slice() };
      layGrain(out, shown, at, grain, 7, DISPLAY_COLOUR);
      return out.data;
    });
    expect(apart(plain, plate.data)).toBeGreaterThan(8);
    expect(apart(plain, compiled)).toBeLessThanOrEqual(1);
    // A code is another one only where it lies on a rounding's edge.
    expect(Array.from(plain).filter((v, i) => v !== compiled[i]).length).toBeLessThan(4);
  });

  test.each([
    [false, false, 'average'],
    [true, true, 'average'],
    [true, false, 'none'],
  ] as const)(
    'an insert laid behind what stands in front; markers %s, spill %s, in its place %s',
    (withMarkers, withSpill, replace) => {
      const width = 72;
      const height = 40;
      const front = { left: 20, top: 8, right: 45, bottom: 33 };
      const own = { left: 4, top: 2, right: 65, bottom: 38 };
      const n = 61 * 36;
      const size = 25 * 25;
      const plate: CodedPicture = {
        width,
        height,
        peak: 255,
        data: Uint8Array.from(
          { length: width * height * 3 },
          (_, i) => 40 + 90 * noise(i) + (i % 3 === 1 ? 70 * noise(i >> 4) : 0),
        ),
      };
      const soft = Float32Array.from({ length: size }, (_, i) => Math.min(1, Math.max(0, ((i % 25) - 8) / 6)));
      const plane = (v: number) => Float32Array.from({ length: size }, (_, i) => v * (0.9 + 0.1 * noise(i)));
      const layer = picture(30, 20);
      const cover = Float32Array.from({ length: 600 }, (_, i) => (i % 30 < 2 ? 0.01 : i % 30 < 4 ? 0.5 : 1));
      const insert = { layer, box: { left: 18, top: 10, right: 48, bottom: 30 }, cover };
      const spill = withSpill
        ? {
            settings: { most: 1.9, replace },
            screen: [0.05, 0.5, 0.09] as [number, number, number],
            box: own,
            weight: Float32Array.from({ length: n }, (_, i) => Math.max(0, 1 - (i % 61) / 50)),
            near: Float32Array.from({ length: n }, (_, i) => (i % 61 < 30 ? 1 : 0)),
            areas: [],
          }
        : null;
      const [plain, compiled] = both(() => {
        const region = lightOfRegion(plate, front, DISPLAY_COLOUR);
        const out: CodedPicture = { ...plate, data: plate.data.slice() };
        const matte = {
          box: front,
          region,
          front: soft,
          limit: new Float32Array(size).fill(1),
          screen: [plane(0.04), plane(0.3), plane(0.08)] as const,
          marked: withMarkers
            ? Float32Array.from({ length: size }, (_, i) => (i % 25 > 8 && i % 25 < 12 && i > 200 && i < 300 ? 1 : 0))
            : null,
        };
        return { shown: layBehindFront(plate, matte, insert, 0.9, spill, true, out, DISPLAY_COLOUR), codes: out.data };
      });
      expect(apart(plain.codes, plate.data)).toBeGreaterThan(30);
      expect(apart(plain.codes, compiled.codes)).toBeLessThanOrEqual(1);
      expect(apart(plain.shown, compiled.shown)).toBeLessThan(1e-5);
    },
  );
});
