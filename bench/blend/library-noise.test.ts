import { beforeAll, expect, test } from 'vitest';
import { grainAt } from '../../core/picture/blend/grain-field.ts';
import { layGrain } from '../../core/picture/blend/lay-grain.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { DISPLAY_COLOUR } from '../../core/base/image/plate-colour.ts';
import { lightToCode } from '../../core/base/image/transfer.ts';
import { flatBlocks, grainOf } from '../../core/picture/measure/grain.ts';
import type { Grain } from '../../core/base/schemas/types.ts';
import { grainyRegion } from '../../core/test/generated-device.ts';
import { loadOpenCv, release, type Mat, type OpenCv } from '../reference/opencv.ts';

/** What the tests here ask the library for besides. */
interface Library extends OpenCv {
  meanStdDev(image: Mat, mean: Mat, deviation: Mat): void;
}
let cv: Library;
beforeAll(async () => {
  cv = (await loadOpenCv()) as Library;
});

// OpenCV 4.12, meanStdDev: the standard deviation of all pixels of a picture.
function deviationOf(values: ArrayLike<number>, width: number, height: number): number {
  const picture = new cv.Mat(height, width, cv.CV_32FC1);
  const mean = new cv.Mat();
  const deviation = new cv.Mat();
  picture.data32F.set(values);
  cv.meanStdDev(picture, mean, deviation);
  const told = deviation.data64F[0]!;
  release(picture, mean, deviation);
  return told;
}

const WIDE = 64;
const HIGH = 192;

test('grain measured from flat places is the deviation that the library tells of them, to a tenth', () => {
  const noise = { floor: 0.004, shot: 0.012, size: 0, channels: [1, 0.8, 1.3] };
  const regions = [1, 2, 3].map((seed) => grainyRegion(noise, seed));
  const { grain } = grainOf(regions.flatMap((region) => flatBlocks(region)))!;
  for (const patch of [1, 4, 7]) {
    ([0, 1, 2] as const).forEach((c) => {
      const [region] = regions;
      const codes = Float32Array.from({ length: WIDE * HIGH }, (_, i) =>
        lightToCode(region!.planes[c][Math.floor(i / WIDE) * region!.width + patch * WIDE + (i % WIDE)]!),
      );
      const told = deviationOf(codes, WIDE, HIGH);
      expect(told).toBeGreaterThan(0.004);
      expect(Math.abs(grainAt(grain, 0.1 + 0.1 * patch, c) / told - 1)).toBeLessThan(0.1);
    });
  }
});

test.each([
  [0, 0.012],
  [0.8, 0.012],
  [0, 0.03],
])('grain of %f px that is laid on content has the deviation that it was given, %f', (size, sigma) => {
  const width = 160;
  const height = 120;
  const out: CodedPicture = { width, height, peak: 255, data: new Uint8Array(3 * width * height).fill(140) };
  const grain: Grain = { size: [size, size], levels: [{ level: 0.5, sigma: [sigma, sigma, sigma] }] };
  layGrain(
    out,
    new Float32Array(width * height).fill(1),
    { left: 0, top: 0, right: width, bottom: height },
    grain,
    5,
    DISPLAY_COLOUR,
  );
  for (const c of [0, 1, 2])
    expect(
      Math.abs(
        deviationOf(
          Float32Array.from({ length: width * height }, (_, i) => out.data[3 * i + c]! / 255),
          width,
          height,
        ) /
          sigma -
          1,
      ),
    ).toBeLessThan(0.04);
});
