import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { Problem } from '../../core/base/problem/problem.ts';
import { temporaryFolder } from '../test/folders.ts';
import { isDatabaseError, openPool, run, select, transaction, type Database } from './connection.ts';
import { EMPTY_DOCUMENT, insertFirstRevision, listRevisions, readDocument, saveDocument } from './documents.ts';
import { claimJob, endJob, releaseJobsOf, reportProgress } from './job-queue.ts';
import { findJob, insertJob, jobsChangedAfter, newestChange, requestStop } from './jobs.ts';
import { migrate } from './migrate.ts';
import { startDatabase, type PrivateDatabase } from './private-mariadb.ts';
import { createProject, findProject, listProjects, setProjectDeleted } from './projects.ts';
import { insertShot } from './shots.ts';
import { unpackCertainty } from '../../core/motion/follow/certainty.ts';
import { clearOthers, clearSpan, readTrack, trackChanges, writeTrackFrame } from './tracks.ts';

const folder = temporaryFolder();
let mariadb: PrivateDatabase;
let db: Database;

beforeAll(async () => {
  mariadb = await startDatabase(folder.path);
  await migrate(mariadb.socketPath);
  db = openPool(mariadb.socketPath, 8);
});
afterAll(async () => {
  await db.end();
  await mariadb.stop();
  folder.remove();
});

async function newShot(): Promise<number> {
  const project = await createProject(db, 'P');
  return transaction(db, async (connection) => {
    const shot = await insertShot(connection, project, 'S');
    await insertFirstRevision(connection, shot, EMPTY_DOCUMENT);
    return shot;
  });
}

test('migrations run once and in order', async () => {
  expect(await migrate(mariadb.socketPath)).toEqual([]);
  expect((await select<{ name: string }>(db, 'SELECT name FROM migrations ORDER BY name'))[0]!.name).toBe(
    '0001-first-tables.sql',
  );
});

test('a second start takes over the database that is running', async () => {
  const again = await startDatabase(folder.path);
  expect(again.socketPath).toBe(mariadb.socketPath);
  expect(await select(db, 'SELECT 1 AS one')).toEqual([{ one: 1 }]);
});

test('a database that starts leaves the temporary tables of its neighbours alone', async () => {
  // As another MariaDB that is busy keeps them; one of our own starting beside it once made it fail.
  const theirs = join(tmpdir(), `#sql-temptable-${process.pid}-1-1`);
  const other = temporaryFolder();
  writeFileSync(theirs, '');
  try {
    await (await startDatabase(other.path)).stop();
    expect(existsSync(theirs)).toBe(true);
  } finally {
    rmSync(theirs, { force: true });
    other.remove();
  }
});

describe('transactions that wait for each other', () => {
  test('the one that the database ends is tried again, and both are done', async () => {
    const [a, b] = [await createProject(db, 'a'), await createProject(db, 'b')];
    let tries = 0;
    const arrived: (() => void)[] = [];
    const both = new Promise<void>((resolve) => arrived.push(resolve));
    const rename = (first: number, second: number, name: string) =>
      transaction(db, async (connection) => {
        await run(connection, 'UPDATE projects SET name = CONCAT(name, ?) WHERE id = ?', [name, first]);
        // Each holds what the other wants next; from the third try on nobody waits for company.
        if (++tries === 2) arrived[0]!();
        if (tries <= 2) await both;
        await run(connection, 'UPDATE projects SET name = CONCAT(name, ?) WHERE id = ?', [name, second]);
      });
    await Promise.all([rename(a, b, '1'), rename(b, a, '2')]);
    expect(tries).toBe(3);
    for (const id of [a, b]) expect([...(await findProject(db, id))!.name].sort().join('')).toMatch(/^12[ab]$/);
  });
  test('workers that claim jobs while others tell of theirs do not fail', async () => {
    const project = await createProject(db, 'Busy');
    const ids = await Promise.all(
      Array.from({ length: 60 }, () => insertJob(db, { kind: 'bring-in', projectId: project, params: {}, total: 9 })),
    );
    await Promise.all(
      [0, 1, 2, 3].map(async (w) => {
        for (let job = await claimJob(db, `busy${w}`); job; job = await claimJob(db, `busy${w}`)) {
          for (let done = 1; done < 9; done++) await reportProgress(db, job.id, `busy${w}`, done, 9);
          await endJob(db, job.id, `busy${w}`, { state: 'done' });
        }
      }),
    );
    for (const id of ids) expect(await findJob(db, id)).toMatchObject({ state: 'done', attempts: 1 });
  });
  test('another error is not tried again', async () => {
    let tries = 0;
    await expect(
      transaction(db, async (connection) => {
        tries++;
        await run(connection, 'UPDATE no_such_table SET x = 1');
      }),
    ).rejects.toSatisfy(isDatabaseError);
    expect([tries, isDatabaseError(new Problem('no-plate')), isDatabaseError(new TypeError('x'))]).toEqual([
      1,
      false,
      false,
    ]);
  });
});

