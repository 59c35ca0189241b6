import { levelsNow, type KeyedLevels } from '../look/look.ts';
import type { Board, BoardLayer } from '../../base/schemas/types.ts';
import { layerOnFrame } from './layer-on-frame.ts';
import { renderBoard, type BoardPart, type BoardSources } from './render-board.ts';

/** What of a layer is the same on all frames. */
function constantOf({
  position: _p,
  anchor: _a,
  scale: _s,
  rotation: _r,
  opacity: _o,
  crop: _c,
  from: _f,
  to: _t,
  off: _off,
  ...constant
}: BoardLayer): Partial<BoardLayer> {
  return constant;
}

/** What a drawn board depends on, as text: the same for frames on which it looks the same. Frames of what moves by itself count as all different. */
export function boardState(board: Board, frame: number, moves: (layer: BoardLayer) => boolean): string {
  const layers = board.layers.flatMap((layer) => {
    const on = layerOnFrame(layer, frame);
    return on
      ? [[constantOf(layer), on, (layer.kind === 'clip' || layer.kind === 'picture') && moves(layer) ? frame : null]]
      : [];
  });
  return JSON.stringify([board.width, board.height, board.background ?? null, layers]);
}

/** Boards as they were drawn last: while nothing on a board moves it is drawn once. */
export class DrawnBoards {
  private kept: { key: string; parts: BoardPart[] }[] = [];

  /** `keep`: how many are kept. */
  constructor(private readonly keep = 1) {}

  /** `media` tells apart what the sources show for the same layers. */
  async at(
    board: Board,
    frame: number,
    sources: BoardSources,
    levels: KeyedLevels,
    scale: number,
    media = '',
  ): Promise<BoardPart[]> {
    const key = JSON.stringify([
      boardState(board, frame, (layer) => sources.moves(layer)),
      levelsNow(levels, frame),
      scale,
      media,
    ]);
    const there = this.kept.find((one) => one.key === key);
    if (there) return there.parts;
    const parts = await renderBoard(board, frame, sources, levels, scale);
    this.kept = [{ key, parts }, ...this.kept].slice(0, this.keep);
    return parts;
  }
}
