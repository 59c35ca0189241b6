import { describe, expect, test } from 'vitest';
import {
  CHESSBOARD_VIEWS,
  filmedCorners,
  filmedView,
  offPublished,
  PHOTOGRAPHS,
  PUBLISHED_CAMERA,
} from '../../../bench/reference/chessboard-views.ts';
import { applyToPoint, type Homography, type Point } from '../../base/geometry/homography.ts';
import { distance } from '../../base/geometry/quad.ts';
import { createPlane } from '../../base/image/plane.ts';
import { quantile } from '../../base/image/statistics.ts';
import type { Vector3 } from '../pose/rotation.ts';
import { boardPicture, heldBoard } from '../../test/chessboard-picture.ts';
import { findChessboard, type ChessboardPoint } from './find-chessboard.ts';
import { lensFromChessboards } from './lens-from-chessboards.ts';
import { bend, type Lens } from './lens.ts';

const SIZE = { width: 640, height: 400 };
const LENS: Lens = { k1: -0.21, k2: 0.06, k3: 0, centre: [326, 196], focal: 520 };
const mapOf = (turn: Vector3, place: Vector3) => heldBoard(turn, place, LENS);
const VIEWS: readonly [Vector3, Vector3][] = [
  [
    [0.3, 0.1, 0.02],
    [0, 0, 9],
  ],
  [
    [-0.4, 0.3, 0.5],
    [-0.2, 0.1, 10],
  ],
  [
    [0.1, -0.5, -0.3],
    [0.25, -0.12, 11],
  ],
  [
    [0.5, 0.2, 1.3],
    [0.2, 0.1, 10],
  ],
  [
    [-0.1, 0.45, 0],
    [-0.28, -0.14, 10],
  ],
];
const seen = VIEWS.map(([turn, place]) => {
  const map = mapOf(turn, place);
  return { map, board: findChessboard(boardPicture(SIZE.width, SIZE.height, map, LENS, 8, 5)) };
});

const crossings = (map: Homography) =>
  Array.from({ length: 40 }, (_, k) => bend(LENS, applyToPoint(map, [k % 8, Math.floor(k / 8)])));
/** Distances of found crossings from the nearest true ones. */
const off = (board: readonly ChessboardPoint[], map: Homography) =>
  board.map(({ at }) => Math.min(...crossings(map).map((p) => distance(at, p))));

describe('chessboards made here, through a lens that is known', () => {
  test('every crossing is found, to less than a tenth of a pixel', () => {
    for (const { board, map } of seen) {
      // Near the picture's border a crossing is not wholly seen.
      expect(board!.length).toBeGreaterThanOrEqual(
        crossings(map).filter(([x, y]) => x > 14 && y > 14 && x < SIZE.width - 14 && y < SIZE.height - 14).length,
      );
      expect(Math.max(...off(board!, map))).toBeLessThan(0.08);
    }
  });
  test('a board that is partly outside is taken as far as it is seen; pictures without one have none', () => {
    const map = mapOf([0.2, 0.2, 0.1], [0.45, 0.1, 8]);
    const board = findChessboard(boardPicture(SIZE.width, SIZE.height, map, LENS, 8, 5))!;
    expect(board.length).toBeGreaterThan(15);
    expect(board.length).toBeLessThan(40);
    expect(Math.max(...off(board, map))).toBeLessThan(0.08);
    const noise = createPlane(320, 200);
    let seed = 1;
    for (let k = 0; k < noise.data.length; k++) noise.data[k] = ((seed = (seed * 48271) % 2147483647) % 1000) / 1000;
    expect(findChessboard(noise)).toBeNull();
    expect(findChessboard(createPlane(320, 200))).toBeNull();
  });
  test('lens, middle and focal length come out of them, and lie within the bound that is stated', () => {
    const fit = lensFromChessboards(
      seen.map(({ board }) => board!),
      SIZE,
    )!;
    expect(Math.abs(fit.lens.focal / LENS.focal - 1)).toBeLessThan(0.002);
    expect(distance(fit.lens.centre, LENS.centre)).toBeLessThan(0.6);
    expect(fit.rms).toBeLessThan(0.05);
    expect(Math.abs(fit.lens.focal - LENS.focal)).toBeLessThan(4 * fit.focalSpread);
    for (const p of [
      [0, 0],
      [640, 0],
      [640, 400],
      [0, 400],
    ] as Point[])
      expect(distance(bend(fit.lens, p), bend(LENS, p))).toBeLessThan(Math.max(0.2, 1.5 * fit.bound));
  });
  test('one view from the front tells the bending, but not the focal length, and says so', () => {
    const map = mapOf([0, 0, 0.05], [0, 0, 8]);
    const board = findChessboard(boardPicture(SIZE.width, SIZE.height, map, LENS, 8, 5))!;
    const fit = lensFromChessboards([board], SIZE)!;
    expect(fit.focalSpread).toBeGreaterThan(0.05 * LENS.focal);
    expect(fit.rms).toBeLessThan(0.05);
    expect(lensFromChessboards([board.slice(0, 3)], SIZE)).toBeNull();
  });
  test('one crossing far from its place is not listened to', () => {
    const boards = seen.map(({ board }) => [...board!]);
    const wrong = boards[1]![7]!;
    boards[1]![7] = { ...wrong, at: [wrong.at[0] + 9, wrong.at[1] - 6] };
    expect(Math.abs(lensFromChessboards(boards, SIZE)!.lens.focal / LENS.focal - 1)).toBeLessThan(0.003);
  });
});

describe('photographs of a chessboard with a published camera (Debian’s opencv-doc, left01 to left14, left_intrinsics.yml)', async () => {
  const boards = await Promise.all(
    PHOTOGRAPHS.map(async (name) => ({ name, board: findChessboard(await filmedView(name)) })),
  );
  test('crossings are where the library finds them', () => {
    for (const { name, board } of boards) {
      // A crossing of the rim with what is behind it may be taken too.
      expect(board!.length, name).toBeGreaterThanOrEqual(54);
      expect(board!.length, name).toBeLessThanOrEqual(56);
      if (!CHESSBOARD_VIEWS.includes(name)) continue;
      const away = filmedCorners(name).map((p) => Math.min(...board!.map(({ at }) => distance(at, p))));
      expect(quantile(away, 0.5), name).toBeLessThan(0.09);
      expect(Math.max(...away), name).toBeLessThan(0.35);
    }
  });
  test('the focal length is within 1 %, and the curve of the distortion within 0.5 px as far as the picture’s left and right border', () => {
    const fit = lensFromChessboards(
      boards.map(({ board }) => board!),
      { width: 640, height: 480 },
    )!;
    const { most, scale } = offPublished(fit.lens, 320);
    expect(Math.abs(fit.lens.focal / PUBLISHED_CAMERA.focal - 1)).toBeLessThan(0.01);
    // The published one's own is 0.39 px.
    expect(fit.rms).toBeLessThan(0.3);
    expect(most).toBeLessThan(0.5);
    expect(Math.abs(scale - 1)).toBeLessThan(0.004);
  });
});
