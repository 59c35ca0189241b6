import { existsSync, readFileSync, readdirSync } from 'node:fs';
import sharp from 'sharp';
import { expect, test } from 'vitest';
import { convolveSeparable, gaussianKernel } from '../../base/filters/gaussian.ts';
import type { Plane } from '../../base/image/plane.ts';
import { buildPyramid } from '../../base/filters/pyramid.ts';
import { noiseLevel } from './noise-level.ts';
import { sharpness } from './sharpness.ts';

// Photographs of Debian's opencv-doc (the Oxford "graffiti" views and chessboards), blurred by known amounts.
const FOLDERS = [
  '/usr/share/doc/opencv-doc/examples/data',
  '/usr/share/doc/opencv-doc/opencv4/samples/data',
  '/usr/share/doc/opencv-doc/examples/cpp/data',
];

function find(name: RegExp): string | null {
  for (const folder of FOLDERS) {
    const file = existsSync(folder) ? readdirSync(folder).find((f) => name.test(f)) : undefined;
    if (file) return `${folder}/${file}`;
  }
  return null;
}

async function grey(file: string): Promise<Plane> {
  const packed = readFileSync(file);
  const bytes = file.endsWith('.gz') ? (await import('node:zlib')).gunzipSync(packed) : packed;
  const { data, info } = await sharp(bytes).greyscale().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: Float32Array.from(data) };
}

function measure(plane: Plane): number {
  const pyramid = buildPyramid(plane, 5);
  return sharpness(pyramid[1]!, pyramid[4] ?? pyramid.at(-1)!, noiseLevel(plane));
}
const blurred = (plane: Plane, sigma: number): Plane => ({
  ...plane,
  data: convolveSeparable(plane.data, plane.width, plane.height, 1, gaussianKernel(sigma), 'repeat'),
});
const smeared = (plane: Plane, length: number): Plane => {
  const data = new Float32Array(plane.data.length);
  for (let y = 0; y < plane.height; y++) {
    for (let x = 0; x < plane.width; x++) {
      let sum = 0;
      for (let k = 0; k < length; k++)
        sum += plane.data[y * plane.width + Math.min(plane.width - 1, Math.max(0, x + k - (length >> 1)))]!;
      data[y * plane.width + x] = sum / length;
    }
  }
  return { ...plane, data };
};

test.each([/^graf1\.png/, /^graf3\.png/, /^left01\.jpg/, /^fruits\.jpg/])(
  'blurred copies of the photograph %s rank by their blur',
  async (name) => {
    const file = find(name);
    expect(file, `${String(name)} of opencv-doc`).not.toBeNull();
    const plane = await grey(file!);
    const ranks = [0, 0.8, 1.5, 2.5, 4, 7].map((sigma) => measure(sigma === 0 ? plane : blurred(plane, sigma)));
    for (let i = 1; i < ranks.length; i++) expect(ranks[i]).toBeLessThan(ranks[i - 1]! * 0.95);
    const smears = [1, 4, 8, 16].map((length) => measure(smeared(plane, length)));
    for (let i = 1; i < smears.length; i++) expect(smears[i]).toBeLessThan(smears[i - 1]! * 0.98);
  },
);

test('contrast and noise hardly change it, blur does', async () => {
  const plane = await grey(find(/^graf1\.png/)!);
  const plain = measure(plane);
  expect(measure({ ...plane, data: plane.data.map((v) => 40 + v * 0.5) }) / plain).toBeCloseTo(1, 1);
  let state = 7;
  const noisy = plane.data.map((v) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return v + (state / 2 ** 32 - 0.5) * 14;
  });
  expect(measure({ ...plane, data: noisy }) / plain).toBeGreaterThan(0.9);
  expect(measure({ ...plane, data: noisy }) / plain).toBeLessThan(1.15);
});
