import { type Queryable } from '../database/connection.ts';
import { insertJob } from '../database/jobs.ts';
import { insertMedia } from '../database/media.ts';
import { type StoredFile } from '../media/uploads.ts';

/** Stores a medium with the job that brings it in, inside a transaction; used by uploads and by the demo. */
export async function addMedia(
  connection: Queryable,
  projectId: number,
  name: string,
  stored: StoredFile,
): Promise<{ mediaId: number; jobId: number }> {
  const mediaId = await insertMedia(connection, { projectId, name, ...stored });
  const jobId = await insertJob(connection, { kind: 'bring-in', projectId, mediaId, params: {}, total: 0 });
  return { mediaId, jobId };
}
