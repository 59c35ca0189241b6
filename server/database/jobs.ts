import type {
  Board,
  DeliveredFile,
  DeliveryFormat,
  DeliverySettings,
  Job,
  PlannedSurface,
  RenderLayer,
  RenderPlan,
  ShotDocument,
} from '../../core/base/schemas/types.ts';
import { run, select, transaction, type Database, type Queryable } from './connection.ts';
import { DEAD_AFTER_SECONDS } from './workers.ts';

/** What each kind of job was asked to do. */
export interface JobParams {
  'bring-in': Record<string, never>;
  check: Record<string, never>;
  follow: {
    direction: 'forward' | 'backward' | 'both';
    frames: [number, number];
    from?: number;
    document: ShotDocument;
    runKey: string;
  };
  points: {
    direction: 'forward' | 'backward' | 'both';
    names: string[];
    frames: [number, number];
    from?: number;
    document: ShotDocument;
    runKey: string;
  };
  pull: { frames: [number, number]; document: ShotDocument; runKey: string };
  seat: { document: ShotDocument };
  scene: { frames: [number, number]; document: ShotDocument; question: string };
  steady: {
    frames: [number, number];
    output: 'mp4' | 'png';
    outside: 'fill' | 'crop' | 'transparent';
    document: ShotDocument;
  };
  board: { frames: [number, number]; board: Board };
  /** `plan`: how finished pictures are made; null where the plate itself is joined. */
  loop: {
    frames: [number, number];
    output: 'mp4' | 'png';
    document: ShotDocument;
    plan: RenderPlan | null;
    corners: PlannedSurface['corners'];
  };
  render: {
    frames: [number, number];
    output: DeliveryFormat;
    layers: RenderLayer[];
    settings: DeliverySettings;
    version: number;
    variant?: { id: number; name: string };
  };
}

export type JobKind = keyof JobParams;

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

