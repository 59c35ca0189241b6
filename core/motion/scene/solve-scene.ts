import type { Point } from '../../base/geometry/homography.ts';
import { Problem } from '../../base/problem/problem.ts';
import type { BundleFreedom } from './bundle-adjustment.ts';
import { placeAt, type FeatureTrack } from './feature-tracks.ts';
import { firstPairs } from './first-pair.ts';
import { keyFrames } from './key-frames.ts';
import { Structure, ZOOM_STEP, type StructureSettings } from './structure.ts';
import { spreadTracks } from './spread-tracks.ts';
import { solveTurning } from './rotation.ts';
import { beginWalk, extendWalk, nearest } from './walk.ts';
import type { CameraMotion, SceneInput, SceneFrame, Scene } from './scene.ts';
import { range, countAt, sharedSomewhere, motionOverall } from './shared-features.ts';
import { stillScene } from './still-scene.ts';

/** Fewest static points. */
export const FEWEST_POINTS = 8;
/** Motions below which a camera stands still, px. */
const STILL = 0.6;
/** Focal lengths to begin with, in widths of the picture. */
const FOCALS = [0.6, 0.85, 1.2, 1.8, 2.8];
/** Turning is believed where what it leaves is no more than so many times what a free camera leaves, or so few px of a picture 1920 wide. */
const NO_WORSE = 1.3;
const TURN_LEAVES = 0.3;
/** A zoom is believed where it leaves less than so much of what a constant focal length leaves, and changes it by more than this. */
const ZOOM_GAINS = 0.9;
const ZOOMS_BY = 0.03;
const LEAST_SHARE = 0.35;
const PAIRS_TRIED = 3;
/** Tracks that tell how the camera moves. */
const ENOUGH = 240;

/**
 * The camera's way and focal length, and where the followed features are in space, from their tracks alone.
 * Sources: Hartley, Zisserman 2004, ch. 18 and 19; N. Snavely, S. Seitz, R. Szeliski, Modeling the world from internet photo collections, IJCV 80(2), 2008 (from a first pair outwards, with adjustment between).
 * @throws Problem scene-few-points, scene-unsolved
 */
export async function solveScene(input: SceneInput): Promise<Scene> {
  const { width, height, frames, tracks } = input;
  const long = tracks.filter((t) => t.xs.length >= 3);
  const fewest = Math.min(...range(frames).map((f) => countAt(long, f)));
  if (long.length < FEWEST_POINTS || sharedSomewhere(long, frames) < FEWEST_POINTS)
    throw new Problem('scene-few-points', {
      points: String(Math.min(long.length, fewest)),
      frames: `${frames[0]}–${frames[1]}`,
    });
  const centre = input.centre ?? [width / 2, height / 2];
  const usual = input.focal ?? 1.1 * Math.max(width, height);
  const keys = keyFrames(long, frames, width);
  if (motionOverall(long, frames) < STILL) return stillScene(input, centre, usual, long);
  // Which motion and focal length it is, some tracks tell as well as all; then all come in.
  const some = spreadTracks(long, ENOUGH, width, height);
  const chosen = await choose(
    input,
    some.map((i) => long[i]!),
    keys,
    centre,
    usual,
  );
  const found = chosen && some.length < long.length ? await withAll(input, long, some, keys, chosen) : chosen;
  if (!found)
    throw new Problem('scene-unsolved', {
      why:
        input.focal === undefined
          ? 'the points followed fit no still scene seen by one camera'
          : 'the points followed fit no still scene seen with this focal length',
    });
  return await finish(input, long, found, centre);
}

/** A way the camera may have moved, found with some of the tracks. */
export interface RoughScene {
  readonly structure: Structure;
  readonly motion: CameraMotion;
  readonly share: number;
}

/** What `solveScene` begins with: the motion and focal length that some tracks tell, as they are given. Null where none fits, or the camera stands. */
export async function roughScene(input: SceneInput): Promise<RoughScene | null> {
  const { width, height, frames, tracks } = input;
  if (sharedSomewhere(tracks, frames) < FEWEST_POINTS || motionOverall(tracks, frames) < STILL) return null;
  return choose(
    input,
    tracks,
    keyFrames(tracks, frames, width),
    input.centre ?? [width / 2, height / 2],
    input.focal ?? 1.1 * Math.max(width, height),
  );
}