test('deleted projects are hidden and can be brought back', async () => {
  const id = await createProject(db, 'Under glass');
  expect(await setProjectDeleted(db, id, true)).toBe(true);
  expect(await setProjectDeleted(db, id, true)).toBe(false);
  expect(await findProject(db, id)).toBeNull();
  expect((await listProjects(db)).some((p) => p.id === id)).toBe(false);
  await setProjectDeleted(db, id, false);
  expect((await findProject(db, id))?.name).toBe('Under glass');
});

describe('documents', () => {
  test('of two saves from one revision the second is refused and told the newest', async () => {
    const shot = await newShot();
    expect(await saveDocument(db, shot, 1, { ...EMPTY_DOCUMENT, motion: 'affine' })).toBe(2);
    const stale = await saveDocument(db, shot, 1, { ...EMPTY_DOCUMENT, motion: 'similarity' }).catch((e: unknown) => e);
    expect(stale).toBeInstanceOf(Problem);
    expect(stale).toMatchObject({ code: 'stale-save', values: { current: 2, base: 1 } });
    expect((await readDocument(db, shot, 2)).motion).toBe('affine');
  });
  test('the same save again is reported as saved: its first answer may have been lost', async () => {
    const shot = await newShot();
    const document = { ...EMPTY_DOCUMENT, referenceFrame: 7 };
    expect(await saveDocument(db, shot, 1, document)).toBe(2);
    expect(await saveDocument(db, shot, 1, document)).toBe(2);
    expect(await listRevisions(db, shot)).toHaveLength(2);
    await saveDocument(db, shot, 2, EMPTY_DOCUMENT);
    await expect(saveDocument(db, shot, 1, document)).rejects.toMatchObject({ code: 'stale-save' });
  });
  test('twenty at once: one wins, nineteen are told, no revision is lost', async () => {
    const shot = await newShot();
    const results = await Promise.allSettled(
      Array.from({ length: 20 }, (_, i) => saveDocument(db, shot, 1, { ...EMPTY_DOCUMENT, referenceFrame: i })),
    );
    expect(results.filter((r) => r.status === 'fulfilled')).toHaveLength(1);
    for (const r of results) if (r.status === 'rejected') expect(r.reason).toMatchObject({ code: 'stale-save' });
    expect((await listRevisions(db, shot)).map((r) => r.revision)).toEqual([2, 1]);
  });
  test('a stored document that no longer fits its schema is named, not handed on', async () => {
    const shot = await newShot();
    await run(db, `UPDATE shot_revisions SET document = '{"format":"yarlop-shot/1"}' WHERE shot_id = ?`, [shot]);
    await expect(readDocument(db, shot, 1)).rejects.toThrow(/revision 1 of shot \d+: referenceFrame is missing/);
  });
});

