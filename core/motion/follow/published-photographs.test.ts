import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { describe, expect, test } from 'vitest';
import { compiledFactory } from '../../../server/kernels/load-kernels.ts';
import { applyToPoint, compose, type Homography, type Point } from '../../base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { picturesOf } from '../../test/follow-memory.ts';
import { PlanarFollower } from './planar-follower.ts';
import { signalFromLuma } from './signal.ts';

/**
 * The "graffiti" photographs 1 and 3 of K. Mikolajczyk et al., A Comparison of Affine Region Detectors,
 * IJCV 65, 2005, with the published homography, as Debian's opencv-doc ships them. The published truth is
 * itself good to about 1 px.
 */
const FOLDER = '/usr/share/doc/opencv-doc/examples/data';
/** Where the error is measured, and what is followed: the middle of the wall in photograph 1. */
const RECTANGLE: [number, number][] = [
  [140, 110],
  [560, 110],
  [560, 530],
  [140, 530],
];

async function signalOf(name: string) {
  const { data, info } = await sharp(`${FOLDER}/${name}`).greyscale().raw().toBuffer({ resolveWithObject: true });
  return signalFromLuma(data, info.width, info.height, 255);
}

/** The published map; its photographs count pixel centres at integers. */
function publishedMap(): Homography {
  const numbers = /<data>([^<]+)<\/data>/
    .exec(readFileSync(`${FOLDER}/H1to3p.xml`, 'utf8'))![1]!
    .trim()
    .split(/\s+/)
    .map(Number);
  const shift = (s: number): Homography => [1, 0, s, 0, 1, s, 0, 0, 1];
  return compose(shift(0.5), numbers, shift(-0.5));
}

function meanError(found: Homography, truth: Homography): number {
  let sum = 0;
  let count = 0;
  for (let y = RECTANGLE[0]![1]; y <= RECTANGLE[2]![1]; y += 20) {
    for (let x = RECTANGLE[0]![0]; x <= RECTANGLE[2]![0]; x += 20) {
      const [u, v] = applyToPoint(found, [x, y]);
      const [p, q] = applyToPoint(truth, [x, y]);
      sum += Math.hypot(u - p, v - q);
      count++;
    }
  }
  return sum / count;
}

describe('graf1 → graf3 with the published homography', () => {
  /** Corners moved by up to 12 px, each its own way. */
  const starts: [string, Point[]][] = [
    [
      'all to one side',
      [
        [8.5, 8.5],
        [8.5, 8.5],
        [8.5, 8.5],
        [8.5, 8.5],
      ],
    ],
    [
      'apart',
      [
        [-8, -8],
        [8, -8],
        [8, 8],
        [-8, 8],
      ],
    ],
    [
      'twisted',
      [
        [12, 0],
        [0, 12],
        [-12, 0],
        [0, -12],
      ],
    ],
    [
      'a single one',
      [
        [0, 0],
        [0, 0],
        [-8.4, 8.4],
        [0, 0],
      ],
    ],
  ];
  test.each(starts)('comes back from corners displaced: %s', async (_, moves) => {
    const truth = publishedMap();
    const displaced = RECTANGLE.map((c, i): Point => {
      const [x, y] = applyToPoint(truth, c);
      return [x + moves[i]![0], y + moves[i]![1]];
    });
    const start = homographyBetweenQuads(RECTANGLE, displaced)!;
    const [reference, picture] = picturesOf(
      [await signalOf('graf1.png'), await signalOf('graf3.png')],
      compiledFactory(),
    );
    const follower = PlanarFollower.create(0, reference!, {
      motion: 'perspective',
      regions: [{ points: RECTANGLE }],
      keepOut: [],
    });
    if (!(follower instanceof PlanarFollower)) throw new Error(follower.fault);
    // The displaced map stands for what a neighbouring frame would have given.
    follower.history.maps.delete(0);
    follower.history.maps.set(1, start);
    const fit = follower.follow({ frame: 2, levels: picture! }, -1);
    expect(meanError(start, truth)).toBeGreaterThan(1.5);
    expect(fit.homography).not.toBeNull();
    expect(meanError(fit.homography!, truth)).toBeLessThan(1.5);
  });
});
