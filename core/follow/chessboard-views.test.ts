import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { describe, expect, test } from 'vitest';
import { compiledFactory } from '../../server/kernels/load-kernels.ts';
import { estimateHomography, homographyBetweenQuads } from '../geometry/estimate-homography.ts';
import { applyToPoint, type Point } from '../geometry/homography.ts';
import { createPlane, type Plane } from '../image/plane.ts';
import { picturesOf } from '../test/follow-room.ts';
import { PlanarFollower } from './planar-follower.ts';
import { signalFromLuma } from './signal.ts';

/**
 * Views of a chessboard that Debian's opencv-doc ships, with the camera calibrated from them (left_intrinsics.yml). Its
 * corners as the reference library finds them natively (findChessboardCorners, cornerSubPix; bench/reference/chessboard.py
 * printed them); the map between two views of the plane follows from all 54.
 */
const { camera, distortion, views } = JSON.parse(readFileSync(new URL('../test/chessboard-corners.json', import.meta.url), 'utf8')) as { camera: number[]; distortion: number[]; views: Record<string, Point[]> };
const FOLDER = '/usr/share/doc/opencv-doc/examples/data', ACROSS = 9;
/** Pixel centres at half. */
const cornersOf = (name: string): Point[] => views[name]!.map(([x, y]): Point => [x + 0.5, y + 0.5]);

/** A view without the lens's distortion (Brown–Conrady: k1, k2, p1, p2, k3), sampled bilinearly. */
async function straightView(name: string): Promise<Plane> {
  const { data, info: { width, height } } = await sharp(`${FOLDER}/${name}`).greyscale().raw().toBuffer({ resolveWithObject: true });
  const [fx, , cx, , fy, cy] = camera as [number, number, number, number, number, number], [k1, k2, p1, p2, k3] = distortion as [number, number, number, number, number];
  const out = createPlane(width, height);
  for (let j = 0; j < height; j++) {
    for (let i = 0; i < width; i++) {
      const x = (i - cx) / fx, y = (j - cy) / fy, r = x * x + y * y, radial = 1 + r * (k1 + r * (k2 + r * k3));
      const u = fx * (x * radial + 2 * p1 * x * y + p2 * (r + 2 * x * x)) + cx, v = fy * (y * radial + p1 * (r + 2 * y * y) + 2 * p2 * x * y) + cy;
      const iu = Math.min(width - 2, Math.max(0, Math.floor(u))), iv = Math.min(height - 2, Math.max(0, Math.floor(v))), fu = Math.min(1, Math.max(0, u - iu)), fv = Math.min(1, Math.max(0, v - iv));
      const at = iv * width + iu;
      out.data[j * width + i] = (1 - fv) * ((1 - fu) * data[at]! + fu * data[at + 1]!) + fv * ((1 - fu) * data[at + width]! + fu * data[at + width + 1]!);
    }
  }
  return signalFromLuma(Uint8Array.from(out.data, (v) => v + 0.5), width, height, 255);
}

/** The board's outer corners, a square's width beyond the inner ones. */
function boardOf(corners: readonly Point[]): Point[] {
  const squares: Point[] = corners.map((_, k): Point => [k % ACROSS, Math.floor(k / ACROSS)]);
  const estimate = estimateHomography(squares, corners);
  if (!('homography' in estimate)) throw new Error('no map of the board');
  return ([[-1, -1], [9, -1], [9, 6], [-1, 6]] as const).map((p) => applyToPoint(estimate.homography, p));
}

describe('chessboard views with the plane’s map from the library’s corners', () => {
  test.each([['left01.jpg', 'left02.jpg'], ['left01.jpg', 'left07.jpg'], ['left03.jpg', 'left05.jpg'], ['left05.jpg', 'left03.jpg'], ['left07.jpg', 'left01.jpg']])('%s → %s', async (from, to) => {
    const [a, b] = [cornersOf(from), cornersOf(to)], estimate = estimateHomography(a, b);
    if (!('homography' in estimate)) throw new Error('no map');
    const error = (map: typeof estimate.homography) => Math.sqrt(a.reduce((sum, p, i) => sum + applyToPoint(map, p).reduce((s, v, k) => s + (v - b[i]![k]!) ** 2, 0), 0) / a.length);
    const region = boardOf(a);
    // As far off as a prediction may be: mostly a shift.
    const moves = [[5, -4], [6, -3], [4, -5], [5, -6]];
    const start = homographyBetweenQuads(region, region.map((c, i): Point => {
      const [x, y] = applyToPoint(estimate.homography, c);
      return [x + moves[i]![0]!, y + moves[i]![1]!];
    }))!;
    const [reference, picture] = picturesOf([await straightView(from), await straightView(to)], compiledFactory());
    const follower = PlanarFollower.create(0, reference!, { motion: 'perspective', regions: [{ points: region }], keepOut: [] });
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
