import { run, select, type Queryable } from './connection.ts';

/** What an upload has become; null while it hasn't. */
export async function findUpload(db: Queryable, uploadId: string): Promise<{ mediaId: number; jobId: number } | null> {
  const [row] = await select<{ media_id: number; job_id: number }>(
    db,
    'SELECT media_id, job_id FROM uploads WHERE upload_id = ?',
    [uploadId],
  );
  return row ? { mediaId: row.media_id, jobId: row.job_id } : null;
}

export async function insertUpload(db: Queryable, uploadId: string, mediaId: number, jobId: number): Promise<void> {
  await run(db, 'INSERT INTO uploads (upload_id, media_id, job_id) VALUES (?, ?, ?)', [uploadId, mediaId, jobId]);
}
