import { join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import type { MediaFacts } from './facts.ts';
import { FrameStore, type FrameView } from './frame-store.ts';
import type { FrameServer } from './frame-server.ts';
import { storedPath } from './uploads.ts';

/** What of a media row says where its frames are and how they are shown. */
export interface WithFrames {
  id: number;
  facts: MediaFacts | null;
  store: string | null;
  lut: { hash: string } | null;
}

/** The frame store of a medium that has been brought in. */
export function openFrames(
  places: { frames: string; media: string; frameServer?: FrameServer | null },
  media: WithFrames,
): FrameStore {
  if (!media.facts || !media.store) throw new Problem('not-found', { thing: 'picture of medium', id: media.id });
  const view: FrameView = {
    colour: media.facts.colour,
    lut: media.lut && { hash: media.lut.hash, file: storedPath(places.media, media.lut.hash) },
  };
  return new FrameStore(join(places.frames, media.store), media.facts.layout, view, places.frameServer ?? null);
}
