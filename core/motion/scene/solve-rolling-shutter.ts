import { upperMedian } from '../../base/image/statistics.ts';
import type { FeatureTrack } from './feature-tracks.ts';
import { rowsLate, standingTracks } from './rolling-shutter.ts';
import { roughScene, solveScene, type RoughScene } from './solve-scene.ts';
import type { Scene, SceneInput } from './scene.ts';
import { spreadTracks } from './spread-tracks.ts';

/** Row times that are begun with, of a frame's time (the second is tried where the first helps little); beyond `MOST` no camera is. */
const BEGIN = [0.35, -0.35] as const;
const MOST = 1;
/** Then it is solved with all else: so many times at most, each begun from tracks as they stand with what was found, until it changes by less than this. */
const MOST_ROUNDS = 12;
const NEAR_ENOUGH = 5e-4;
const MOST_STEP = 0.25;
const AHEAD = 0.02;
/** It is believed where points fit to less than this share of what they do with all rows read at once, and where it moves something by so many px. */
const HELPS = 0.8;
const SEEN = 0.15;
/** Tracks that tell it, and rounds of adjustment for each row time. */
const ENOUGH = 240;
const ROUNDS = 25;

/** How a camera's rows are read: known, as a share of a frame's time from the first to the last; or to be determined from the shot, where that shows it. */
export type RowsAsked = number | 'estimate' | undefined;

/**
 * Solves a scene by a camera whose rows are read one after the other. Estimated, the row time is the one with which the points fit best, and is left out unless it helps: the scene says what it gains.
 * @throws Problem as `solveScene` does
 */
export async function solveRolling(input: SceneInput, asked: RowsAsked): Promise<Scene> {
  if (asked === undefined || asked === 0) return solveScene(input);
  const found = asked === 'estimate' ? await estimate(input) : { rowTime: asked, begin: undefined, gain: '' };
  if (!found)
    return withNote(
      await solveScene(input),
      'That rows are read one after the other is not seen in this shot, and is left out.',
    );
  const rows = { rowTime: found.rowTime, height: input.height };
  const scene = await solveScene({ ...input, begin: found.begin, tracks: standingTracks(input.tracks, rows) });
  return withNote(
    { ...scene, rows },
    `Rows are taken as read one after the other, the last ${Math.abs(100 * rows.rowTime).toFixed(1)} % of a frame’s time ${rows.rowTime > 0 ? 'after' : 'before'} the first${found.gain}.`,
  );
}

const withNote = (scene: Scene, note: string): Scene => ({ ...scene, notes: [...scene.notes, note] });

async function estimate(input: SceneInput): Promise<{ rowTime: number; begin: number; gain: string } | null> {
  const { width, height } = input;
  const long = input.tracks.filter((t) => t.xs.length >= 3);
  const tracks = spreadTracks(long, ENOUGH, width, height).map((i) => long[i]!);
  if (farthest(tracks, height) < SEEN) return null;
  const standing = (rowTime: number) => (rowTime === 0 ? tracks : standingTracks(tracks, { rowTime, height }));
  const rough = (rowTime: number) => roughScene({ ...input, tracks: standing(rowTime) });
  const without = await rough(0);
  let best: { rowTime: number; scene: RoughScene } | null = null;
  for (const rowTime of BEGIN) {
    const scene: RoughScene | null = best === null ? await rough(rowTime) : null;
    if (scene && leftBy(scene) < HELPS * (without ? leftBy(without) : Infinity)) best = { rowTime, scene };
  }
  // A slight one may be seen from none: look about it.
  best ??= without && { rowTime: 0, scene: without };
  if (!best) return null;
  let { structure } = best.scene;
  let { rowTime } = best;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    await input.breathe?.();
    const next = structure.over(standing(rowTime), (track) => track);
    next.forgive();
    next.findPoints();
    const longer = Math.max(-MOST_STEP, Math.min(MOST_STEP, next.adjustRows(ROUNDS, standing(rowTime + AHEAD), AHEAD)));
    structure = next;
    if (Math.abs(rowTime + longer) > MOST) return null;
    rowTime += longer;
    if (Math.abs(longer) < NEAR_ENOUGH) break;
  }
  const left = structure.rms / Math.max(0.1, best.scene.share);
  if (rowTime === 0 || (without && !(left < HELPS * leftBy(without)))) return null;
  return {
    rowTime: Number(rowTime.toFixed(4)),
    begin: upperMedian([...structure.cameras.values()].map((camera) => camera.focal)),
    gain: `: points then fit to ${structure.rms.toFixed(3)} px${without ? `, and to ${without.structure.rms.toFixed(3)} px without` : ''}`,
  };
}

/** What a scene leaves, px; what is left out of it because it does not fit counts as well. */
const leftBy = ({ structure, share }: RoughScene) => structure.rms / Math.max(0.1, share);

/** The farthest, nearly, that reading rows over a whole frame's time would move a point, px. */
function farthest(tracks: readonly FeatureTrack[], height: number): number {
  const moves = tracks
    .flatMap((track) =>
      track.xs
        .slice(1)
        .map(
          (x, i) =>
            Math.hypot(x - track.xs[i]!, track.ys[i + 1]! - track.ys[i]!) *
            Math.abs(rowsLate({ rowTime: 1, height }, track.ys[i]!)),
        ),
    )
    .sort((a, b) => a - b);
  return moves[Math.floor(0.95 * (moves.length - 1))] ?? 0;
}
