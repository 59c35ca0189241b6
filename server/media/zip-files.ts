import { Zip, ZipPassThrough } from 'fflate';
import { createWriteStream } from 'node:fs';
import { readFile } from 'node:fs/promises';

/** Writes files into a zip as they are: pictures do not shrink. The same files give the same zip, whenever it is made. */
export async function zipFiles(target: string, entries: readonly { name: string; file: string }[]): Promise<void> {
  const output = createWriteStream(target);
  const finished = new Promise<void>((done, fail) => {
    output.once('error', fail);
    output.once('close', done);
  });
  const zip = new Zip((error, chunk, final) => {
    if (error) output.destroy(error);
    else output.write(chunk);
    if (final) output.end();
  });
  for (const { name, file } of entries) {
    const entry = new ZipPassThrough(name);
    entry.mtime = new Date(1980, 0, 1);
    zip.add(entry);
    entry.push(await readFile(file), true);
    if (output.writableNeedDrain)
      await Promise.race([finished, new Promise<void>((go) => output.once('drain', () => go()))]);
  }
  zip.end();
  await finished;
}
