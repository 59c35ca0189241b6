import { createHash } from 'node:crypto';
import {
  constants,
  createReadStream,
  createWriteStream,
  existsSync,
  mkdirSync,
  renameSync,
  rmSync,
  statSync,
} from 'node:fs';
import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Problem } from '../../core/base/problem/problem.ts';

export interface StoredFile {
  hash: string;
  bytes: number;
}

/** The path of a stored file. Names that people gave are never part of it. */
export function storedPath(mediaFolder: string, hash: string): string {
  return join(mediaFolder, hash.slice(0, 2), hash);
}

/** Takes a stream in: written aside, hashed on the way, put in its place by its hash. */
export async function storeUpload(
  stream: Readable,
  uploadsFolder: string,
  mediaFolder: string,
  limitBytes: number,
  name: string,
): Promise<StoredFile> {
  const hasher = createHash('sha256');
  let hash = '';
  const bytes = await received(
    stream,
    uploadsFolder,
    limitBytes,
    name,
    (chunk) => void hasher.update(chunk),
    (temporary) => putInPlace(temporary, mediaFolder, (hash = hasher.digest('hex'))),
  );
  return { hash, bytes };
}

/** Writes a stream into its place, whole or not at all. @throws Problem upload-too-large, empty-file, disk-full */
export async function saveStream(
  stream: Readable,
  uploadsFolder: string,
  place: string,
  limitBytes: number,
): Promise<void> {
  await received(
    stream,
    uploadsFolder,
    limitBytes,
    'the frame',
    () => {},
    (temporary) => renameSync(temporary, place),
  );
}

/** Receives a stream aside and hands the file on when it is whole; returns its size. */
async function received(
  stream: Readable,
  uploadsFolder: string,
  limitBytes: number,
  name: string,
  each: (chunk: Buffer) => void,
  done: (temporary: string) => void,
): Promise<number> {
  const temporary = join(uploadsFolder, `${process.pid}-${Date.now()}-${Math.random().toString(36).slice(2)}.part`);
  let bytes = 0;
  const meter = new Transform({
    transform(chunk: Buffer, _encoding, next) {
      bytes += chunk.length;
      if (bytes > limitBytes) return next(new Problem('upload-too-large', { limit: gigabytes(limitBytes) }));
      each(chunk);
      return next(null, chunk);
    },
  });
  try {
    await pipeline(stream, meter, createWriteStream(temporary));
    if (bytes === 0) throw new Problem('empty-file', { file: name });
    done(temporary);
    return bytes;
  } catch (error) {
    rmSync(temporary, { force: true });
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Problem('disk-full', {}, { cause: error });
    throw error;
  }
}

/** Takes over a file that came in whole: moved to its place by its hash. */
export async function adoptFile(file: string, mediaFolder: string, name: string): Promise<StoredFile> {
  const { size } = statSync(file);
  if (size === 0) throw new Problem('empty-file', { file: name });
  const hash = await hashFile(file);
  putInPlace(file, mediaFolder, hash);
  return { hash, bytes: size };
}

/** Copies a file of this machine in; where the disk can, the copy shares its blocks. */
export async function copyIn(
  file: string,
  uploadsFolder: string,
  mediaFolder: string,
  name: string,
): Promise<StoredFile> {
  const temporary = join(uploadsFolder, `${process.pid}-${Date.now()}-${Math.random().toString(36).slice(2)}.part`);
  try {
    await copyFile(file, temporary, constants.COPYFILE_FICLONE);
    return await adoptFile(temporary, mediaFolder, name);
  } catch (error) {
    rmSync(temporary, { force: true });
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Problem('disk-full', {}, { cause: error });
    throw error;
  }
}

function putInPlace(file: string, mediaFolder: string, hash: string): void {
  const place = storedPath(mediaFolder, hash);
  if (existsSync(place)) rmSync(file);
  else {
    mkdirSync(join(place, '..'), { recursive: true });
    renameSync(file, place);
  }
}

async function hashFile(file: string): Promise<string> {
  const hasher = createHash('sha256');
  await pipeline(createReadStream(file, { highWaterMark: 1 << 20 }), hasher);
  return hasher.digest('hex');
}

export function gigabytes(bytes: number): string {
  const size = bytes / 1e9;
  return size >= 10 ? `${Math.round(size)} GB` : `${size.toFixed(1)} GB`;
}
