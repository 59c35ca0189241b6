import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { Problem } from '../../core/problem/problem.ts';
import { findMedia, setMediaFailed, setMediaReady } from '../database/media.ts';
import { decodeFrames } from '../media/decode.ts';
import { FrameStore } from '../media/frame-store.ts';
import { proxyArguments } from '../media/proxies.ts';
import { probe } from '../media/probe.ts';
import { resolveSource, type MediaSource } from '../media/source.ts';
import { storedPath } from '../media/uploads.ts';
import { looksLikeZip, unzipPictures } from '../media/unzip.ts';
import type { JobContext } from './job-context.ts';

/** Endings by which stills are told from clips: stored uploads carry no name. */
const STILL = /\.(png|jpe?g|tiff?|webp|bmp|exr)$/i;

/** Decodes an uploaded file into its frame store. Frames that are there already are not written again. */
export async function bringIn(context: JobContext<'bring-in'>): Promise<void> {
  const { db, job } = context;
  const media = await findMedia(db, job.mediaId!);
  if (!media) throw new Problem('not-found', { thing: 'medium', id: job.mediaId! });
  try {
    const file = storedPath(context.folders.media, media.hash);
    const folder = join(context.folders.frames, String(media.id));
    const source = await sourceOf(file, media.name, folder);
    const facts = await named(media.name, probe(source));
    const store = new FrameStore(folder);
    let frame = 0;
    await context.progress(0, facts.frames);
    for await (const bytes of decodeFrames(source, facts, { alsoWrite: proxyArguments(facts, store.proxies) })) {
      if (!store.hasRaw(frame)) store.writeRaw(frame, bytes);
      frame++;
      await context.progress(frame, Math.max(frame, facts.frames));
    }
    rmSync(join(folder, 'source'), { recursive: true, force: true });
    await setMediaReady(db, media.id, source.kind, facts, frame);
  } catch (error) {
    if (error instanceof Problem) {
      const renamed = new Problem(error.code, 'file' in error.values ? { ...error.values, file: media.name } : error.values, { cause: error });
      await setMediaFailed(db, media.id, renamed.sentence);
      throw renamed;
    }
    throw error;
  }
}

async function sourceOf(file: string, name: string, folder: string): Promise<MediaSource> {
  if (!existsSync(file)) throw new Problem('file-missing', { file: name });
  if (looksLikeZip(file)) {
    const pictures = join(folder, 'source');
    rmSync(pictures, { recursive: true, force: true });
    await unzipPictures(file, pictures, name);
    return resolveSource(pictures);
  }
  return STILL.test(name) ? { kind: 'still', file } : { kind: 'clip', file };
}

/** Problems name the file as the person knows it. */
async function named<T>(name: string, work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof Problem && 'file' in error.values) throw new Problem(error.code, { ...error.values, file: name }, { cause: error });
    throw error;
  }
}