describe('jobs', () => {
  const addJob = async (): Promise<number> =>
    insertJob(db, { kind: 'bring-in', projectId: await createProject(db, 'J'), params: {}, total: 10 });
  const drain = async (): Promise<void> => {
    for (let job = await claimJob(db, 'drain'); job; job = await claimJob(db, 'drain'))
      await endJob(db, job.id, 'drain', { state: 'done' });
  };

  test('many workers never get the same job', async () => {
    await drain();
    const ids = [];
    for (let i = 0; i < 12; i++) ids.push(await addJob());
    const claims = await Promise.all(
      Array.from({ length: 8 }, async (_, w) => {
        const mine: number[] = [];
        for (let job = await claimJob(db, `w${w}`); job; job = await claimJob(db, `w${w}`)) mine.push(job.id);
        return mine;
      }),
    );
    expect(claims.flat().sort((a, b) => a - b)).toEqual(ids);
    await releaseJobsOf(
      db,
      Array.from({ length: 8 }, (_, w) => `w${w}`),
    );
    await drain();
  });

  test('a job whose worker gives no sign of life is given to another, and the first is told', async () => {
    await drain();
    const id = await addJob();
    await claimJob(db, 'old');
    expect(await claimJob(db, 'new')).toBeNull();
    await run(db, 'UPDATE jobs SET heartbeat_at = CURRENT_TIMESTAMP(3) - INTERVAL 60 SECOND WHERE id = ?', [id]);
    expect((await claimJob(db, 'new'))?.id).toBe(id);
    expect((await reportProgress(db, id, 'old', 3, 10)).mine).toBe(false);
    expect((await reportProgress(db, id, 'new', 4, 10)).mine).toBe(true);
    await endJob(db, id, 'old', { state: 'failed', problem: 'late' });
    expect((await findJob(db, id))?.state).toBe('running');
    await endJob(db, id, 'new', { state: 'done' });
    expect((await findJob(db, id))?.state).toBe('done');
  });

  test('a job whose parameters cannot be read ends with what is wrong, and the next is taken', async () => {
    await drain();
    const [strange, known] = [await addJob(), await addJob()];
    await run(db, `UPDATE jobs SET params = '{"speed": 3}' WHERE id = ?`, [strange]);
    expect((await claimJob(db, 'w'))?.id).toBe(known);
    expect(await findJob(db, strange)).toMatchObject({
      state: 'failed',
      problem: expect.stringContaining('params.speed is not known here') as unknown,
    });
    await endJob(db, known, 'w', { state: 'done' });
  });

  test('stopping: a waiting job ends, a running one is asked, an ended one cannot be', async () => {
    await drain();
    const waiting = await addJob();
    expect(await requestStop(db, waiting)).toBe(true);
    expect((await findJob(db, waiting))?.state).toBe('stopped');
    const running = await addJob();
    await claimJob(db, 'w');
    expect(await requestStop(db, running)).toBe(true);
    expect(await reportProgress(db, running, 'w', 1, 10)).toEqual({ mine: true, stop: true });
    await endJob(db, running, 'w', { state: 'stopped' });
    expect(await requestStop(db, running)).toBe(false);
  });

  test('every change is numbered, so that listeners can ask for what is new', async () => {
    const before = await newestChange(db);
    const id = await addJob();
    expect((await jobsChangedAfter(db, before)).map((j) => j.id)).toEqual([id]);
    await requestStop(db, id);
    expect((await jobsChangedAfter(db, before)).map((j) => [j.id, j.state])).toEqual([[id, 'stopped']]);
  });
});

describe('tracks', () => {
  const entry = (frame: number) => ({
    frame,
    homography: [1, 0, frame, 0, 1, 0, 0, 0, 1],
    error: 0.1,
    confidence: 0.9,
    blur: 0,
  });
  test('changes are handed out once; a frame done again replaces its row', async () => {
    const shot = await newShot();
    for (const frame of [5, 3]) await writeTrackFrame(db, shot, 1, 'a', entry(frame));
    const first = await trackChanges(db, shot, 0);
    expect(first.rows.map((r) => r.frame)).toEqual([5, 3]);
    expect((await trackChanges(db, shot, first.after)).rows).toEqual([]);
    await writeTrackFrame(db, shot, 2, 'b', { ...entry(5), homography: null, lost: 'covered' });
    const second = await trackChanges(db, shot, first.after);
    expect(second.rows).toMatchObject([{ frame: 5, runKey: 'b', homography: null, lost: 'covered' }]);
    expect((await readTrack(db, shot)).map((r) => r.frame)).toEqual([3, 5]);
  });
  test('clearing takes a span but for what is protected, and rows that lead from something else', async () => {
    const shot = await newShot();
    for (const frame of [1, 2, 3, 4, 5, 6]) await writeTrackFrame(db, shot, 1, 'mine', entry(frame));
    await writeTrackFrame(db, shot, 1, 'older', entry(9));
    await clearOthers(db, shot, 'mine');
    const frames = async () => (await readTrack(db, shot)).map((r) => r.frame);
    expect(await frames()).toEqual([1, 2, 3, 4, 5, 6]);
    await clearSpan(
      db,
      shot,
      [2, 6],
      [
        [3, 3],
        [5, 9],
      ],
    );
    expect(await frames()).toEqual([1, 3, 5, 6]);
  });
  test('how sure a frame is comes back as it was', async () => {
    const shot = await newShot();
    const covariance = Array.from({ length: 64 }, (_, i) => 1e-6 / (1 + Math.abs(Math.floor(i / 8) - (i % 8))));
    const certainty = { motion: 'perspective' as const, toUnit: [0.01, 0, -3, 0, 0.01, -2, 0, 0, 1], covariance };
    await writeTrackFrame(db, shot, 1, 'a', { ...entry(1), certainty });
    const back = unpackCertainty((await readTrack(db, shot))[0]!.certainty!)!;
    expect(back.toUnit).toEqual(certainty.toUnit);
    back.covariance.forEach((v, i) => expect(v).toBeCloseTo(covariance[i]!, 12));
  });
});

test('a transaction that fails leaves nothing', async () => {
  const before = (await listProjects(db)).length;
  await expect(
    transaction(db, async (connection) => {
      await createProject(connection, 'half done');
      throw new Error('stop');
    }),
  ).rejects.toThrow('stop');
  expect(await listProjects(db)).toHaveLength(before);
});
