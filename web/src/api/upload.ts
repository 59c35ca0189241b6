import { Upload as TusUpload, DetailedError } from 'tus-js-client';
import { call, problemFrom, unreachable } from './client.ts';
import { BASE } from './urls.ts';
import type { UploadReply } from '../../../core/base/schemas/types.ts';

export interface UploadTask {
  projectId: number;
  name: string;
  file: Blob;
  /** Where an earlier try got to; null to begin anew. */
  url: string | null;
  onStarted: (url: string) => void;
  onProgress: (sent: number, total: number) => void;
  signal: AbortSignal;
}

const RETRIES_MS = [0, 500, 1000, 2000, 4000, 8000, 15_000, 30_000];
/** Pieces this large are acknowledged one by one, so that little is sent twice. */
const PIECE_BYTES = 16 << 20;

/** Sends a file by the tus protocol, going on where an earlier try stopped, then hands it to the project. */
export async function sendFile(task: UploadTask): Promise<UploadReply> {
  // Given up while it was still being looked at: a signal that has fired is not heard again.
  task.signal.throwIfAborted();
  const url = await transfer(task);
  const uploadId = url.slice(url.lastIndexOf('/') + 1);
  return call('POST', `/projects/${task.projectId}/media/uploaded`, 'uploadReply', { uploadId, name: task.name });
}

function transfer({ file, name, url, onStarted, onProgress, signal }: UploadTask): Promise<string> {
  return new Promise((resolve, reject) => {
    const upload = new TusUpload(file, {
      endpoint: `${BASE}/uploads`,
      uploadUrl: url,
      retryDelays: RETRIES_MS,
      chunkSize: PIECE_BYTES,
      metadata: { name },
      storeFingerprintForResuming: false,
      onUploadUrlAvailable: () => upload.url && onStarted(upload.url),
      onProgress,
      onSuccess: () => resolve(upload.url!),
      onError: (error) => reject(asProblem(error)),
      // A server that is being started again is waited for; what it refuses is not sent twice.
      onShouldRetry: (error) => {
        const status = error.originalResponse?.getStatus() ?? 0;
        return status === 0 || status >= 500 || status === 409 || status === 423;
      },
    });
    signal.addEventListener('abort', () => {
      // The pieces that are there are removed too, unless nothing was sent yet.
      void upload.abort(upload.url !== null).catch(() => {});
      reject(new DOMException('cancelled', 'AbortError'));
    });
    upload.start();
  });
}

function asProblem(error: Error): Error {
  if (!(error instanceof DetailedError) || !error.originalResponse) return unreachable(error);
  let body: unknown = null;
  try {
    body = JSON.parse(error.originalResponse.getBody());
  } catch {
    // An answer without words is described by its status.
  }
  return problemFrom(error.originalResponse.getStatus(), body);
}
