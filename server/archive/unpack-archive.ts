import { Unzip, UnzipInflate } from 'fflate';
import { createHash, type Hash } from 'node:crypto';
import { closeSync, createReadStream, createWriteStream, mkdirSync, openSync, statSync, writeSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { openPromise } from 'yauzl';
import { Problem } from '../../core/base/problem/problem.ts';

/** Names of parts that are taken out; nothing else of a zip ever becomes a file. */
const KNOWN = /^(manifest\.json|project\.json|shots\/\d{1,15}\.json|(media|finished)\/[0-9a-f]{64}(\.png|\.exr)?)$/;
/** Texts are held in memory later on; more than this is none of ours. */
const MOST_TEXT = 512 << 20;
/** Files of media hardly shrink in a zip; what grows more than this is a trap. */
const MOST_GROWTH = 200;
const SMALL_BYTES = 16 << 20;

/**
 * Takes the known parts of a zip out into a folder; the checksum of each that came out to its end. By its directory, so that damage to one part costs
 * no other; where its end is missing, from its beginning on for as long as it can be read. @throws Problem disk-full
 */
export async function unpackArchive(file: string, folder: string): Promise<Map<string, string>> {
  const room = { left: MOST_GROWTH * statSync(file).size + SMALL_BYTES };
  return (await byDirectory(file, folder, room)) ?? fromBeginning(file, folder, room);
}

/** Bytes that may still come out. */
interface Room {
  left: number;
}

const trap = () => new Problem('archive-unreadable', { why: 'it unpacks to far more than it holds' });

/** Null where the directory at its end cannot be read. */
async function byDirectory(file: string, folder: string, room: Room): Promise<Map<string, string> | null> {
  const sums = new Map<string, string>();
  try {
    const zip = await openPromise(file, { autoClose: false });
    try {
      for await (const entry of zip.eachEntry()) {
        const name = entry.fileName;
        const hash = createHash('sha256');
        if (!KNOWN.test(name) || sums.has(name) || (name.endsWith('.json') && entry.uncompressedSize > MOST_TEXT))
          continue;
        mkdirSync(dirname(join(folder, name)), { recursive: true });
        try {
          const hashed = new Transform({
            transform(chunk: Buffer, _encoding, done) {
              hash.update(chunk);
              room.left -= chunk.length;
              done(room.left < 0 ? trap() : null, chunk);
            },
          });
          await pipeline(await zip.openReadStreamPromise(entry), hashed, createWriteStream(join(folder, name)));
          sums.set(name, hash.digest('hex'));
        } catch (error) {
          if (error instanceof Problem) throw error;
          if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Problem('disk-full', {}, { cause: error });
          // This part is damaged; the others may be whole.
        }
      }
    } finally {
      zip.close();
    }
    return sums;
  } catch (error) {
    if (error instanceof Problem) throw error;
    return sums.size > 0 ? sums : null;
  }
}

/** Takes known parts out of a zip from its beginning on, for as long as it can be read; the checksum of each that came out to its end. */
async function fromBeginning(file: string, folder: string, room: Room): Promise<Map<string, string>> {
  const sums = new Map<string, string>();
  const open = new Map<string, { handle: number; hash: Hash; bytes: number }>();
  let stopped = false;
  const unzip = new Unzip((entry) => {
    const { name } = entry;
    if (!KNOWN.test(name) || sums.has(name) || open.has(name)) return;
    mkdirSync(dirname(join(folder, name)), { recursive: true });
    const part = { handle: openSync(join(folder, name), 'w'), hash: createHash('sha256'), bytes: 0 };
    open.set(name, part);
    entry.ondata = (error, chunk, final) => {
      if (!open.has(name)) return;
      if (!error && chunk) {
        writeSync(part.handle, chunk);
        part.hash.update(chunk);
        part.bytes += chunk.length;
        room.left -= chunk.length;
        if (room.left < 0) throw trap();
      }
      const tooMuch = name.endsWith('.json') && part.bytes > MOST_TEXT;
      if (!final && !error && !tooMuch) return;
      closeSync(part.handle);
      open.delete(name);
      if (!error && !tooMuch) sums.set(name, part.hash.digest('hex'));
    };
    entry.start();
  });
  unzip.register(UnzipInflate);
  try {
    for await (const chunk of createReadStream(file, { highWaterMark: 1 << 20 })) {
      try {
        unzip.push(chunk as Buffer);
      } catch (error) {
        if (error instanceof Problem) throw error;
        // What comes after a place that cannot be read is lost with it; what came before is not.
        stopped = true;
        break;
      }
    }
    if (!stopped) unzip.push(new Uint8Array(0), true);
  } catch (error) {
    if (error instanceof Problem) throw error;
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Problem('disk-full', {}, { cause: error });
    // Its end is missing: what came out whole stands.
  } finally {
    for (const { handle } of open.values()) closeSync(handle);
  }
  return sums;
}
