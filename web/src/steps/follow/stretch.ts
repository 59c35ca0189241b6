import type { TrackRow } from '../../../../core/base/schemas/types.ts';
import type { Span } from './spans.ts';

/** The frames in a row about one that are in the same state: all held, or all lost; null where it was not followed. */
export function stretchAt(track: ReadonlyMap<number, TrackRow>, frame: number): Span | null {
  const row = track.get(frame);
  if (!row) return null;
  const alike = (f: number) => {
    const other = track.get(f);
    return other !== undefined && (other.homography === null) === (row.homography === null);
  };
  let first = frame;
  let last = frame;
  while (alike(first - 1)) first--;
  while (alike(last + 1)) last++;
  return [first, last];
}

/** The held frame that a run in a direction goes on from, at the frame on show or before it; the reference when there is none. */
export function startFrom(
  track: ReadonlyMap<number, TrackRow>,
  frame: number,
  direction: 1 | -1,
  reference: number,
  frames: number,
): number {
  for (let f = frame; f >= 0 && f < frames; f -= direction) if (f === reference || track.get(f)?.homography) return f;
  return reference;
}
