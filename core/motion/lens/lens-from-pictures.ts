import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { sameShape } from '../../base/image/same-shape.ts';
import { Problem } from '../../base/problem/problem.ts';
import type { LensFromBoards } from '../../base/schemas/types.ts';
import { findChessboard, type ChessboardPoint } from './find-chessboard.ts';
import { lensFromChessboards } from './lens-from-chessboards.ts';

/** A picture that may show a chessboard: a still, or a frame of a clip. */
export interface NamedPicture {
  readonly name: string;
  readonly frame: number;
  readonly luma: LumaFrame;
}

/** Of a clip so many frames are looked at. */
const FRAMES_OF_CLIP = 24;

/** Frames of a clip to look at, spread over it. */
export function framesOfBoards(frames: number): number[] {
  const n = Math.min(FRAMES_OF_CLIP, frames);
  return Array.from({ length: n }, (_, k) => Math.floor(((k + 0.5) * frames) / n));
}

/**
 * The lens of a plate that is `plate` px large, told by pictures of chessboards of the same camera: of the plate's size, or of another size and the same shape.
 * @throws Problem board-shape, no-board
 */
export async function lensFromPictures(
  pictures: AsyncIterable<NamedPicture>,
  plate: { readonly width: number; readonly height: number },
): Promise<LensFromBoards> {
  const views: LensFromBoards['views'] = [];
  const boards: ChessboardPoint[][] = [];
  const which: number[] = [];
  for await (const {
    name,
    frame,
    luma: { width, height, codes, peak },
  } of pictures) {
    if (!sameShape({ width, height }, plate))
      throw new Problem('board-shape', { name, size: `${width}×${height}`, plate: `${plate.width}×${plate.height}` });
    const found = findChessboard({ width, height, data: Float32Array.from(codes, (code) => code / peak) });
    const scale = plate.width / width;
    views.push({ name, frame, crossings: found?.length ?? 0, rms: null });
    if (!found) continue;
    which.push(views.length - 1);
    boards.push(found.map(({ square, at }) => ({ square, at: [at[0] * scale, at[1] * scale] })));
  }
  const fit = lensFromChessboards(boards, plate);
  if (!fit) throw new Problem('no-board', { pictures: views.length });
  fit.perView.forEach((rms, k) => {
    views[which[k]!]!.rms = Number.isFinite(rms) ? rms : null;
  });
  return {
    lens: { ...fit.lens, centre: [fit.lens.centre[0], fit.lens.centre[1]] },
    views,
    rms: fit.rms,
    focalSpread: fit.focalSpread,
    bound: fit.bound,
    reach: fit.reach,
  };
}
