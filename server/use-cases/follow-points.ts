import { checkPoints, judgePoint } from '../../core/motion/points/check-points.ts';
import { pointsFrom } from '../../core/motion/points/points-track.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { PointsRequest } from '../../core/base/schemas/types.ts';
import { transaction, type Database } from '../database/connection.ts';
import { clearPoint, readPoints } from '../database/hand-motion.ts';
import { insertJob } from '../database/jobs.ts';
import { refuseWhileRunning } from './refuse-while-running.ts';
import { openShot } from './open-shot.ts';
import { lumaOf } from './reference-luma.ts';
import { refuseAcrossCut } from './refuse-across-cut.ts';
import { WHERE } from './open-shot.ts';

/** Queues a run of corner points. What was found of them in the span before goes, but for spans that are kept. */
export async function startPoints(
  db: Database,
  shotId: number,
  { direction, names: asked, frames: span, from }: PointsRequest,
  dataFolder: string,
): Promise<number> {
  const { shot, document, plate, runKey } = await openShot(db, shotId);
  const facts = plate.facts!;
  const points = pointsFrom(document.cornerPoints ?? [], facts.width);
  const last = facts.frames - 1;
  checkPoints(points, WHERE);
  const names = asked ?? points.map((p) => p.name);
  const unknown = names.find((name) => !points.some((p) => p.name === name));
  if (unknown !== undefined || names.length === 0)
    throw new Problem('not-found', { thing: 'point', id: unknown ?? '(none)' });
  const start = from ?? document.referenceFrame;
  for (const [frame, where] of [
    [document.referenceFrame, 'the reference'],
    [start, 'the start'],
  ] as const)
    if (frame > last) throw new Problem('frame-outside', { where, frame, last });
  const wanted = span ?? document.range ?? [0, last];
  if (wanted[0] > wanted[1]) throw new Problem('bad-range', { where: 'the span', range: wanted.join('-') });
  if (wanted[1] > last) throw new Problem('frame-outside', { where: 'the span', frame: wanted[1], last });
  const frames: [number, number] = [
    direction === 'forward' ? Math.max(start + 1, wanted[0]) : wanted[0],
    direction === 'backward' ? Math.min(start - 1, wanted[1]) : wanted[1],
  ];
  if (frames[0] > frames[1]) throw new Problem('bad-range', { where: 'the span', range: frames.join('-') });
  await refuseAcrossCut(db, plate.id, [Math.min(start, frames[0]), Math.max(start, frames[1])]);
  if (from !== undefined && from !== document.referenceFrame) {
    const keyed = (name: string) =>
      document.cornerPoints?.some((p) => p.name === name && p.keys?.some((k) => k.frame === from));
    const rows = (await readPoints(db, shot.id, runKey)).filter((r) => r.frame === from && r.at);
    const missing = names.filter((name) => !keyed(name) && !rows.some((r) => r.name === name));
    if (missing.length === names.length) throw new Problem('not-followed', { frame: from });
  }
  const reference = await lumaOf(plate, dataFolder, document.referenceFrame);
  for (const point of points)
    if (names.includes(point.name)) judgePoint(point, reference, document.referenceFrame, WHERE);
  await refuseWhileRunning(db, shot.id);
  return transaction(db, async (connection) => {
    for (const name of names)
      await clearPoint(
        connection,
        shot.id,
        name,
        runKey,
        frames,
        document.cornerPoints?.find((p) => p.name === name)?.keep,
      );
    return insertJob(connection, {
      kind: 'points',
      projectId: shot.projectId,
      shotId: shot.id,
      params: { direction, names, frames, ...(from === undefined ? {} : { from }), document, runKey },
      total: frames[1] - frames[0] + 1,
    });
  });
}
