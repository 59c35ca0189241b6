import sharp from 'sharp';
import type { Lens } from '../../core/motion/lens/lens.ts';
import type { Vector3 } from '../../core/motion/pose/rotation.ts';
import { boardPicture, heldBoard } from '../../core/test/chessboard-picture.ts';

/** How boards of 8 × 5 crossings are held: turned so, and their middles so far across and down (in focal lengths) and away (in squares). */
const HELD: readonly [Vector3, Vector3][] = [
  [
    [0.35, 0.1, 0.02],
    [0, 0, 8],
  ],
  [
    [-0.4, 0.3, 0.4],
    [-0.45, 0.2, 9],
  ],
  [
    [0.1, -0.5, -0.3],
    [0.5, -0.22, 10],
  ],
  [
    [0.4, 0.2, 1.2],
    [0.45, 0.2, 11],
  ],
  [
    [-0.1, 0.45, 0],
    [-0.5, -0.22, 10],
  ],
];

/** Stills of a chessboard by a camera with a lens, PNG. */
export function boardStills(
  lens: Lens,
  { width, height }: { readonly width: number; readonly height: number },
): Promise<Buffer[]> {
  return Promise.all(
    HELD.map(async ([turn, place]) => {
      const { data } = boardPicture(width, height, heldBoard(turn, place, lens), lens, 8, 5);
      return sharp(
        Uint8Array.from(data, (v) => Math.round(255 * v)),
        { raw: { width, height, channels: 1 } },
      )
        .png()
        .toBuffer();
    }),
  );
}
