import { mapTuple } from '../core/base/geometry/map-tuple.ts';
import { pointFromFile } from '../core/base/geometry/pixel-centre.ts';
import { writeTrack } from '../core/handoff/exchange/track-file.ts';
import { checkCorners, checkFrame } from '../core/motion/follow/check-job.ts';
import { lostSpans } from '../core/motion/follow/lost-spans.ts';
import type { Quad } from '../core/base/geometry/quad.ts';
import { checkPoints, judgePoints, warningOf } from '../core/motion/points/check-points.ts';
import type { PointsFrame } from '../core/motion/points/point-plan.ts';
import { PointRun } from '../core/motion/points/point-run.ts';
import { cornersAmong, motionOfPoints, pointsFrom } from '../core/motion/points/points-track.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { CornerBounds, PointsJob } from '../core/base/schemas/types.ts';
import type { MediaFacts } from '../server/media/facts.ts';
import type { LumaFile } from './luma-file.ts';
import { named, note, progress, writeWhole } from './options.ts';

/** Follows the points of a job through a plate whose luma is coming in, and writes the track; `options` name the files. @throws Problem */
export async function followPoints(
  job: PointsJob,
  { job: where, out }: { job: string; out: string },
  facts: MediaFacts,
  luma: LumaFile,
): Promise<void> {
  const points = pointsFrom(job.points, facts.width, job.pixelCentre);
  checkPoints(points, where);
  const among = cornersAmong(points);
  const corners = among
    ? mapTuple(among, (i) => points[i]!.at)
    : (job.corners?.map((c) => pointFromFile(c, job.pixelCentre)) as unknown as Quad | undefined);
  if (!corners) throw new Problem('no-corner-points', { where });
  checkCorners(corners, where);
  const length = facts.frames;
  checkFrame(job.referenceFrame, length, `${where}: referenceFrame`);
  const frames = job.frames ?? [0, length - 1];
  if (frames[0] > frames[1]) throw new Problem('bad-range', { where: `${where}: frames`, range: frames.join('-') });
  checkFrame(frames[1], length, `${where}: frames`);
  const read = luma.readWhenThere.bind(luma);
  judgePoints(points, await read(job.referenceFrame), job.referenceFrame, where).forEach((quality, i) => {
    const warning = warningOf(points[i]!.name, quality);
    if (warning) note(`${warning}.`);
  });
  const run = (await PointRun.begin(
    { points, referenceFrame: job.referenceFrame, frames, direction: 'both', retries: true },
    read,
  ))!;
  const all: PointsFrame[] = [run.referenceFrame()];
  for (let at = await run.step(); at; at = await run.step()) {
    all.push(at);
    progress('following points', all.length - 1, run.total);
  }
  // Beyond a cut all are lost; where none is, there is none.
  for (const { frame, points: found } of all)
    if (found.every((fit) => !fit))
      luma.refuseCut(`${where}: frames`, [Math.max(frames[0], frame - 1), Math.min(frames[1], frame + 1)]);
  const motions = all
    .map((frame) => motionOfPoints(points, frame))
    .filter((m) => m.frame >= frames[0] && m.frame <= frames[1]);
  const track = writeTrack(
    {
      pixelCentre: job.pixelCentre,
      width: facts.width,
      height: facts.height,
      rate: facts.rate,
      referenceFrame: job.referenceFrame,
      corners,
      firstFrameNumber: facts.firstFrameNumber,
    },
    motions,
  );
  const byFrame = new Map(motions.map((m) => [m.frame, m]));
  const bounded = track.frames.map((f) => {
    const bounds = byFrame.get(f.frame)?.bounds;
    return f.corners
      ? {
          ...f,
          source: 'points',
          ...(bounds ? { bound: bounds.map((b) => Number(b.toFixed(4))) as CornerBounds } : {}),
        }
      : f;
  });
  writeWhole(out, `${JSON.stringify({ ...track, frames: bounded }, null, 1)}\n`);
  for (const { frames: span, why } of lostSpans(track.frames, job.referenceFrame)) note(`${named(span)} lost: ${why}`);
  for (const { frames: span, why } of lostSpans(
    track.frames.map(({ frame, note: said }) => ({ frame, lost: said ?? null })),
    job.referenceFrame,
  ))
    note(`${named(span)}: ${why}`);
  for (const name of run.lightProposed) note(`light sweeps over ${name}: "light": true would compensate for it.`);
}
