import { layerCorners, layerOnFrame } from '../../../../core/picture/board/layer-on-frame.ts';
import { bounds } from '../../../../core/base/geometry/quad.ts';
import type { Board } from '../../../../core/base/schemas/types.ts';
import { drawBoard } from '../../preview/board-picture.ts';
import type { useShot } from '../../stores/shot.ts';
import type { Box } from './board-edits.ts';

/** The rectangle that each layer takes on the board on a frame. */
export async function layerBoxes(
  shot: ReturnType<typeof useShot>,
  board: Board,
  frame: number,
): Promise<Map<string, Box>> {
  const { bitmap, sizes } = await drawBoard(shot, board, frame, 0.05);
  const boxes = new Map<string, Box>();
  bitmap.close();
  for (const layer of board.layers) {
    const on = layerOnFrame(layer, frame);
    const size = sizes[layer.id];
    const corners = on && size && layerCorners(on, size);
    if (corners) boxes.set(layer.id, bounds(corners));
  }
  return boxes;
}