/** A job row; `params` is that of its kind. */
export interface StoredJob<K extends JobKind = JobKind> {
  id: number;
  kind: K;
  projectId: number;
  shotId: number | null;
  mediaId: number | null;
  params: JobParams[K];
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

interface JobRow {
  id: number;
  kind: JobKind;
  project_id: number;
  shot_id: number | null;
  media_id: number | null;
  params: never;
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

const SELECT_JOB = `SELECT id, kind, project_id, shot_id, media_id, params, state, done, total, problem, result, stop_requested, priority, packing, attempts, changed, created_at, ended_at,
  (SELECT COUNT(DISTINCT worker) FROM render_tasks t WHERE t.job_id = jobs.id AND t.state = 'running') AS workers, (SELECT COUNT(*) FROM render_tasks t WHERE t.job_id = jobs.id AND t.state = 'failed') AS failed,
  (SELECT JSON_ARRAYAGG(JSON_OBJECT('name', f.name, 'layer', f.layer, 'bytes', f.bytes) ORDER BY f.name) FROM delivered_files f WHERE f.job_id = jobs.id) AS files FROM jobs`;

const fromRow = (row: JobRow): StoredJob => ({
  id: row.id,
  kind: row.kind,
  projectId: row.project_id,
  shotId: row.shot_id,
  mediaId: row.media_id,
  params: row.params,
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
    frames: 'frames' in job.params ? job.params.frames : null,
    render: renderOf(job),
    createdAt: job.createdAt.toISOString(),
    endedAt: job.endedAt?.toISOString() ?? null,
  };
}

function renderOf(job: StoredJob): Job['render'] {
  if (job.kind !== 'render') return null;
  // The row's kind decides which parameters it holds.
  const { output, layers, version, variant = null } = (job as StoredJob<'render'>).params;
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

/** The document that the newest follow of a shot was asked with. */
export async function lastFollowed(db: Queryable, shotId: number): Promise<ShotDocument | null> {
  const [row] = await select<JobRow>(
    db,
    `${SELECT_JOB} WHERE shot_id = ? AND kind = 'follow' ORDER BY id DESC LIMIT 1`,
    [shotId],
  );
  return row ? (fromRow(row) as StoredJob<'follow'>).params.document : null;
}

export async function jobsChangedAfter(db: Queryable, after: number): Promise<StoredJob[]> {
  return (await select<JobRow>(db, `${SELECT_JOB} WHERE changed > ? ORDER BY changed LIMIT 200`, [after])).map(fromRow);
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

/**
 * Takes the first job that waits or whose worker died; null when there is none. Never two workers on one job. Of a render it is the making of
 * files from its finished frames: these themselves are taken one by one (render-tasks.ts). Plate
 * checks come last and one at a time: nobody waits for them, and nobody should have to wait behind them.
 */
export async function claimJob(db: Database, worker: string): Promise<StoredJob | null> {
  const [{ checking }] = (await select<{ checking: number }>(
    db,
    `SELECT COUNT(*) AS checking FROM jobs
    WHERE kind = 'check' AND state = 'running' AND heartbeat_at >= CURRENT_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_SECONDS} SECOND`,
  )) as [{ checking: number }];
  return transaction(db, async (connection) => {
    const [row] = await select<JobRow>(
      connection,
      `${SELECT_JOB}
      WHERE (state = 'queued' OR (state = 'running' AND heartbeat_at < CURRENT_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_SECONDS} SECOND))
        AND (kind <> 'check' OR ? = 0) AND (kind <> 'render' OR packing)
      ORDER BY kind = 'check', priority DESC, id LIMIT 1 FOR UPDATE SKIP LOCKED`,
      [checking],
    );
    if (!row) return null;
    await run(
      connection,
      `UPDATE jobs SET state = 'running', worker = ?, heartbeat_at = CURRENT_TIMESTAMP(3), attempts = attempts + 1,
      changed = NEXT VALUE FOR change_number WHERE id = ?`,
      [worker, row.id],
    );
    return fromRow({ ...row, state: 'running', attempts: row.attempts + 1 });
  });
}

/** Gives back jobs of workers that are known to be gone. */
export async function releaseJobsOf(db: Queryable, workers: readonly string[]): Promise<void> {
  for (const worker of workers) {
    await run(
      db,
      "UPDATE jobs SET state = 'queued', worker = NULL, changed = NEXT VALUE FOR change_number WHERE state = 'running' AND worker = ?",
      [worker],
    );
  }
}

export async function runningWorkers(db: Queryable): Promise<string[]> {
  const rows = await select<{ worker: string }>(
    db,
    "SELECT DISTINCT worker FROM jobs WHERE state = 'running' AND worker IS NOT NULL UNION SELECT name FROM workers",
  );
  return rows.map((row) => row.worker);
}

/** Sign of life with progress; false when the job is no longer this worker's. */
export async function reportProgress(
  db: Queryable,
  id: number,
  worker: string,
  done: number,
  total: number,
): Promise<{ mine: boolean; stop: boolean }> {
  const { affected } = await run(
    db,
    `UPDATE jobs SET done = ?, total = ?, heartbeat_at = CURRENT_TIMESTAMP(3), changed = NEXT VALUE FOR change_number
    WHERE id = ? AND worker = ? AND state = 'running'`,
    [done, total, id, worker],
  );
  const [row] = await select<{ stop_requested: number }>(db, 'SELECT stop_requested FROM jobs WHERE id = ?', [id]);
  return { mine: affected > 0, stop: row?.stop_requested === 1 };
}

export async function endJob(
  db: Queryable,
  id: number,
  worker: string,
  end: { state: 'done' | 'failed' | 'stopped'; problem?: string; result?: string },
): Promise<void> {
  await run(
    db,
    `UPDATE jobs SET state = ?, problem = ?, result = ?, ended_at = CURRENT_TIMESTAMP(3), changed = NEXT VALUE FOR change_number
    WHERE id = ? AND worker = ? AND state = 'running'`,
    [end.state, end.problem ?? null, end.result ?? null, id, worker],
  );
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
