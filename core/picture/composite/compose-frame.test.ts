import { describe, expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture, ContentPicture } from '../../base/image/picture.ts';
import { codeToLight } from '../../base/image/transfer.ts';
import { composeFrame } from './compose-frame.ts';
import { renderInsert } from '../pin/render-insert.ts';
import { buildContentPyramid } from '../pin/content-pyramid.ts';
import { NEUTRAL_LEVELS, resolveLook } from '../look/look.ts';
import type { PinnedSurface } from '../pin/pinned-surface.ts';

const W = 80;
const H = 60;
const plate: CodedPicture = { width: W, height: H, data: new Uint8Array(W * H * 3).fill(40), peak: 255 };
const QUAD: Quad = [
  [20, 15],
  [60, 15],
  [60, 45],
  [20, 45],
];
const still = (quad: Quad) => ({ before: null, now: quad, after: null });

function content(width: number, height: number, paint: (x: number, y: number) => readonly number[]): ContentPicture {
  const data = new Uint8Array(width * height * 4);
  for (let i = 0; i < width * height; i++) data.set(paint(i % width, Math.floor(i / width)), i * 4);
  return { width, height, data, peak: 255 };
}
const white = buildContentPyramid(
  content(40, 30, () => [255, 255, 255, 255]),
  NEUTRAL_LEVELS,
);
const at = (picture: CodedPicture, col: number, row: number) => [
  ...picture.data.subarray((row * picture.width + col) * 3, (row * picture.width + col) * 3 + 3),
];
const pinned = (
  look: Parameters<typeof resolveLook>[0],
  quad: Quad = QUAD,
  pyramid = white,
  ratio = 4 / 3,
): PinnedSurface => ({ contents: [{ pyramid }], motion: still(quad), ratio, look: resolveLook(look), frame: 0 });
const compose = (...given: Parameters<typeof pinned>) => composeFrame(plate, pinned(...given), 'final');

