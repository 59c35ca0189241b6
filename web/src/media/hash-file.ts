import { createSHA256 } from 'hash-wasm';

const PIECE = 8 << 20;

/** SHA-256 of a file, read piece by piece so that a large one needs no memory; null when it was cancelled. */
export async function hashFile(file: Blob, signal: AbortSignal): Promise<string | null> {
  const hasher = await createSHA256();
  for (let from = 0; from < file.size; from += PIECE) {
    if (signal.aborted) return null;
    hasher.update(new Uint8Array(await file.slice(from, from + PIECE).arrayBuffer()));
  }
  return hasher.digest('hex');
}
