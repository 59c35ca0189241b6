import { lumaFromRaw } from '../../core/base/image/raw-frame.ts';
import { SeatThroughLens } from '../../core/surface/seat/seat-through-lens.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { EightMoves } from '../../core/base/schemas/types.ts';
import { measureSeat, type SeatPlan } from '../../core/surface/seat/measure-seat.ts';
import { seenOf, worthLocking } from '../../core/surface/seat/seat-advice.ts';
import { transaction } from '../database/connection.ts';
import { findMedia } from '../database/media.ts';
import { readMotion } from '../database/motion-source.ts';
import { mapKey, writeSeat, type SeatRow } from '../database/seats.ts';
import { findShot } from '../database/shots.ts';
import { openFrames } from '../media/stored-frames.ts';
import type { JobContext } from './job-context.ts';
import { rowBounds } from './seating.ts';

/** Looks at the borders of a shot's surface on all frames. What it finds is written all together, so that one that is broken off leaves the last look. */
export async function seat(context: JobContext<'seat'>): Promise<void> {
  const { db, job } = context;
  const shotId = job.shotId!;
  const { document } = job.params;
  const shot = await findShot(db, shotId);
  const plate = shot?.plate && (await findMedia(db, shot.plate.id));
  if (!shot || !plate?.facts) throw new Problem('no-plate');
  if (!document.corners) throw new Problem('no-corners');
  const { layout, colour } = plate.facts;
  const store = openFrames(context.folders, plate);
  const corners = document.corners;
  const rows = (await readMotion(db, shot, document)).filter((row) => row.homography);
  if (rows.length === 0) throw new Problem('no-track');
  const plan: SeatPlan = {
    corners,
    referenceFrame: document.referenceFrame,
    frames: rows.map((row) => ({ frame: row.frame, map: row.homography!, bounds: rowBounds(row, corners) })),
  };
  // With a lens borders are straight where it is taken out.
  const through = document.lens && new SeatThroughLens(document.lens, plate.facts.width, plate.facts.height);
  const looked = through ? through.plan(plan) : plan;
  if (!looked || looked.frames.length !== plan.frames.length)
    throw new Problem('bad-field', {
      where: 'this shot',
      field: 'lens',
      why: 'does not film the surface on all frames; is it this plate’s?',
    });
  const measured = await measureSeat(
    looked,
    async (frame) => {
      context.check();
      const luma = lumaFromRaw(await store.readRaw(frame), layout, colour.transfer);
      return through ? through.luma(luma) : luma;
    },
    (done, total) => context.progress(done, total),
  );
  const seen = rows.map((row, i): SeatRow => {
    const locked = measured.locked[i];
    const moves = locked && (through ? through.filmedMoves(looked.corners, locked.moves) : locked.moves);
    return {
      frame: row.frame,
      mapKey: mapKey(row.homography!),
      strips: Buffer.from(measured.strips[i]!),
      support: locked?.support ?? 0,
      drift: locked?.drift ?? 0,
      moves: moves ? (Array.from(moves, (v) => Number(v.toFixed(5))) as EightMoves) : null,
      bounds: locked ? (locked.bounds.map((b) => Number(b.toFixed(4))) as SeatRow['bounds']) : null,
    };
  });
  const measure = {
    referenceFrame: document.referenceFrame,
    corners,
    borders: seenOf(measured).borders,
    worth: worthLocking(looked, measured),
  };
  await transaction(db, (connection) => writeSeat(connection, shotId, measure, seen));
}