describe('composeFrame', () => {
  test('content sits in its quad and nowhere else', () => {
    const out = compose({});
    expect(at(out, 20, 15)).toEqual([255, 255, 255]);
    expect(at(out, 59, 44)).toEqual([255, 255, 255]);
    expect(at(out, 19, 30)).toEqual([40, 40, 40]);
    expect(at(out, 40, 45)).toEqual([40, 40, 40]);
  });

  test('an edge through the middle of a pixel covers half of it, in light', () => {
    const out = compose({}, [
      [20.5, 15],
      [60, 15],
      [60, 45],
      [20.5, 45],
    ]);
    const light = codeToLight(at(out, 20, 30)[0]! / 255);
    expect(light).toBeCloseTo((1 + codeToLight(40 / 255)) / 2, 2);
  });

  test('opacity 0 gives the plate back to the bit; the plate itself is never changed', () => {
    expect(compose({ opacity: 0 }).data).toEqual(plate.data);
    compose({});
    expect(plate.data.every((v) => v === 40)).toBe(true);
  });

  test('levels are the display-referred values that 0 and 1 become', () => {
    const pyramid = (levels: typeof NEUTRAL_LEVELS) =>
      buildContentPyramid(
        content(4, 4, (x) => (x < 2 ? [0, 0, 0, 255] : [255, 255, 255, 255])),
        levels,
      );
    const out = compose({}, QUAD, pyramid({ ...NEUTRAL_LEVELS, black: 0.07, white: 0.85 }));
    expect(Math.abs(at(out, 22, 30)[0]! - 0.07 * 255)).toBeLessThanOrEqual(1);
    expect(Math.abs(at(out, 58, 30)[0]! - 0.85 * 255)).toBeLessThanOrEqual(1);
  });

  test('a mirrored quad shows the content mirrored', () => {
    const pyramid = buildContentPyramid(
      content(40, 30, (x) => (x < 20 ? [255, 0, 0, 255] : [0, 0, 255, 255])),
      NEUTRAL_LEVELS,
    );
    const out = compose({}, [QUAD[1], QUAD[0], QUAD[3], QUAD[2]], pyramid);
    expect(at(out, 25, 30)).toEqual([0, 0, 255]);
    expect(at(out, 55, 30)).toEqual([255, 0, 0]);
  });

  test('fit leaves the screen’s black beside the content, fill cuts it', () => {
    const wide = buildContentPyramid(
      content(80, 30, (x) => (x < 20 || x >= 60 ? [255, 0, 0, 255] : [0, 255, 0, 255])),
      NEUTRAL_LEVELS,
    );
    expect(at(compose({ fit: 'fit' }, QUAD, wide), 40, 17)).toEqual([0, 0, 0]);
    expect(at(compose({ fit: 'stretch' }, QUAD, wide), 22, 30)).toEqual([255, 0, 0]);
    expect(at(compose({ fit: 'fill' }, QUAD, wide), 22, 30)).toEqual([0, 255, 0]);
  });

  test('feather fades inward from its side only', () => {
    const out = compose({ feather: [0, 0, 0, 10] });
    const left = [20, 24, 28, 32].map((col) => at(out, col, 30)[0]!);
    expect(left[0]).toBeLessThan(90);
    expect(left).toEqual([...left].sort((a, b) => a - b));
    expect(left[3]).toBe(255);
    expect(at(out, 59, 30)[0]).toBe(255);
    expect(at(out, 40, 15)[0]).toBe(255);
  });

  test('softening keeps the edge where it was and widens it by its σ', () => {
    const profile = (soften: number) =>
      Array.from({ length: 20 }, (_, i) => {
        const insert = renderInsert(pinned({ soften }), plate, 'final')!;
        return insert.layer.data[((30 - insert.box.top) * insert.layer.width + 10 + i - insert.box.left) * 4 + 3] ?? 0;
      });
    const soft = profile(2);
    expect((soft[9]! + soft[10]!) / 2).toBeCloseTo(0.5, 2);
    // A step blurred by a gaussian rises from Φ(−1) = 0.159 to Φ(1) = 0.841 over two σ.
    expect(soft[7]! + (soft[8]! - soft[7]!) / 2).toBeCloseTo(0.159, 1);
    expect(soft[11]! + (soft[12]! - soft[11]!) / 2).toBeCloseTo(0.841, 1);
  });

  test('motion blur smears along the way and is centred on the corners', () => {
    const shift = (x: number): Quad => QUAD.map(([cx, cy]) => [cx + x, cy] as const) as unknown as Quad;
    const insert = renderInsert(
      {
        ...pinned({ motionBlur: { shutter: 180, phase: 0 } }),
        motion: { before: shift(-20), now: QUAD, after: shift(20) },
      },
      plate,
      'final',
    )!;
    const alpha = (col: number) =>
      insert.layer.data[((30 - insert.box.top) * insert.layer.width + col - insert.box.left) * 4 + 3]!;
    expect(alpha(14)).toBe(0);
    expect((alpha(19) + alpha(20)) / 2).toBeCloseTo(0.5, 2);
    expect(alpha(17)).toBeCloseTo(0.25, 1);
    expect(alpha(25)).toBeCloseTo(1, 2);
  });

  test('content seen six times smaller neither shimmers nor darkens', () => {
    const stripes = buildContentPyramid(
      content(240, 180, (x) => (x % 2 === 0 ? [255, 255, 255, 255] : [0, 0, 0, 255])),
      NEUTRAL_LEVELS,
    );
    for (const shift of [0, 0.2, 0.45, 0.7]) {
      const quad = QUAD.map(([x, y]) => [x + shift, y] as const) as unknown as Quad;
      const out = compose({}, quad, stripes);
      for (let col = 25; col < 55; col++)
        expect(Math.abs(codeToLight(at(out, col, 30)[0]! / 255) - 0.5)).toBeLessThan(0.01);
    }
  });

  test('transparent content shows the plate through, without dark rims', () => {
    const cutOut = buildContentPyramid(
      content(40, 30, (x) => (x < 20 ? [255, 255, 255, 0] : [255, 255, 255, 255])),
      NEUTRAL_LEVELS,
    );
    const out = compose({}, QUAD, cutOut);
    expect(at(out, 30, 30)).toEqual([40, 40, 40]);
    expect(at(out, 50, 30)).toEqual([255, 255, 255]);
    for (let col = 21; col < 59; col++) expect(at(out, col, 30)[0]).toBeGreaterThanOrEqual(at(out, col - 1, 30)[0]!);
  });

  test('a surface outside the picture leaves the plate, partly outside shows its part', () => {
    expect(
      compose({}, [
        [-90, 0],
        [-50, 0],
        [-50, 30],
        [-90, 30],
      ]).data,
    ).toEqual(plate.data);
    expect(
      at(
        compose({}, [
          [-500, -400],
          [70, -400],
          [70, 50],
          [-500, 50],
        ]),
        5,
        5,
      ),
    ).toEqual([255, 255, 255]);
  });

  test('16-bit plates stay 16 bit', () => {
    const deep: CodedPicture = { width: W, height: H, data: new Uint16Array(W * H * 3).fill(1234), peak: 65535 };
    const out = composeFrame(deep, pinned({}), 'quick');
    expect(at(out, 40, 30)).toEqual([65535, 65535, 65535]);
    expect(at(out, 5, 5)).toEqual([1234, 1234, 1234]);
  });
});
