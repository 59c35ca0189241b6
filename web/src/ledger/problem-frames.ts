import type { PlateCheck, TrackRow } from '../../../core/base/schemas/types.ts';
import { DOUBTFUL_BELOW } from '../rail/readings.ts';

/** First frames of all that is hard or has gone wrong: findings of the check, and spans where the track is lost or doubtful. */
export function problemFrames(check: PlateCheck | null, rows: readonly TrackRow[]): number[] {
  const frames = new Set((check?.findings ?? []).map((f) => f.frames[0]));
  const bad = (row: TrackRow | undefined) =>
    row !== undefined && (row.homography === null || row.confidence < DOUBTFUL_BELOW);
  rows.forEach((row, i) => {
    if (bad(row) && !(bad(rows[i - 1]) && rows[i - 1]!.frame === row.frame - 1)) frames.add(row.frame);
  });
  return [...frames].sort((a, b) => a - b);
}

/** The next one in a direction, going round at the end; null when there is none. */
export function nextProblem(frames: readonly number[], from: number, direction: 1 | -1): number | null {
  if (frames.length === 0) return null;
  return direction === 1
    ? (frames.find((f) => f > from) ?? frames[0]!)
    : (frames.findLast((f) => f < from) ?? frames.at(-1)!);
}
