import sharp from 'sharp';
import type { Lens } from '../../core/lens/lens.ts';
import { homographyOfPose } from '../../core/pose/plane-pose.ts';
import { rotationFromVector, type Vector3 } from '../../core/pose/rotation.ts';
import { boardPicture } from '../../core/test/board-picture.ts';

/** How boards of 8 × 5 crossings are held: turned so, and their middles so far across and down (in focal lengths) and away (in squares). */
const HELD: readonly [Vector3, Vector3][] = [[[0.35, 0.1, 0.02], [0, 0, 8]], [[-0.4, 0.3, 0.4], [-0.45, 0.2, 9]], [[0.1, -0.5, -0.3], [0.5, -0.22, 10]], [[0.4, 0.2, 1.2], [0.45, 0.2, 11]], [[-0.1, 0.45, 0], [-0.5, -0.22, 10]]];

/** Stills of a chessboard by a camera with a lens, PNG. */
export function boardStills(lens: Lens, { width, height }: { readonly width: number; readonly height: number }): Promise<Buffer[]> {
  return Promise.all(HELD.map(async ([turn, [x, y, z]]) => {
    const rotation = rotationFromVector(turn), at = [0, 1, 2].map((k) => rotation[3 * k]! * -3.5 + rotation[3 * k + 1]! * -2) as unknown as Vector3;
    const map = homographyOfPose({ rotation, position: [at[0] + x * z, at[1] + y * z, at[2] + z] }, { focal: lens.focal, cx: lens.centre[0], cy: lens.centre[1], ratio: 1 });
    const { data } = boardPicture(width, height, map, lens, 8, 5);
    return sharp(Uint8Array.from(data, (v) => Math.round(255 * v)), { raw: { width, height, channels: 1 } }).png().toBuffer();
  }));
}
