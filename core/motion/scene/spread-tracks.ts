import { clamp } from '../../base/geometry/clamp.ts';
import type { FeatureTrack } from './feature-tracks.ts';

/** Cells over which tracks are spread. */
const ACROSS = 10;
const DOWN = 6;

/** So many of the tracks (their indices), the longest of each part of the picture first: enough to find out how a camera moves. */
export function spreadTracks(tracks: readonly FeatureTrack[], most: number, width: number, height: number): number[] {
  if (tracks.length <= most) return tracks.map((_, i) => i);
  const cells: number[][] = Array.from({ length: ACROSS * DOWN }, () => []);
  tracks.forEach(({ xs, ys }, i) => {
    const middle = xs.length >> 1;
    const column = Math.floor((xs[middle]! * ACROSS) / width);
    const row = Math.floor((ys[middle]! * DOWN) / height);
    cells[clamp(row, 0, DOWN - 1) * ACROSS + clamp(column, 0, ACROSS - 1)]!.push(i);
  });
  for (const cell of cells) cell.sort((a, b) => tracks[b]!.xs.length - tracks[a]!.xs.length);
  const out: number[] = [];
  for (let rank = 0; out.length < most; rank++)
    for (const cell of cells) if (cell[rank] !== undefined && out.length < most) out.push(cell[rank]!);
  return out.sort((a, b) => a - b);
}
