import { checked } from '../../core/base/schemas/check.ts';
import type { ShotCard, ShotDocument, TrackSummary } from '../../core/base/schemas/types.ts';
import { runKeyOf } from './run-key.ts';
import { run, select, type Queryable } from './connection.ts';
import { insertFirstRevision } from './documents.ts';
import { seatFigures } from './seats.ts';
import { findMediaByIds, pictureAddress } from './media.ts';
import { insertShot, listShots, setShotPlate } from './shots.ts';

/** Under this certainty a frame wants a look. */
const DOUBTFUL_BELOW = 0.3;

/** All that the list of a project's shots shows, in a handful of queries however many shots there are. */
export async function listShotCards(db: Queryable, projectId: number): Promise<ShotCard[]> {
  const shots = await listShots(db, projectId);
  const documents = await newestDocuments(db, projectId);
  const tracks = await trackCounts(db, projectId);
  const renders = await newestRenders(db, projectId);
  const seats = await seatFigures(db, projectId);
  const contents = await findMediaByIds(
    db,
    [...documents.values()].flatMap((d) => d.document.contentId ?? []),
  );
  const plates = await findMediaByIds(
    db,
    shots.flatMap((s) => s.plate?.id ?? []),
  );
  return shots.map((shot) => {
    const { document, changedAt } = documents.get(shot.id)!;
    const runKey = runKeyOf(document, shot.plate?.id ?? null);
    const moving = document.rides ?? shot.id;
    const movedBy = documents.get(moving)?.document;
    const plate = shot.plate ? plates.get(shot.plate.id) : undefined;
    return {
      shot,
      document,
      runKey,
      track: summary(tracks.get(moving) ?? [], movedBy ? runKeyOf(movedBy, shot.plate?.id ?? null) : runKey),
      render: renders.get(shot.id) ?? null,
      changedAt,
      seatOff: seatOff(seats.get(shot.id), document),
      contentName: document.contentId === null ? null : (contents.get(document.contentId)?.name ?? null),
      picture:
        plate?.state === 'ready'
          ? pictureAddress(plate, Math.min(document.referenceFrame, (plate.frames ?? 1) - 1))
          : null,
    };
  });
}

/** Locked, corners are as sure as the borders; by the track alone they are off by what the borders show. With fixes only the shot itself can tell. */
function seatOff(
  figures: { bound: number; drift: number } | undefined,
  { lock, corrections }: ShotDocument,
): number | null {
  if (!figures) return null;
  if (lock === true) return figures.bound;
  return corrections?.length ? null : Math.max(figures.bound, figures.drift);
}

async function newestDocuments(
  db: Queryable,
  projectId: number,
): Promise<Map<number, { document: ShotDocument; changedAt: string }>> {
  const rows = await select<{ shot_id: number; document: unknown; created_at: Date }>(
    db,
    `
    SELECT r.shot_id, r.document, r.created_at FROM shots s JOIN shot_revisions r ON r.shot_id = s.id AND r.revision = s.revision
    WHERE s.project_id = ? AND s.deleted_at IS NULL`,
    [projectId],
  );
  return new Map(
    rows.map((row) => [
      row.shot_id,
      {
        document: checked('document', row.document, `the document of shot ${row.shot_id}`),
        changedAt: row.created_at.toISOString(),
      },
    ]),
  );
}

interface TrackCount {
  runKey: string;
  held: number;
  lost: number;
  doubtful: number;
  error: number | null;
}

async function trackCounts(db: Queryable, projectId: number): Promise<Map<number, TrackCount[]>> {
  const rows = await select<{
    shot_id: number;
    run_key: string;
    held: number;
    lost: number;
    doubtful: number;
    error: number | null;
  }>(
    db,
    `
    SELECT t.shot_id, t.run_key, SUM(t.homography IS NOT NULL) AS held, SUM(t.homography IS NULL) AS lost,
      SUM(t.homography IS NOT NULL AND t.confidence < ${DOUBTFUL_BELOW}) AS doubtful, AVG(CASE WHEN t.homography IS NOT NULL THEN t.error END) AS error
    FROM track_frames t JOIN shots s ON s.id = t.shot_id WHERE s.project_id = ? AND s.deleted_at IS NULL GROUP BY t.shot_id, t.run_key`,
    [projectId],
  );
  const counts = new Map<number, TrackCount[]>();
  for (const { shot_id, run_key, ...row } of rows) {
    const count = {
      runKey: run_key,
      held: Number(row.held),
      lost: Number(row.lost),
      doubtful: Number(row.doubtful),
      error: row.error,
    };
    counts.set(shot_id, [...(counts.get(shot_id) ?? []), count]);
  }
  return counts;
}

function summary(counts: readonly TrackCount[], runKey: string): TrackSummary {
  const total = (of: (c: TrackCount) => number) => counts.reduce((sum, c) => sum + of(c), 0);
  const held = total((c) => c.held);
  return {
    held,
    lost: total((c) => c.lost),
    doubtful: total((c) => c.doubtful),
    outdated: total((c) => (c.runKey === runKey ? 0 : c.held + c.lost)),
    error: held > 0 ? total((c) => (c.error ?? 0) * c.held) / held : null,
  };
}

async function newestRenders(db: Queryable, projectId: number): Promise<Map<number, NonNullable<ShotCard['render']>>> {
  const rows = await select<{ shot_id: number; total: number; state: 'done'; frames: number }>(
    db,
    `
    SELECT j.shot_id, j.total, j.state, j.done AS frames FROM jobs j
    WHERE j.id IN (SELECT MAX(id) FROM jobs WHERE project_id = ? AND kind = 'render' AND state <> 'failed' GROUP BY shot_id)`,
    [projectId],
  );
  return new Map(rows.map((row) => [row.shot_id, { frames: Number(row.frames), total: row.total, state: row.state }]));
}

/** A second shot with the same plate, document and track; the plate's frames are not copied. */
export async function duplicateShot(
  db: Queryable,
  source: { id: number; projectId: number; plateId: number | null },
  document: ShotDocument,
  name: string,
): Promise<number> {
  const id = await insertShot(db, source.projectId, name);
  await insertFirstRevision(db, id, document);
  if (source.plateId !== null) await setShotPlate(db, id, source.plateId);
  await run(
    db,
    `INSERT INTO track_frames (shot_id, frame, run_key, homography, error, confidence, blur, certainty, lost, note, disagreement, job_id, changed)
    SELECT ?, frame, run_key, homography, error, confidence, blur, certainty, lost, note, disagreement, job_id, NEXT VALUE FOR change_number FROM track_frames WHERE shot_id = ?`,
    [id, source.id],
  );
  return id;
}
