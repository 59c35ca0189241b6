import type { Board } from '../../../core/base/schemas/types.ts';
import type { useShot } from '../stores/shot.ts';
import { drawBoardInWorker } from './preview.ts';
import { boardMedia } from './shot-request.ts';

/** Each layer's own size, board pixels. */
export type LayerSizes = Record<string, { width: number; height: number }>;

/** The board by itself on a frame, `scale` times its size. */
export function drawBoard(
  shot: ReturnType<typeof useShot>,
  board: Board,
  frame: number,
  scale: number,
): Promise<{ bitmap: ImageBitmap; sizes: LayerSizes }> {
  return drawBoardInWorker({
    board,
    media: boardMedia(shot, board, true),
    plateRate: shot.plate!.facts!.rate,
    frame,
    scale,
  });
}
