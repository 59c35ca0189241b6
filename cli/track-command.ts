import { mapTuple } from '../core/base/geometry/map-tuple.ts';
import { outsideKeepOuts } from '../core/motion/scene/follow-features.ts';
import { type FollowPlan, NothingToFollow } from '../core/motion/follow/follow-plan.ts';
import { filmedFit, ThroughLens } from '../core/motion/lens/follow-through-lens.ts';
import { IdealMotion } from '../core/motion/lens/ideal-motion.ts';
import type { Lens } from '../core/motion/lens/lens.ts';
import { lensAsked } from './lens.ts';
import { pointFromFile } from '../core/base/geometry/pixel-centre.ts';
import { writeTrack } from '../core/handoff/exchange/track-file.ts';
import { checkCorners, checkFrame, checkOutlines } from '../core/motion/follow/check-job.ts';
import { lostSpans } from '../core/motion/follow/lost-spans.ts';
import { carryOutline, inUse, type KeyedOutline } from '../core/base/geometry/outline.ts';
import { followSpan } from '../core/motion/follow/follow-run.ts';
import type { FrameFit } from '../core/motion/follow/frame-fit.ts';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import type { Point } from '../core/base/geometry/homography.ts';
import type { Quad } from '../core/base/geometry/quad.ts';
import { checkKeys } from '../core/motion/keys/hand-keys.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { FollowJob } from '../core/base/schemas/types.ts';
import { LumaFile } from './luma-file.ts';
import { openPlate, PLATE_OPTIONS } from './plate.ts';
import { checkWritable, named, note, progress, readJson, readOptions, writeWhole } from './options.ts';

/** `yarlop track`: follows a job through a plate and writes the track. */
export async function trackCommand(args: string[]): Promise<void> {
  const options = readOptions(args, ['plate', 'job', 'out'], PLATE_OPTIONS);
  const job = readJson('job', options.job);
  checkJob(job, options.job);
  checkWritable(options.out);
  const plate = await openPlate(options.plate, options);
  const { facts } = plate;
  [...facts.assumed, ...facts.notes].forEach(note);
  let luma: LumaFile | null = null;
  try {
    luma = await LumaFile.decode(plate.source, facts);
    const lens = await lensAsked(
      job.lens,
      job.pixelCentre,
      luma,
      options.job,
      facts,
      outsideKeepOuts(
        (job.keepOut ?? [])
          .filter((o) => o.fixed)
          .map((o) => carryOutline(o, (p) => pointFromFile(p, job.pixelCentre))),
        job.referenceFrame,
      ),
    );
    const fits = await follow(job, options.job, luma, lens && { lens, width: facts.width, height: facts.height });
    const track = writeTrack(
      {
        pixelCentre: job.pixelCentre,
        width: facts.width,
        height: facts.height,
        rate: facts.rate,
        referenceFrame: job.referenceFrame,
        corners: mapTuple(job.corners, (c) => pointFromFile(c, job.pixelCentre)),
        firstFrameNumber: facts.firstFrameNumber,
        lens,
      },
      fits,
    );
    writeWhole(options.out, `${JSON.stringify(track, null, 1)}\n`);
    for (const { frames, why } of lostSpans(track.frames, job.referenceFrame)) note(`${named(frames)} lost: ${why}`);
    for (const { frames, why } of lostSpans(
      track.frames.map(({ frame, note: said }) => ({ frame, lost: said ?? null })),
      job.referenceFrame,
    ))
      note(`${named(frames)}: ${why}`);
  } finally {
    luma?.close();
    plate.close();
  }
}

function checkJob(job: FollowJob, where: string): void {
  if (inUse(job.regions).length === 0) throw new Problem('no-region', { where });
  checkOutlines('regions', job.regions, where);
  checkOutlines('keepOut', job.keepOut ?? [], where);
  checkCorners(job.corners, where);
  if (job.keys) checkKeys(job.keys, where);
  if (job.frames && job.frames[0] > job.frames[1])
    throw new Problem('bad-range', { where: `${where}: frames`, range: job.frames.join('-') });
}

/** Frames keyed by hand: they are not followed, but what comes after a loss goes on from them. */
function keyedFits(
  job: FollowJob,
  corners: readonly Point[],
  [first, last]: readonly [number, number],
  frames: number,
  where: string,
): FrameFit[] {
  return (job.keys ?? []).flatMap((key) => {
    checkFrame(key.frame, frames, `${where}: keys`);
    const homography = homographyBetweenQuads(
      corners,
      key.corners.map((c) => pointFromFile(c, job.pixelCentre)),
    );
    return homography && key.frame >= first && key.frame <= last && key.frame !== job.referenceFrame
      ? [{ frame: key.frame, homography, error: 0, confidence: 1, blur: 0, note: 'keyed by hand' }]
      : [];
  });
}

async function follow(
  job: FollowJob,
  where: string,
  plate: LumaFile,
  through: { lens: Lens; width: number; height: number } | undefined,
): Promise<FrameFit[]> {
  checkFrame(job.referenceFrame, plate.frames, `${where}: referenceFrame`);
  const frames = job.frames ?? [0, plate.frames - 1];
  checkFrame(frames[1], plate.frames, `${where}: frames`);
  const ours = <O extends KeyedOutline>(outline: O): O =>
    carryOutline(outline, (p) => pointFromFile(p, job.pixelCentre));
  const corners = job.corners.map((c) => pointFromFile(c, job.pixelCentre));
  const keyed = keyedFits(job, corners, frames, plate.frames, where);
  const fits = new Map<number, FrameFit>(keyed.map((k) => [k.frame, k]));
  try {
    const straight = through && new ThroughLens(through.lens, through.width, through.height);
    const filmed = through && filmedFit<FrameFit>(through.lens, corners as unknown as Quad);
    const plan: FollowPlan = {
      motion: job.motion,
      points: job.points,
      lastPass: job.lastPass,
      referenceFrame: job.referenceFrame,
      frames,
      direction: 'both',
      screen: corners,
      known: new Map(
        keyed.map((k) => [
          k.frame,
          through && k.homography
            ? (IdealMotion.at(through.lens, corners as unknown as Quad)?.ideal(k.homography) ?? null)
            : k.homography,
        ]),
      ),
      regions: job.regions.map(ours),
      keepOut: (job.keepOut ?? []).map(ours),
    };
    const run = straight
      ? followSpan(straight.plan(plan), async (frame) => straight.luma(plate.read(frame)))
      : followSpan(plan, async (frame) => plate.read(frame));
    for await (const found of run) {
      const fit = straight && filmed ? filmed(straight.ideal(found)) : found;
      // What a last pass made surer comes once more.
      const { disagreement: _notWritten, ...written } = fit;
      fits.set(fit.frame, written);
      progress('following', fits.size, frames[1] - frames[0] + 1);
    }
  } catch (error) {
    if (error instanceof NothingToFollow)
      throw new Problem('nothing-to-follow', { why: error.message }, { cause: error });
    throw error;
  }
  return [...fits.values()];
}
