import { mapTuple } from '../core/base/geometry/map-tuple.ts';
import { lensFromScene } from '../core/motion/scene/lens-from-scene.ts';
import { randomFrom } from '../core/motion/scene/seeded-random.ts';
import { pointFromFile } from '../core/base/geometry/pixel-centre.ts';
import { writeTrack } from '../core/handoff/exchange/track-file.ts';
import { checkCorners, checkFrame, checkOutlines } from '../core/motion/follow/check-job.ts';
import { carryOutline } from '../core/base/geometry/outline.ts';
import { Problem } from '../core/base/problem/problem.ts';
import { followFeatures, outsideKeepOuts, type FramedPlace } from '../core/motion/scene/follow-features.ts';
import { placePlane } from '../core/motion/scene/place-plane.ts';
import { writeScene } from '../core/motion/scene/scene-file.ts';
import { motionOfPlane } from '../core/motion/scene/scene-track.ts';
import { solveRolling } from '../core/motion/scene/solve-rolling-shutter.ts';
import type { SceneInput } from '../core/motion/scene/scene.ts';
import type { SceneJob } from '../core/base/schemas/types.ts';
import { LumaFile } from './luma-file.ts';
import { openPlate, PLATE_OPTIONS } from './plate.ts';
import { checkWritable, note, progress, readJson, readOptions, writeWhole } from './options.ts';

const placesOf = (places: SceneJob['drawn'], { pixelCentre }: SceneJob): FramedPlace[] =>
  (places ?? []).map(({ frame, at }) => ({ frame, at: pointFromFile(at, pixelCentre) }));

/** What a job says of camera and lens. A lens is given in its own focal length, the camera's unless that is given, too: r in other units changes k by their ratio's powers. */
function knownOf({ focal, lens, pixelCentre }: SceneJob): Pick<SceneInput, 'focal' | 'centre' | 'lens'> {
  if (lens === undefined || lens === 'estimate') return { focal, lens: { terms: lens === undefined ? 0 : 2 } };
  const own = focal ?? lens.focal;
  const square = (own / lens.focal) ** 2;
  return {
    focal: own,
    centre: pointFromFile(lens.centre, pixelCentre),
    lens: { k1: lens.k1 * square, k2: lens.k2 * square ** 2 },
  };
}

/** `yarlop scene`: solves camera and still points of a plate, and the track of a plane given by its corners on one frame. */
export async function sceneCommand(args: string[]): Promise<void> {
  const options = readOptions(args, ['plate', 'out'], ['job', 'track', ...PLATE_OPTIONS]);
  const where = options.job ?? 'the command';
  const job: SceneJob = options.job === undefined ? { pixelCentre: 'half' } : readJson('sceneJob', options.job);
  checkOutlines('keepOut', job.keepOut ?? [], where);
  if (job.corners) checkCorners(job.corners, where);
  if (options.track !== undefined && !job.corners)
    throw new Problem('bad-field', {
      where,
      field: 'corners',
      why: 'is missing: --track needs the four corners of a plane on one frame',
    });
  if (typeof job.lens === 'object' && job.lens.k3 !== 0)
    throw new Problem('bad-field', { where, field: 'lens.k3', why: 'must be 0: the scene knows k1 and k2' });
  for (const file of [options.out, options.track]) if (file !== undefined) checkWritable(file);
  const plate = await openPlate(options.plate, options);
  const { facts } = plate;
  const random = randomFrom(1);
  [...facts.assumed, ...facts.notes].forEach(note);
  const luma = LumaFile.begin(plate.source, facts, true);
  try {
    // Before minutes go into solving.
    if (job.corners) checkFrame(job.frame!, facts.frames, `${where}: frame`);
    const allowed = outsideKeepOuts(
      (job.keepOut ?? []).map((o) => carryOutline(o, (p) => pointFromFile(p, job.pixelCentre))),
      job.frame ?? 0,
    );
    const [first, asked] = job.frames ?? [0, null];
    const { tracks, last } = await followFeatures(
      {
        width: facts.width,
        height: facts.height,
        frames: [first, asked],
        allowed,
        drawn: placesOf(job.drawn, job),
        removed: placesOf(job.removed, job),
      },
      async (frame) =>
        luma.readWhenThere(frame).catch((error: unknown) => {
          if (asked === null && error instanceof Problem && error.code === 'frame-outside' && frame > first)
            return null;
          throw error;
        }),
      (done) => progress('following points', done, Math.max(done, (asked ?? facts.frames - 1) - first + 1)),
    );
    const scene = await solveRolling(
      {
        width: facts.width,
        height: facts.height,
        frames: [first, last],
        tracks,
        ...knownOf(job),
        random,
        progress: (done, of) => progress('solving', done, of),
      },
      job.rows,
    );
    scene.notes.forEach(note);
    const placed = job.corners ? await place(job, luma, allowed) : undefined;
    writeWhole(
      options.out,
      `${JSON.stringify(writeScene(scene, { width: facts.width, height: facts.height, rate: facts.rate, pixelCentre: job.pixelCentre }, tracks, placed), null, 1)}\n`,
    );
    if (options.track !== undefined && placed) {
      const track = writeTrack(
        {
          pixelCentre: job.pixelCentre,
          width: facts.width,
          height: facts.height,
          rate: facts.rate,
          referenceFrame: placed.plane.frame,
          corners: placed.corners,
          firstFrameNumber: facts.firstFrameNumber,
          lens: lensFromScene(scene, facts.width, facts.height) ?? undefined,
        },
        motionOfPlane(scene, placed.plane, placed.corners, [first, last]),
      );
      writeWhole(options.track, `${JSON.stringify(track, null, 1)}\n`);
    }

    async function place(
      { corners, frame, proportions, pixelCentre }: SceneJob,
      frames: LumaFile,
      may: typeof allowed,
    ) {
      if (!scene.frames.some((f) => f.frame === frame)) throw new Problem('scene-frame-unsolved', { frame: frame! });
      const quad = mapTuple(corners!, (c) => pointFromFile(c, pixelCentre));
      const { plane, notes } = await placePlane(
        scene,
        { frame: frame!, corners: quad, proportions, allowed: may },
        async (f) => frames.read(f),
        random,
      );
      notes.forEach(note);
      return { plane, corners: quad };
    }
  } finally {
    luma.close();
    plate.close();
  }
}
