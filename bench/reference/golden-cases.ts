import { randomFrom } from '../../demo/scene/random.ts';
import type { Homography, Point } from '../../core/base/geometry/homography.ts';
import { applyToPoint } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import type { ContentPicture } from '../../core/base/image/picture.ts';
import type { Plane } from '../../core/base/image/plane.ts';
import { noisyPlane } from '../../core/test/planes.ts';

// What the reference library was asked, by the tests that compare its answers (golden.ts) with ours and by the script that writes them down
// (bench/reference/golden-answers.ts).

/** A grid of points and where noisy measurements see them. */
export const GRID: Point[] = Array.from({ length: 30 }, (_, i) => [(i % 6) * 240 + 13, Math.floor(i / 6) * 170 + 7]);
export const GRID_MAP: Homography = [0.9, 0.1, 40, -0.06, 1.05, -12, 1.5e-4, -2e-4, 1];
export function noisyGrid(): Point[] {
  const random = randomFrom(5);
  return GRID.map((p) => applyToPoint(GRID_MAP, p)).map(([x, y]) => [x + random() - 0.5, y + random() - 0.5]);
}

export const PINNED: Quad = [
  [374.23, 199.47],
  [898.02, 201.61],
  [906.54, 535.61],
  [356.03, 528.19],
];

export const BLURRED = { plane: (): Plane => noisyPlane(50, 40, 9), sigmas: [0.8, 1.5, 3] } as const;

export const HALVED = {
  plane: (width: number, height: number): Plane => noisyPlane(width, height, 4),
  sizes: [
    [64, 48],
    [63, 37],
    [5, 4],
  ],
} as const;

/** Places of a border along it, some of them far off. */
export function borderPlaces(): { t: number; place: number }[] {
  const random = randomFrom(9);
  return Array.from({ length: 60 }, (_, i) => {
    const t = (i + 0.5) / 60;
    return { t, place: 0.4 - 0.9 * t + 0.06 * (random() - 0.5) + (i % 7 === 3 ? 1.4 : 0) };
  });
}

/** A closed outline of curves: its points, and the handles that lead to and from each. */
export const BLOB = {
  width: 80,
  height: 60,
  points: [
    [20, 15],
    [60, 12],
    [66, 45],
    [24, 50],
  ] as Point[],
  handles: [
    [-6, 8, 8, -9],
    [-10, -6, 9, 7],
    [6, -9, -5, 8],
    [9, 3, -7, -9],
  ] as [number, number, number, number][],
};

/** Content on a plate, and its corners there. */
export const LAID = {
  plate: { width: 160, height: 90 },
  corners: [
    [30, 15],
    [130, 22.5],
    [125, 75],
    [35, 80],
  ] as Quad,
  content(): ContentPicture & { data: Uint8Array } {
    const [width, height] = [105, 63];
    const data = new Uint8Array(width * height * 4);
    for (let row = 0, i = 0; row < height; row++)
      for (let col = 0; col < width; col++, i += 4)
        data.set(
          [128 + 90 * Math.sin(col / 17), 128 + 90 * Math.cos((row + col) / 23), 60 + (130 * row) / height, 255],
          i,
        );
    return { width, height, peak: 255, data };
  },
};
