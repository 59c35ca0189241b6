import { describe, expect, test } from 'vitest';
import type { LightPicture } from '../../base/image/picture.ts';
import { ContentPyramid } from './content-pyramid.ts';
import { keysKernel, samplePatches, widening } from './content-sampler.ts';
import { rowPlaces } from './surface-map.ts';

const SIZE = 256;
/** The kernel as published, written down anew: R. Keys, 1981, eq. 15 with a = −1/2. */
const published = (s: number) =>
  Math.abs(s) < 1
    ? 1.5 * Math.abs(s) ** 3 - 2.5 * s * s + 1
    : Math.abs(s) < 2
      ? -0.5 * Math.abs(s) ** 3 + 2.5 * s * s - 4 * Math.abs(s) + 2
      : 0;

function grey(width: number, height: number, value: (x: number, y: number) => number): LightPicture {
  const data = new Float32Array(width * height * 4);
  for (let i = 0; i < width * height; i++)
    data.set([...Array<number>(3).fill(value((i % width) + 0.5, Math.floor(i / width) + 0.5)), 1], i * 4);
  return { width, height, data };
}

/** Blocks, strokes and grain: hard edges of every size. */
const page = grey(SIZE, SIZE, (x, y) => {
  const stroke = Math.sin(x * 0.9 + Math.sin(y * 0.03) * 9) > 0.4 && y % 24 > 7 ? 0.8 : 0.1;
  const block = ((x >> 6) + (y >> 5)) % 3 === 0 ? 0.2 : 0;
  const hash = Math.sin(x * 12.9898 + y * 78.233) * 43758.5453;
  return Math.min(1, stroke + block + 0.1 * (hash - Math.floor(hash)));
});

/** What is seen of a content that is shown 1/`shrink` of its size, by our sampler. */
function shown(level: LightPicture, shrink: number, across: number, shift = 0): Float32Array {
  const content = new ContentPyramid(level, 0);
  const places = rowPlaces(across);
  const weights = new Float32Array(across).fill(1);
  const out = new Float32Array(across * across * 4);
  for (let row = 0; row < across; row++) {
    for (let col = 0; col < across; col++) {
      places.u[col] = (col + 0.5 + shift) * shrink;
      places.v[col] = (row + 0.5 + shift) * shrink;
      places.su[col] = places.sv[col] = shrink;
    }
    samplePatches(content, places, weights, across, out, row * across * 4);
  }
  return out.filter((_, i) => i % 4 === 0);
}

/** The same by its definition: every content pixel near the place, weighted by the kernel as wide as the patch. */
function byDefinition({ width, height, data }: LightPicture, shrink: number, across: number, shift = 0): Float32Array {
  const wide = Math.max(1, shrink * widening(shrink));
  const out = new Float32Array(across * across);
  const weightsAt = (x: number, count: number) =>
    Array.from({ length: count }, (_, i) => i)
      .filter((i) => Math.abs(i + 0.5 - x) < 2 * wide)
      .map((i) => [i, published((i + 0.5 - x) / wide)] as const);
  for (let row = 0; row < across; row++) {
    const down = weightsAt((row + 0.5 + shift) * shrink, height);
    for (let col = 0; col < across; col++) {
      let sum = 0;
      let total = 0;
      for (const [x, wx] of weightsAt((col + 0.5 + shift) * shrink, width))
        for (const [y, wy] of down) {
          sum += wx * wy * data[(y * width + x) * 4]!;
          total += wx * wy;
        }
      out[row * across + col] = sum / total;
    }
  }
  return out;
}

/** Decibels, full scale 1, of the middle of two square pictures: what lies within a kernel's reach of the border depends on what is beyond. */
function psnr(a: Float32Array, b: Float32Array, across: number, margin: number): number {
  let sum = 0;
  let n = 0;
  for (let row = margin; row < across - margin; row++)
    for (let col = margin; col < across - margin; col++, n++)
      sum += (a[row * across + col]! - b[row * across + col]!) ** 2;
  return -10 * Math.log10(sum / n);
}

describe('samplePatches', () => {
  test('the kernel is Keys’s', () =>
    [0, 0.3, 0.5, 0.99, 1, 1.4, 2, 2.5].forEach((d) => expect(keysKernel(d)).toBeCloseTo(published(d), 12)));

  test.each([1 / 3, 0.8, 1])('enlarging (%f content pixels a plate pixel) is its exact formula', (shrink) => {
    expect(psnr(shown(page, shrink, 60, 0.21), byDefinition(page, shrink, 60, 0.21), 60, 4)).toBeGreaterThan(100);
  });

  test.each([1.5, 2, 2.8, 3.7, 5, 8])('shrinking to 1/%f is near the kernel laid over all pixels', (shrink) => {
    const across = Math.floor(SIZE / shrink);
    expect(
      psnr(shown(page, shrink, across, 0.13), byDefinition(page, shrink, across, 0.13), across, 4),
    ).toBeGreaterThan(45);
  });

  test.each([2, 4, 6.3])('a zone plate shown 1/%f as large has no aliased ring above −35 dB', (shrink) => {
    // Frequency rises from 0 in the middle to the content's half cycle a pixel at the side.
    const size = Math.ceil(150 * shrink);
    const middle = size / 2;
    const zone = grey(
      size,
      size,
      (x, y) => 0.5 + 0.5 * Math.cos((Math.PI / size) * ((x - middle) ** 2 + (y - middle) ** 2)),
    );
    const across = Math.floor(size / shrink);
    const seen = shown(zone, shrink, across);
    let worst = 0;
    for (let row = 3; row < across - 3; row++) {
      for (let col = 3; col < across - 3; col++) {
        const x = (col + 0.5) * shrink - middle;
        const y = (row + 0.5) * shrink - middle;
        // Cycles a plate pixel along x and y: rings that fit both ways are seen, others must be gone where they would fold to half or less of what can be shown.
        const high = (Math.max(Math.abs(x), Math.abs(y)) / size) * shrink;
        if (high > 0.75) worst = Math.max(worst, Math.abs(seen[row * across + col]! - 0.5) / 0.5);
      }
    }
    expect(20 * Math.log10(worst)).toBeLessThan(-35);
  });

  test('what content leaves free stays free, and nothing exceeds it', () => {
    const cut: LightPicture = {
      width: 8,
      height: 8,
      data: Float32Array.from({ length: 256 }, (_, i) => ((i >> 2) % 8 < 4 ? 0 : 1)),
    };
    const seen = new Float32Array(4 * 40);
    const places = rowPlaces(40);
    for (let i = 0; i < 40; i++) [places.u[i], places.v[i], places.su[i], places.sv[i]] = [i / 5 + 0.1, 4, 0.2, 0.2];
    samplePatches(new ContentPyramid(cut, 0), places, new Float32Array(40).fill(1), 40, seen, 0);
    for (let i = 0; i < 160; i++) {
      expect(seen[i]).toBeGreaterThanOrEqual(0);
      if (i % 4 === 3) expect(seen[i]).toBeLessThanOrEqual(1);
    }
    expect(seen[4 * 5 + 3]).toBe(0);
    expect(seen[4 * 35 + 3]).toBe(1);
  });
});
