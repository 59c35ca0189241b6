import * as Comlink from 'comlink';
import type { Scopes } from '../../../core/picture/measure/scopes.ts';
import type { BoardRequest, Composed, ComposeRequest } from './compose-request.ts';
import type { PreviewWorker } from './preview-worker.ts';

let worker: Comlink.Remote<PreviewWorker> | null = null;
let boards: Comlink.Remote<PreviewWorker> | null = null;
let busy = false;
/** What a finished frame is for: the picture on show, or one that it is held against. */
type Purpose = 'shown' | 'kept';
const waiting = new Map<
  Purpose,
  { request: ComposeRequest; resolve: (composed: Composed | null) => void; reject: (error: unknown) => void }
>();

/** A finished frame from the preview worker. Only the newest request for a purpose waits; one it replaces gets null. */
export function composePreview(request: ComposeRequest, purpose: Purpose = 'shown'): Promise<Composed | null> {
  return new Promise((resolve, reject) => {
    waiting.get(purpose)?.resolve(null);
    waiting.set(purpose, { request, resolve, reject });
    if (!busy) void next();
  });
}

/** A board by itself, for its stage. Its own worker: the plate's preview does not wait for it. */
export async function drawBoardInWorker(
  request: BoardRequest,
): Promise<{ bitmap: ImageBitmap; sizes: Record<string, { width: number; height: number }> }> {
  boards ??= Comlink.wrap<PreviewWorker>(
    new Worker(new URL('./preview-worker.ts', import.meta.url), { type: 'module' }),
  );
  return boards.board(request);
}

let measuring: Comlink.Remote<PreviewWorker> | null = null;

/** What a finished frame shows beside its plate. Its own worker too: it looks for seconds, and the picture does not wait. */
export async function scopesInWorker(request: ComposeRequest): Promise<Scopes | null> {
  measuring ??= Comlink.wrap<PreviewWorker>(
    new Worker(new URL('./preview-worker.ts', import.meta.url), { type: 'module' }),
  );
  return measuring.scopes(request);
}

async function next(): Promise<void> {
  for (let first = [...waiting][0]; first; first = [...waiting][0]) {
    const [purpose, { request, resolve, reject }] = first;
    waiting.delete(purpose);
    busy = true;
    try {
      worker ??= Comlink.wrap<PreviewWorker>(
        new Worker(new URL('./preview-worker.ts', import.meta.url), { type: 'module' }),
      );
      resolve(await worker.compose(request));
    } catch (error) {
      reject(error);
    } finally {
      busy = false;
    }
  }
}
