import { createHash } from 'node:crypto';
import { createWriteStream, existsSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Problem } from '../../core/problem/problem.ts';

/** The path of a stored upload. Names that people gave are never part of it. */
export function storedPath(mediaFolder: string, hash: string): string {
  return join(mediaFolder, hash.slice(0, 2), hash);
}

/** Takes a stream in: written aside, hashed on the way, put in its place by its hash. */
export async function storeUpload(stream: Readable, uploadsFolder: string, mediaFolder: string, limitBytes: number, name: string): Promise<{ hash: string; bytes: number }> {
  const temporary = join(uploadsFolder, `${process.pid}-${Date.now()}-${Math.random().toString(36).slice(2)}.part`);
  const hasher = createHash('sha256');
  let bytes = 0;
  const meter = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      if (bytes > limitBytes) return done(new Problem('upload-too-large', { limit: `${Math.round(limitBytes / 2 ** 30)} GB` }));
      hasher.update(chunk);
      return done(null, chunk);
    },
  });
  try {
    await pipeline(stream, meter, createWriteStream(temporary));
    if (bytes === 0) throw new Problem('empty-file', { file: name });
    const hash = hasher.digest('hex');
    const place = storedPath(mediaFolder, hash);
    if (existsSync(place)) rmSync(temporary);
    else {
      mkdirSync(join(place, '..'), { recursive: true });
      renameSync(temporary, place);
    }
    return { hash, bytes };
  } catch (error) {
    rmSync(temporary, { force: true });
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Problem('disk-full', {}, { cause: error });
    throw error;
  }
}
