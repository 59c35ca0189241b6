import { Unzip, UnzipInflate } from 'fflate';
import { closeSync, createReadStream, mkdirSync, openSync, readSync, writeSync } from 'node:fs';
import { basename, join } from 'node:path';
import { Problem } from '../../core/problem/problem.ts';

const MOST_FILES = 100_000;
/** Pictures hardly shrink in a zip; what grows more than this is a trap. */
const MOST_GROWTH = 200;

export function looksLikeZip(file: string): boolean {
  const head = Buffer.alloc(4);
  const handle = openSync(file, 'r');
  try {
    readSync(handle, head, 0, 4, 0);
  } finally {
    closeSync(handle);
  }
  return head.readUInt32BE(0) === 0x504b0304;
}

/** Unpacks the pictures of a zip flat into a folder, by base name: no entry can leave it. */
export async function unzipPictures(zip: string, folder: string, label: string): Promise<number> {
  mkdirSync(folder, { recursive: true });
  let files = 0, packed = 0, unpacked = 0;
  let failure: Error | null = null;
  const unzip = new Unzip((entry) => {
    const name = basename(entry.name.replaceAll('\\', '/'));
    if (failure || entry.name.endsWith('/') || name.startsWith('.') || entry.name.startsWith('__MACOSX')) return;
    if (++files > MOST_FILES) {
      failure = new Problem('zip-unreadable', { file: label, why: `it holds more than ${MOST_FILES} files` });
      return;
    }
    const handle = openSync(join(folder, name), 'w');
    entry.ondata = (error, chunk, final) => {
      if (error) failure ??= error;
      unpacked += chunk?.length ?? 0;
      if (unpacked > MOST_GROWTH * packed + (1 << 20)) failure ??= new Problem('zip-unreadable', { file: label, why: 'it unpacks to far more than it holds' });
      if (!failure) writeSync(handle, chunk);
      if (final || error) closeSync(handle);
    };
    entry.start();
  });
  unzip.register(UnzipInflate);
  try {
    for await (const chunk of createReadStream(zip, { highWaterMark: 1 << 20 })) {
      packed += (chunk as Buffer).length;
      unzip.push(chunk as Buffer);
      if (failure) throw failure as Error;
    }
    unzip.push(new Uint8Array(0), true);
    if (failure) throw failure as Error;
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw new Problem('zip-unreadable', { file: label, why: (error as Error).message }, { cause: error });
  }
  return files;
}
