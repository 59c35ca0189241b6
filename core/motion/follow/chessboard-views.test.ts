import { describe, expect, test } from 'vitest';
import { compiledFactory } from '../../../server/kernels/load-kernels.ts';
import { estimateHomography, homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, type Point } from '../../base/geometry/homography.ts';
import type { Plane } from '../../base/image/plane.ts';
import { BOARD_ACROSS, boardCorners, straightView } from '../../../bench/reference/chessboard-views.ts';
import { picturesOf } from '../../test/follow-memory.ts';
import { PlanarFollower } from './planar-follower.ts';
import { signalFromLuma } from './signal.ts';

/** As the follower sees a view; the map between two views of the plane follows from all 54 corners. */
async function signalOf(name: string): Promise<Plane> {
  const { codes, width, height } = await straightView(name);
  return signalFromLuma(codes, width, height, 255);
}

/** The board's outer corners, a square's width beyond the inner ones. */
function boardOf(corners: readonly Point[]): Point[] {
  const squares: Point[] = corners.map((_, k): Point => [k % BOARD_ACROSS, Math.floor(k / BOARD_ACROSS)]);
  const estimate = estimateHomography(squares, corners);
  if (!('homography' in estimate)) throw new Error('no map of the board');
  return (
    [
      [-1, -1],
      [9, -1],
      [9, 6],
      [-1, 6],
    ] as const
  ).map((p) => applyToPoint(estimate.homography, p));
}

describe('chessboard views with the plane’s map from the library’s corners', () => {
  test.each([
    ['left01.jpg', 'left02.jpg'],
    ['left03.jpg', 'left05.jpg'],
    ['left07.jpg', 'left01.jpg'],
  ])('%s → %s', async (from, to) => {
    const [a, b] = [boardCorners(from), boardCorners(to)];
    const estimate = estimateHomography(a, b);
    if (!('homography' in estimate)) throw new Error('no map');
    const error = (map: typeof estimate.homography) =>
      Math.sqrt(
        a.reduce((sum, p, i) => sum + applyToPoint(map, p).reduce((s, v, k) => s + (v - b[i]![k]!) ** 2, 0), 0) /
          a.length,
      );
    const region = boardOf(a);
    // As far off as a prediction may be: mostly a shift.
    const moves = [
      [5, -4],
      [6, -3],
      [4, -5],
      [5, -6],
    ];
    const start = homographyBetweenQuads(
      region,
      region.map((c, i): Point => {
        const [x, y] = applyToPoint(estimate.homography, c);
        return [x + moves[i]![0]!, y + moves[i]![1]!];
      }),
    )!;
    const [reference, picture] = picturesOf([await signalOf(from), await signalOf(to)], compiledFactory());
    const follower = PlanarFollower.create(0, reference!, {
      motion: 'perspective',
      regions: [{ points: region }],
      keepOut: [],
    });
    if (!(follower instanceof PlanarFollower)) throw new Error(follower.fault);
    follower.history.maps.delete(0);
    follower.history.maps.set(1, start);
    const fit = follower.follow({ frame: 2, levels: picture! }, -1);
    expect(error(start)).toBeGreaterThan(2);
    expect(fit.lost).toBeUndefined();
    expect(fit.homography).not.toBeNull();
    // The corners themselves agree with one plane to a tenth of a pixel or two.
    expect(error(fit.homography!)).toBeLessThan(error(estimate.homography) + 0.15);
  });
});