interface Candidate {
  readonly structure: Structure;
  readonly motion: CameraMotion;
  readonly zooms: boolean;
  readonly share: number;
}

/** The same with all tracks. */
async function withAll(
  input: SceneInput,
  tracks: readonly FeatureTrack[],
  some: readonly number[],
  keys: readonly number[],
  { structure: from, motion, zooms }: Candidate,
): Promise<Candidate> {
  const structure = from.over(tracks, (track) => some[track]!);
  await input.breathe?.();
  structure.findPoints();
  structure.adjust(10);
  settle(structure, keys);
  return { structure, motion, zooms, share: shareOf(structure, tracks, keys) };
}

async function choose(
  input: SceneInput,
  tracks: readonly FeatureTrack[],
  keys: readonly number[],
  centre: Point,
  usual: number,
): Promise<Candidate | null> {
  const { width, focal, lens } = input;
  const small = (TURN_LEAVES * width) / 1920;
  const known = lens && 'k1' in lens ? lens : null;
  const terms = lens && 'terms' in lens ? lens.terms : 0;
  const settings = (turning: boolean, how: BundleFreedom['focal']): StructureSettings => ({
    freedom: { turning, focal: how, terms },
    centre,
    usualFocal: usual,
    k1: known?.k1,
    k2: known?.k2,
  });
  const candidate = (structure: Structure | null, motion: CameraMotion, zooms: boolean): Candidate | null =>
    structure ? { structure, motion, zooms, share: shareOf(structure, tracks, keys) } : null;
  const held = focal === undefined ? 'constant' : 'known';
  const starts =
    focal !== undefined ? [focal] : input.begin !== undefined ? [input.begin] : FOCALS.map((f) => f * width);
  const each = async (solve: (start: number) => Structure | null): Promise<Structure | null> => {
    const found: (Structure | null)[] = [];
    for (const start of starts) {
      await input.breathe?.();
      found.push(solve(start));
    }
    return best(found);
  };
  const turning = async (how: BundleFreedom['focal']) =>
    candidate(await each((f) => solveTurning(tracks, keys, f, settings(true, how))), 'turns', how === 'zoom');
  let turned = await turning(held);
  if (focal === undefined && !(turned && turned.structure.rms < small && turned.share > LEAST_SHARE))
    turned = better(turned, await turning('zoom'));
  if (turned && turned.structure.rms < small && turned.share > 2 * LEAST_SHARE) return turned;
  const walking = async (how: BundleFreedom['focal']) =>
    candidate(await walk(tracks, keys, (solve) => each(solve), settings(false, how), input), 'walks', how === 'zoom');
  let walked = await walking(held);
  if (focal === undefined) {
    const zooming =
      walked && walked.share > LEAST_SHARE
        ? candidate(asZoom(walked.structure, keys, settings(false, 'zoom')), 'walks', true)
        : await walking('zoom');
    walked = better(walked, zooming);
  }
  if (!walked || walked.share < LEAST_SHARE) return turned && turned.share > LEAST_SHARE ? turned : walked;
  // What a camera that only turns explains nearly as well, it explains.
  return turned && turned.share > 0.9 * walked.share && turned.structure.rms < NO_WORSE * walked.structure.rms
    ? turned
    : walked;
}

async function walk(
  tracks: readonly FeatureTrack[],
  keys: readonly number[],
  each: (solve: (start: number) => Structure | null) => Promise<Structure | null>,
  settings: StructureSettings,
  { random, breathe }: SceneInput,
): Promise<Structure | null> {
  for (const pair of firstPairs(tracks, keys).slice(0, PAIRS_TRIED)) {
    const begun = await each((f) => beginWalk(tracks, keys, pair, f, settings, random));
    if (!begun || begun.points.size < FEWEST_POINTS) continue;
    await breathe?.();
    extendWalk(begun, keys, Infinity);
    await breathe?.();
    if (begun.cameras.size < 0.7 * keys.length) continue;
    begun.adjust(20, { ...settings.freedom, terms: 0 });
    settle(begun, keys);
    return begun;
  }
  return null;
}

