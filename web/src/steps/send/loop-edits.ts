import type { Draft } from 'immer';
import type { Point } from '../../../../core/base/geometry/homography.ts';
import type { ShotDocument, ShotLoop } from '../../../../core/base/schemas/types.ts';

type Pair = [number, number];

/** Edits what a shot's loop is, which is begun by its first edit. */
export function changeLoop(draft: Draft<ShotDocument>, recipe: (loop: Draft<ShotLoop>) => void): void {
  recipe((draft.loop ??= {}));
}

/** An upright line through the middle of the picture. */
export const middleLine = (width: number, height: number): Pair[] => [
  [width / 2, height],
  [width / 2, 0],
];

/** Sets one end of the split's line on a frame: on its home frame itself, on others by a key. */
export function moveLineEnd(
  loop: Draft<ShotLoop>,
  frame: number,
  shown: readonly Point[],
  end: 0 | 1,
  to: Point,
): void {
  const split = loop.split;
  const line = split?.line;
  if (!split || !line) return;
  const points = shown.map(([x, y], i): Pair => (i === end ? [to[0], to[1]] : [x, y]));
  if (frame === (split.home ?? 0)) {
    line.points = points;
    return;
  }
  const keys = (line.keys ??= []);
  const there = keys.find((key) => key.frame === frame);
  if (there) there.points = points;
  else keys.push({ frame, points });
  keys.sort((a, b) => a.frame - b.frame);
}
