import { Problem } from '../../core/base/problem/problem.ts';
import { checked } from '../../core/base/schemas/check.ts';
import type {
  DeliveredFile,
  Job,
  JobWork,
  RenderSpan,
  ShotDocument,
  ShownRender,
} from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';

export type JobKind = JobWork['kind'];

/** What each kind of job was asked to do. */
export type JobParams = { [W in JobWork as W['kind']]: W['params'] };

/** Work on a shot, of which there is one at a time. Renders stand beside it: they go by what was there when they were asked for. */
export const SHOT_WORK = [
  'follow',
  'points',
  'pull',
  'seat',
  'scene',
  'steady',
  'board',
  'loop',
] as const satisfies readonly JobKind[];

/** A job row, without what only the one who does it needs. */
export interface StoredJob {
  id: number;
  kind: JobKind;
  projectId: number;
  shotId: number | null;
  mediaId: number | null;
  /** First and last frame, of kinds that have them. */
  frames: RenderSpan | null;
  /** What is to come of a render. */
  render: ShownRender | null;
  state: Job['state'];
  done: number;
  total: number;
  problem: string | null;
  result: string | null;
  stopRequested: boolean;
  priority: number;
  /** Of a render: all frames are there, and what was asked for is being made of them. */
  packing: boolean;
  workers: number;
  failed: number;
  files: DeliveredFile[];
  /** How often a worker took it. */
  attempts: number;
  changed: number;
  createdAt: Date;
  endedAt: Date | null;
}

/** A job with what it was asked to do. */
export interface JobToDo<K extends JobKind> extends StoredJob {
  kind: K;
  params: JobParams[K];
}
export type AnyJobToDo = { [K in JobKind]: JobToDo<K> }[JobKind];

export interface JobRow {
  id: number;
  kind: JobKind;
  project_id: number;
  shot_id: number | null;
  media_id: number | null;
  params: unknown;
  state: Job['state'];
  done: number;
  total: number;
  problem: string | null;
  result: string | null;
  stop_requested: number;
  priority: number;
  packing: number;
  workers: number;
  failed: number;
  files: DeliveredFile[] | null;
  attempts: number;
  changed: number;
  created_at: Date;
  ended_at: Date | null;
}

export const SELECT_JOB = `SELECT id, kind, project_id, shot_id, media_id, params, state, done, total, problem, result, stop_requested, priority, packing, attempts, changed, created_at, ended_at,
  (SELECT COUNT(DISTINCT worker) FROM render_tasks t WHERE t.job_id = jobs.id AND t.state = 'running') AS workers, (SELECT COUNT(*) FROM render_tasks t WHERE t.job_id = jobs.id AND t.state = 'failed') AS failed,
  (SELECT JSON_ARRAYAGG(JSON_OBJECT('name', f.name, 'layer', f.layer, 'bytes', f.bytes) ORDER BY f.name) FROM delivered_files f WHERE f.job_id = jobs.id) AS files FROM jobs`;

export const fromRow = (row: JobRow): StoredJob => ({
  id: row.id,
  kind: row.kind,
  projectId: row.project_id,
  shotId: row.shot_id,
  mediaId: row.media_id,
  frames: checked('jobShown', row.params, `job ${row.id}`).frames ?? null,
  render: row.kind === 'render' ? checked('shownRender', row.params, `job ${row.id}`) : null,
  state: row.state,
  done: row.done,
  total: row.total,
  problem: row.problem,
  result: row.result,
  stopRequested: row.stop_requested === 1,
  priority: row.priority,
  packing: row.packing === 1,
  workers: Number(row.workers),
  failed: Number(row.failed),
  files: row.files ?? [],
  attempts: row.attempts,
  changed: Number(row.changed),
  createdAt: row.created_at,
  endedAt: row.ended_at,
});

/** With the parameters of its kind. @throws Problem when another version wrote them in a way that is not known here. */
export function toDo(row: JobRow): AnyJobToDo {
  const work = checked('jobWork', { kind: row.kind, params: row.params }, `job ${row.id}`);
  return { ...fromRow(row), ...work };
}

export function jobReply(job: StoredJob): Job {
  return {
    id: job.id,
    kind: job.kind,
    projectId: job.projectId,
    shotId: job.shotId,
    mediaId: job.mediaId,
    state: job.state,
    done: job.done,
    total: job.total,
    problem: job.problem,
    result: job.result,
    frames: job.frames,
    render: renderOf(job),
    createdAt: job.createdAt.toISOString(),
    endedAt: job.endedAt?.toISOString() ?? null,
  };
}

function renderOf(job: StoredJob): Job['render'] {
  if (!job.render) return null;
  const { output, layers, version, variant = null } = job.render;
  const { priority, workers, failed, files } = job;
  return { output, layers, priority, version, variant, workers, failed, files };
}

export async function findJob(db: Queryable, id: number): Promise<StoredJob | null> {
  const [row] = await select<JobRow>(db, `${SELECT_JOB} WHERE id = ?`, [id]);
  return row ? fromRow(row) : null;
}

export async function listShotJobs(db: Queryable, shotId: number, most: number): Promise<StoredJob[]> {
  return (
    await select<JobRow>(db, `${SELECT_JOB} WHERE shot_id = ? ORDER BY id DESC LIMIT ${Math.floor(most)}`, [shotId])
  ).map(fromRow);
}

/** The same with what it was asked to do. */
export async function findJobToDo(db: Queryable, id: number): Promise<AnyJobToDo | null> {
  const [row] = await select<JobRow>(db, `${SELECT_JOB} WHERE id = ?`, [id]);
  return row ? toDo(row) : null;
}

