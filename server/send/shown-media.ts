import { boardScale, FINE } from '../../core/picture/board/board-scale.ts';
import { DrawnBoards } from '../../core/picture/board/drawn-boards.ts';
import type { BoardSources } from '../../core/picture/board/render-board.ts';
import type { ResolvedLook } from '../../core/picture/look/look.ts';
import type { PinnedContent } from '../../core/picture/pin/pinned-surface.ts';
import { ShownContent, type ContentSource } from '../../core/picture/pin/shown-content.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { contentFromRaw } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { Board, PlannedMedium, ShotDocument } from '../../core/base/schemas/types.ts';
import { fontSet } from '../media/fonts.ts';
import type { FrameStore } from '../media/frame-store.ts';

/** What is shown on a surface on a frame where its corners are at `quad`; null for nothing. */
export type ShownMedia = (frame: number, quad: Quad) => Promise<readonly PinnedContent[] | null>;

/** The media that a shot's content is made of: its board's, or the one that is chosen. */
export function contentIds({ contentId, look: { board } }: ShotDocument): number[] {
  if (board) return boardIds(board);
  return contentId === null ? [] : [contentId];
}

export const boardIds = (board: Board): number[] => [
  ...new Set(board.layers.flatMap((layer) => (typeof layer.media === 'number' && !layer.off ? [layer.media] : []))),
];

/** The frames of stored content. A clip runs at its own rate, numbered pictures with the plate. */
function storedContent(
  { facts, kind, frames }: PlannedMedium,
  store: FrameStore,
  plateRate: readonly [number, number],
): ContentSource {
  return {
    frames,
    rate: kind === 'clip' ? facts.rate : plateRate,
    colour: facts.colour,
    picture: async (index) => contentFromRaw(await store.readRaw(index), facts.layout),
  };
}

/** Where frames of media come from. */
export interface MediaFrames {
  readonly media: ReadonlyMap<number, PlannedMedium>;
  store(medium: PlannedMedium): FrameStore;
  readonly plateRate: readonly [number, number];
}

/** Opens what a shot shows; where that is nothing, nothing is shown. */
export function openShown(document: ShotDocument, look: ResolvedLook, frames: MediaFrames): ShownMedia {
  const { board } = document.look;
  const ids = contentIds(document);
  if (board) {
    const sources = boardSources(board, look.levels, frames);
    const drawn = new DrawnBoards();
    return (frame, quad) => drawn.at(board, frame, sources, look.levels, boardScale(board, quad, FINE));
  }
  if (ids.length === 0) return () => Promise.resolve(null);
  const shown = new ShownContent(storedSource(ids[0]!, frames), frames.plateRate);
  return async (frame) => {
    const pyramid = await shown.at(frame, look);
    return pyramid && [{ pyramid }];
  };
}

function storedSource(id: number, { media, store, plateRate }: MediaFrames): ContentSource {
  const medium = media.get(id);
  if (!medium) throw new Problem('no-content');
  return storedContent(medium, store(medium), plateRate);
}

/** What a board's layers show, levels applied. */
export function boardSources(board: Board, levels: ResolvedLook['levels'], frames: MediaFrames): BoardSources {
  const { media, plateRate } = frames;
  const shown = new Map<string, ShownContent>();
  for (const { id, media: medium, off } of board.layers)
    if (typeof medium === 'number' && !off) shown.set(id, new ShownContent(storedSource(medium, frames), plateRate));
  return {
    font: fontSet,
    moves: ({ media: medium }) => typeof medium === 'number' && (media.get(medium)?.frames ?? 1) > 1,
    media: async ({ id, time }, frame) =>
      (await shown.get(id)?.at(frame, { levels, place: {}, time: time ?? {} })) ?? null,
  };
}