/** Everything once more together, with what was left out. */
function settle(structure: Structure, keys: readonly number[]): void {
  for (let round = 0; round < 2; round++) {
    structure.forgive();
    structure.findPoints();
    extendWalk(structure, keys, Infinity);
    structure.adjust(20);
  }
  structure.adjust(10);
}

/** The same scene with a focal length for each frame. */
function asZoom(from: Structure, keys: readonly number[], settings: StructureSettings): Structure {
  const structure = from.over(from.tracks, (track) => track, settings);
  structure.adjust(30);
  settle(structure, keys);
  return structure;
}

/** Of two the second only where it gains: it is freer. */
function better(plain: Candidate | null, zoom: Candidate | null): Candidate | null {
  if (!plain || !zoom) return plain ?? zoom;
  const focals = [...zoom.structure.cameras.values()].map((c) => c.focal);
  const change = Math.max(...focals) / Math.min(...focals) - 1;
  const gains = zoom.structure.rms / zoom.share < (ZOOM_GAINS * plain.structure.rms) / plain.share;
  return gains && change > ZOOMS_BY ? zoom : plain;
}

/** The one that leaves least, counting what it leaves out. */
function best(structures: readonly (Structure | null)[]): Structure | null {
  const worth = (s: Structure) => (s.points.size * s.cameras.size) / (0.1 + s.rms) ** 2;
  return structures.reduce<Structure | null>((a, b) => (b && (!a || worth(b) > worth(a)) ? b : a), null);
}

/** Of the tracks that are seen on three key frames or more, the share that has a place. */
function shareOf(structure: Structure, tracks: readonly FeatureTrack[], keys: readonly number[]): number {
  let long = 0;
  let placed = 0;
  tracks.forEach((track, i) => {
    if (keys.filter((f) => placeAt(track, f)).length < 3) return;
    long++;
    if (structure.points.has(i)) placed++;
  });
  return long === 0 ? 0 : placed / long;
}

/** Every frame's camera, and the scene as it was solved. */
async function finish(
  input: SceneInput,
  tracks: readonly FeatureTrack[],
  { structure, motion, zooms, share }: Candidate,
  centre: Point,
): Promise<Scene> {
  const out: SceneFrame[] = [];
  const all = range(input.frames);
  const cameras = new Map(structure.cameras);
  for (const frame of all) {
    const near = [...cameras.keys()].reduce(
      (a, b) => (Math.abs(b - frame) < Math.abs(a - frame) ? b : a),
      nearest(structure, frame),
    );
    const found = structure.resectNear(frame, cameras.get(near)!, ZOOM_STEP);
    input.progress?.(frame - input.frames[0] + 1, all.length);
    if (frame % 8 === 0) await input.breathe?.();
    if (!found || found.holds < FEWEST_POINTS) continue;
    cameras.set(frame, found.camera);
    out.push({ frame, camera: found.camera, holds: found.holds, rms: found.rms, covariance: found.covariance });
  }
  if (out.length === 0) throw new Problem('scene-unsolved', { why: 'on no frame do eight points fit the scene' });
  const notes: string[] = [];
  const missing = all.filter((f) => !out.some((s) => s.frame === f));
  if (missing.length > 0)
    notes.push(
      `On ${missing.length} of ${all.length} frames fewer than ${FEWEST_POINTS} still points are seen (the first: ${missing[0]}).`,
    );
  if (share < 0.6)
    notes.push(
      `${Math.round(100 * (1 - share))} % of what was followed moves by itself and was left out; draw a keep-out around it, or make sure that it is not the scene that was left out.`,
    );
  const originals = new Map(tracks.map((t, i) => [i, input.tracks.indexOf(t)]));
  return {
    motion,
    zooms,
    focalKnown: input.focal !== undefined,
    centre,
    k1: structure.k1,
    k2: structure.k2,
    frames: out,
    points: [...structure.points].map(([track, at]) => ({ track: originals.get(track)!, at })),
    rms: structure.rms,
    sigma: structure.sigma,
    share,
    notes,
  };
}
