import { readFileSync } from 'node:fs';
import { Problem } from '../../core/base/problem/problem.ts';

/** The server whose frames a worker without the house's folder fetches, and hands what it made to. */
export interface FrameServer {
  /** Such as `http://bench.frameServer:8460`. */
  readonly address: string;
  readonly token: string | null;
}

/** A decoded frame as the server has it. @throws Problem frame-gone, media-unreachable */
export async function fetchRaw(frameServer: FrameServer, store: string, frame: number): Promise<Uint8Array> {
  const response = await ask(frameServer, `/stores/${encodeURIComponent(store)}/${frame}.raw`, {});
  if (response.status === 404 || response.status === 410) throw new Problem('frame-gone', { frame });
  return new Uint8Array(await whole(frameServer, response).arrayBuffer());
}

/** Hands a finished frame in, under its name. */
export async function handIn(frameServer: FrameServer, name: string, file: string): Promise<void> {
  whole(
    frameServer,
    await ask(frameServer, `/finished/${name}`, {
      method: 'PUT',
      body: readFileSync(file),
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  );
}

function whole({ address }: FrameServer, response: Response): Response {
  if (!response.ok)
    throw new Problem('media-unreachable', { address, why: `it answered with status ${response.status}` });
  return response;
}

async function ask({ address, token }: FrameServer, path: string, init: RequestInit): Promise<Response> {
  try {
    return await fetch(`${address.replace(/\/+$/, '')}/api/v1${path}`, {
      ...init,
      headers: { ...(init.headers as Record<string, string>), ...(token ? { Authorization: `Bearer ${token}` } : {}) },
    });
  } catch (error) {
    throw new Problem(
      'media-unreachable',
      { address, why: String((error as { cause?: { code?: string } }).cause?.code ?? (error as Error).message) },
      { cause: error },
    );
  }
}
