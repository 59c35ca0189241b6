import { Problem } from '../../base/problem/problem.ts';
import type { FrameState, RenderRequest } from '../../base/schemas/types.ts';

/** Frames that a render is asked for, with handles, in order. `stateOf` tells what is there of each. @throws Problem bad-range, frame-outside, nothing-to-render */
export function chosenFrames(
  { frames: [from, to], which = 'all', every = 1, list, settings }: RenderRequest,
  last: number,
  stateOf: (frame: number) => FrameState,
): number[] {
  if (from > to) throw new Problem('bad-range', { where: 'the render', range: `${from}-${to}` });
  if (to > last) throw new Problem('frame-outside', { where: 'the render', frame: to, last });
  const outside = list?.find((frame) => frame > last);
  if (outside !== undefined) throw new Problem('frame-outside', { where: 'the list', frame: outside, last });
  const handles = settings?.handles ?? 0;
  const first = Math.max(0, from - handles);
  const end = Math.min(last, to + handles);
  const span = Array.from({ length: end - first + 1 }, (_, i) => first + i);
  const listed = list && new Set(list);
  const chosen = span.filter(
    (frame) =>
      (frame - from) % every === 0 && (!listed || listed.has(frame)) && (which === 'all' || stateOf(frame) === which),
  );
  if (chosen.length === 0) throw new Problem('nothing-to-render', { which: which === 'all' ? 'chosen' : which });
  return chosen;
}

/** Whether frames follow one another: only such make a film. */
export function isUnbroken(frames: readonly number[]): boolean {
  return frames.every((frame, i) => i === 0 || frame === frames[i - 1]! + 1);
}
