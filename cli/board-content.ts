import { dirname, resolve } from 'node:path';
import { DrawnBoards } from '../core/picture/board/drawn-boards.ts';
import { textOf, type BoardPart, type BoardSources } from '../core/picture/board/render-board.ts';
import type { ResolvedLook } from '../core/picture/look/look.ts';
import { ShownContent } from '../core/picture/pin/shown-content.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { Board, BoardLayer } from '../core/base/schemas/types.ts';
import { fontSet } from '../server/media/fonts.ts';
import { openContent, type ContentFrames } from './content-frames.ts';
import { note } from './options.ts';

/** A board file with the pictures and clips that its layers name, told from where the board lies. */
export class BoardContent {
  private readonly drawn = new DrawnBoards();
  private readonly opened = new Map<string, ContentFrames>();
  private readonly shown = new Map<string, ShownContent>();

  private constructor(
    private readonly board: Board,
    private readonly folder: string,
    private readonly plateRate: readonly [number, number],
    private readonly look: ResolvedLook,
  ) {}

  static async open(
    board: Board,
    file: string,
    plateRate: readonly [number, number],
    look: ResolvedLook,
  ): Promise<BoardContent> {
    const content = new BoardContent(board, dirname(resolve(file)), plateRate, look);
    for (const layer of board.layers) {
      if (layer.kind === 'text') {
        const { missing } = await textOf(layer, content.sources);
        if (missing.length > 0)
          note(
            `the font of the layer "${layer.name ?? layer.id}" has no ${missing.map((m) => `“${m}”`).join(', ')}: a box stands for it`,
          );
      }
      if (layer.kind === 'picture' || layer.kind === 'clip') await content.open(layer);
    }
    return content;
  }

  private async open(layer: BoardLayer): Promise<void> {
    if (typeof layer.media !== 'string')
      throw new Problem('bad-field', {
        where: 'the board',
        field: `layers/${layer.id}/media`,
        why:
          layer.media === undefined
            ? 'is missing: it names the picture or clip'
            : 'is a number of the library; a board file names a file',
      });
    const path = resolve(this.folder, layer.media);
    if (!this.opened.has(path)) this.opened.set(path, await openContent(path, this.plateRate));
    this.shown.set(layer.id, new ShownContent(this.opened.get(path)!, this.plateRate));
  }

  private readonly sources: BoardSources = {
    font: fontSet,
    moves: ({ media: name }) =>
      typeof name === 'string' && (this.opened.get(resolve(this.folder, name))?.frames ?? 1) > 1,
    media: async (layer, frame) =>
      this.shown.get(layer.id)?.at(frame, { levels: this.look.levels, place: {}, time: layer.time ?? {} }) ?? null,
  };

  at(frame: number, scale: number): Promise<BoardPart[]> {
    return this.drawn.at(this.board, frame, this.sources, this.look.levels, scale);
  }

  get size(): { width: number; height: number } {
    return this.board;
  }

  async close(): Promise<void> {
    for (const content of this.opened.values()) await content.close();
  }
}
