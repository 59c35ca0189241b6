import { Unzip, UnzipInflate } from 'fflate';
import { closeSync, createReadStream, mkdirSync, openSync, statSync, writeSync } from 'node:fs';
import { basename, join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import { isPictureName } from './source.ts';

const MOST_FILES = 100_000;
/** Pictures hardly shrink in a zip; what grows more than this is a trap. */
const MOST_GROWTH = 200;
const SMALL_BYTES = 1 << 20;

/**
 * Unpacks the pictures of a zip flat into a folder, by base name: no entry can leave it. What is not a picture
 * stays packed. Traps are recognised by the sizes that entries declare, and again by what comes out.
 */
export async function unzipPictures(zip: string, folder: string, label: string): Promise<number> {
  mkdirSync(folder, { recursive: true });
  const most = MOST_GROWTH * statSync(zip).size + SMALL_BYTES;
  let files = 0;
  let declared = 0;
  let packed = 0;
  let unpacked = 0;
  let failure: Error | null = null;
  const names = new Set<string>();
  const open = new Set<number>();
  const fail = (why: string) => (failure ??= new Problem('zip-unreadable', { file: label, why }));
  const unzip = new Unzip((entry) => {
    const name = basename(entry.name.replaceAll('\\', '/'));
    if (
      failure ||
      entry.name.endsWith('/') ||
      name.startsWith('.') ||
      entry.name.startsWith('__MACOSX') ||
      !isPictureName(name)
    )
      return;
    declared += entry.originalSize ?? 0;
    if (++files > MOST_FILES) return void fail(`it holds more than ${MOST_FILES} files`);
    if (declared > most) return void fail('it unpacks to far more than it holds');
    if (names.has(name)) return void fail(`it holds two files named ${name}`);
    names.add(name);
    const handle = openSync(join(folder, name), 'w');
    open.add(handle);
    entry.ondata = (error, chunk, final) => {
      if (error) failure ??= error;
      unpacked += chunk?.length ?? 0;
      if (unpacked > MOST_GROWTH * packed + SMALL_BYTES) fail('it unpacks to far more than it holds');
      if (!failure) writeSync(handle, chunk);
      if ((final || error) && open.delete(handle)) closeSync(handle);
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
    if (open.size > 0) throw new Problem('zip-unreadable', { file: label, why: 'its end is missing' });
  } catch (error) {
    if (error instanceof Problem) throw error;
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Problem('disk-full', {}, { cause: error });
    throw new Problem('zip-unreadable', { file: label, why: (error as Error).message }, { cause: error });
  } finally {
    for (const handle of open) closeSync(handle);
  }
  return files;
}
