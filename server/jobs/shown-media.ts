import { boardScale, FINE } from '../../core/board/board-scale.ts';
import { DrawnBoards } from '../../core/board/drawn-boards.ts';
import type { BoardSources } from '../../core/board/render-board.ts';
import type { ResolvedLook } from '../../core/composite/look.ts';
import type { PinnedContent } from '../../core/composite/pinned-surface.ts';
import { ShownContent, type ContentSource } from '../../core/composite/shown-content.ts';
import type { Quad } from '../../core/geometry/quad.ts';
import { contentFromRaw } from '../../core/image/raw-frame.ts';
import { Problem } from '../../core/problem/problem.ts';
import type { Board, ShotDocument } from '../../core/schemas/types.ts';
import type { Queryable } from '../database/connection.ts';
import { findMediaByIds, type StoredMedia } from '../database/media.ts';
import { fontSet } from '../media/fonts.ts';
import type { FrameStore } from '../media/frame-store.ts';
import { openFrames } from '../media/stored-frames.ts';

/** What is shown on a surface on a frame where its corners are at `quad`; null for nothing. */
export type ShownMedia = (frame: number, quad: Quad) => Promise<readonly PinnedContent[] | null>;

/** The media that a shot's content is made of: its board's, or the one that is chosen. */
export function contentIds({ contentId, look: { board } }: ShotDocument): number[] {
  if (board) return boardIds(board);
  return contentId === null ? [] : [contentId];
}

const boardIds = (board: Board): number[] => [...new Set(board.layers.flatMap((layer) => (typeof layer.media === 'number' && !layer.off ? [layer.media] : [])))];

/** The frames of stored content. A clip runs at its own rate, numbered pictures with the plate. */
function storedContent({ facts, kind, frames }: StoredMedia, store: FrameStore, plateRate: readonly [number, number]): ContentSource {
  return { frames: frames!, rate: kind === 'clip' ? facts!.rate : plateRate, colour: facts!.colour, picture: async (index) => contentFromRaw(await store.readRaw(index), facts!.layout) };
}

/** Opens what a shot shows. Without content, or with content that was not brought in, a problem says so. */
export async function openShown(db: Queryable, document: ShotDocument, look: ResolvedLook, plateRate: readonly [number, number], folders: { frames: string; media: string }): Promise<ShownMedia> {
  const { board } = document.look, ids = contentIds(document);
  if (board) {
    const sources = await boardSources(db, board, look.levels, plateRate, folders);
    const drawn = new DrawnBoards();
    return (frame, quad) => drawn.at(board, frame, sources, look.levels, boardScale(board, quad, FINE));
  }
  if (ids.length === 0) throw new Problem('no-content');
  const shown = new ShownContent((await storedSources(db, ids, plateRate, folders)).get(ids[0]!)!, plateRate);
  return async (frame) => {
    const pyramid = await shown.at(frame, look);
    return pyramid && [{ pyramid }];
  };
}

/** Opened media by their ids. */
async function storedSources(db: Queryable, ids: readonly number[], plateRate: readonly [number, number], folders: { frames: string; media: string }): Promise<Map<number, ContentSource>> {
  const media = await findMediaByIds(db, [...ids]), sources = new Map<number, ContentSource>();
  for (const id of ids) {
    const medium = media.get(id);
    if (!medium?.facts) throw new Problem('no-content');
    if (medium.state === 'cleared') throw new Problem('frames-cleared', { name: medium.name });
    sources.set(id, storedContent(medium, openFrames(folders, medium), plateRate));
  }
  return sources;
}

/** What a board's layers show, levels applied. */
export async function boardSources(db: Queryable, board: Board, levels: ResolvedLook['levels'], plateRate: readonly [number, number], folders: { frames: string; media: string }): Promise<BoardSources> {
  const media = await storedSources(db, boardIds(board), plateRate, folders), shown = new Map<string, ShownContent>();
  for (const { id, media: medium } of board.layers) {
    const source = typeof medium === 'number' ? media.get(medium) : undefined;
    if (source) shown.set(id, new ShownContent(source, plateRate));
  }
  return { font: fontSet, moves: ({ media: medium }) => typeof medium === 'number' && (media.get(medium)?.frames ?? 1) > 1, media: async ({ id, time }, frame) => (await shown.get(id)?.at(frame, { levels, place: {}, time: time ?? {} })) ?? null };
}
