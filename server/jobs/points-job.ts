import { codedLuma } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { PointsFrame } from '../../core/motion/points/point-plan.ts';
import { PointRun } from '../../core/motion/points/point-run.ts';
import { pointsFrom } from '../../core/motion/points/points-track.ts';
import { framesOfPoints } from '../../core/motion/splice/motion-sources.ts';
import { transaction } from '../database/connection.ts';
import { readPoints, writePoint } from '../database/hand-motion.ts';
import { findMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import { openFrames } from '../media/stored-frames.ts';
import type { JobContext } from './job-context.ts';

/** Follows a shot's corner points. Every frame is written as it comes, so that a job that was killed goes on behind it. */
export async function followPoints(context: JobContext<'points'>): Promise<void> {
  const { db, job } = context;
  const shotId = job.shotId!;
  const { document, names, frames, direction, from, runKey } = job.params;
  const shot = await findShot(db, shotId);
  const plate = shot?.plate && (await findMedia(db, shot.plate.id));
  if (!plate?.facts) throw new Problem('no-plate');
  const { layout, colour, width } = plate.facts;
  const store = openFrames(context.folders, plate);
  const points = pointsFrom(document.cornerPoints ?? [], width);
  const active = points.flatMap((p, i) => (names.includes(p.name) ? [i] : []));
  const known = framesOfPoints(
    document.cornerPoints ?? [],
    await readPoints(db, shotId, runKey),
    document.referenceFrame,
  );
  const run = await PointRun.begin(
    {
      points,
      referenceFrame: document.referenceFrame,
      frames,
      direction,
      from,
      active,
      known: new Map([...known].map(([frame, row]) => [frame, points.map((p) => row.get(p.name)?.fit ?? null)])),
    },
    async (frame) => {
      context.check();
      return codedLuma(await store.readRaw(frame), layout, colour.transfer);
    },
  );
  if (!run)
    throw new Problem('point-outside', {
      where: 'this shot',
      name: points[0]?.name ?? 'the first point',
      frame: document.referenceFrame,
    });
  await context.progress(0, run.total);
  let done = 0;
  for (let at = await run.step(); at; at = await run.step()) {
    const found: PointsFrame = at;
    await transaction(db, async (connection) => {
      for (const i of active) {
        const fit = found.points[i];
        const name = points[i]!.name;
        const why = found.why[i];
        const lightWanted = found.lightWanted?.[i] ?? false;
        // What was put by hand stands in the document, and the reference's own frame as well.
        if (fit && (fit.how === 'matched' || fit.how === 'reckoned'))
          await writePoint(connection, shotId, runKey, {
            name,
            frame: found.frame,
            at: [fit.at[0], fit.at[1]],
            how: fit.how,
            score: round(fit.score),
            bound: round(fit.bound),
            light: fit.light,
            lightWanted,
            note: why ?? fit.note ?? null,
          });
        else if (!fit && why)
          await writePoint(connection, shotId, runKey, {
            name,
            frame: found.frame,
            at: null,
            how: 'lost',
            score: 0,
            bound: 0,
            light: false,
            lightWanted,
            note: why,
          });
      }
    });
    await context.progress(++done, run.total);
  }
  await context.progress(run.total, run.total);
}

const round = (v: number): number => Number(v.toFixed(4));