/** The document that the newest follow of a shot was asked with; null when there was none, or another version wrote it in a way that is not known here. */
export async function lastFollowed(db: Queryable, shotId: number): Promise<ShotDocument | null> {
  const [row] = await select<JobRow>(
    db,
    `${SELECT_JOB} WHERE shot_id = ? AND kind = 'follow' ORDER BY id DESC LIMIT 1`,
    [shotId],
  );
  if (!row) return null;
  try {
    const job = toDo(row);
    return job.kind === 'follow' ? job.params.document : null;
  } catch (error) {
    if (error instanceof Problem) return null;
    throw error;
  }
}

/** Jobs whose number of change is above one, but for those that are `told` by it already: asked many times a second, it reads whole rows of news only. */
export async function jobsChangedAfter(
  db: Queryable,
  after: number,
  told: ReadonlyMap<number, number> = new Map(),
): Promise<StoredJob[]> {
  const sql = 'SELECT id, changed FROM jobs WHERE changed > ? ORDER BY changed LIMIT 200';
  const changes = await select<{ id: number; changed: number }>(db, sql, [after]);
  const news = changes.filter(({ id, changed }) => told.get(id) !== changed).map(({ id }) => id);
  if (news.length === 0) return [];
  const places = news.map(() => '?').join(', ');
  return (await select<JobRow>(db, `${SELECT_JOB} WHERE id IN (${places}) ORDER BY changed`, news)).map(fromRow);
}

export async function newestChange(db: Queryable): Promise<number> {
  const [row] = await select<{ newest: number | null }>(db, 'SELECT MAX(changed) AS newest FROM jobs');
  return Number(row?.newest ?? 0);
}

/** True when a job of one of the kinds has not ended on the shot. */
export async function hasOpenJob(db: Queryable, shotId: number, kinds: readonly JobKind[]): Promise<JobKind | null> {
  const rows = await select<{ kind: JobKind }>(
    db,
    "SELECT kind FROM jobs WHERE shot_id = ? AND state IN ('queued', 'running')",
    [shotId],
  );
  return rows.find((row) => kinds.includes(row.kind))?.kind ?? null;
}

/** The kind of an open job that reads frames of a medium, or makes them. */
export async function hasOpenPlateJob(db: Queryable, mediaId: number): Promise<JobKind | null> {
  const [row] = await select<{ kind: JobKind }>(
    db,
    `SELECT j.kind FROM jobs j LEFT JOIN shots s ON s.id = j.shot_id
    WHERE j.state IN ('queued', 'running', 'paused') AND j.kind <> 'check' AND (j.media_id = ? OR s.plate_id = ?) LIMIT 1`,
    [mediaId, mediaId],
  );
  return row?.kind ?? null;
}

export interface NewJob<K extends JobKind> {
  kind: K;
  projectId: number;
  shotId?: number;
  mediaId?: number;
  params: JobParams[K];
  total: number;
  done?: number;
  priority?: number;
}

export async function insertJob<K extends JobKind>(db: Queryable, job: NewJob<K>): Promise<number> {
  return (
    await run(
      db,
      'INSERT INTO jobs (kind, project_id, shot_id, media_id, params, total, done, priority, changed) VALUES (?, ?, ?, ?, ?, ?, ?, ?, NEXT VALUE FOR change_number)',
      [
        job.kind,
        job.projectId,
        job.shotId ?? null,
        job.mediaId ?? null,
        JSON.stringify(job.params),
        job.total,
        job.done ?? 0,
        job.priority ?? 0,
      ],
    )
  ).id;
}

/** Asks a running job to stop, or ends a waiting one; false when it has ended already. */
export async function requestStop(db: Queryable, id: number): Promise<boolean> {
  const waiting = await run(
    db,
    "UPDATE jobs SET state = 'stopped', ended_at = CURRENT_TIMESTAMP(3), changed = NEXT VALUE FOR change_number WHERE id = ? AND (state IN ('queued', 'paused') OR (state = 'running' AND kind = 'render' AND NOT packing))",
    [id],
  );
  if (waiting.affected > 0) return true;
  const running = await run(
    db,
    "UPDATE jobs SET stop_requested = TRUE, changed = NEXT VALUE FOR change_number WHERE id = ? AND state = 'running'",
    [id],
  );
  return running.affected > 0;
}

/** Single frames of a variant that were asked for and did not come to be (yet), the newest first. */
export async function openVariantFrames(
  db: Queryable,
  variantId: number,
): Promise<{ id: number; frame: number; state: Job['state']; problem: string | null }[]> {
  const rows = await select<{ id: number; frame: string; state: Job['state']; problem: string | null }>(
    db,
    `SELECT id, JSON_VALUE(params, '$.frames[0]') AS frame, state, problem FROM jobs
    WHERE kind = 'render' AND state IN ('queued', 'running', 'failed') AND JSON_VALUE(params, '$.variant.id') = ? AND JSON_VALUE(params, '$.output') = 'frames' ORDER BY id DESC LIMIT 4`,
    [variantId],
  );
  return rows.map((row) => ({ ...row, frame: Number(row.frame) }));
}

/** Which of its shot's renders the next one is. */
export async function nextVersion(db: Queryable, shotId: number): Promise<number> {
  const [row] = await select<{ newest: number | null }>(
    db,
    "SELECT MAX(CAST(JSON_VALUE(params, '$.version') AS UNSIGNED)) AS newest FROM jobs WHERE shot_id = ? AND kind = 'render' AND JSON_VALUE(params, '$.output') <> 'frames'",
    [shotId],
  );
  return Number(row?.newest ?? 0) + 1;
}

export async function setPriority(db: Queryable, id: number, priority: number): Promise<void> {
  await run(db, 'UPDATE jobs SET priority = ?, changed = NEXT VALUE FOR change_number WHERE id = ?', [priority, id]);
}
