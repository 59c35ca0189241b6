import { existsSync, rmSync, statfsSync } from 'node:fs';
import { join } from 'node:path';
import { bytesPerFrame } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { clearCheck } from '../database/checks.ts';
import { transaction } from '../database/connection.ts';
import { insertJob } from '../database/jobs.ts';
import { findMedia, setMediaFailed, setMediaReady, viewOf, type StoredMedia } from '../database/media.ts';
import { decodeFrames } from '../media/decode.ts';
import { decodeKey, type MediaFacts } from '../media/facts.ts';
import { FrameStore, storeName } from '../media/frame-store.ts';
import { probe, refuseGaps } from '../media/probe.ts';
import { decoderMakesProxies, proxyArguments } from '../media/proxies.ts';
import { sniff } from '../media/sniff.ts';
import { resolveSource, type MediaSource } from '../media/source.ts';
import { unzipPictures } from '../media/unzip.ts';
import { gigabytes, storedPath } from '../media/uploads.ts';
import type { JobContext } from './job-context.ts';

/**
 * Reads what a stored file is and decodes it into its frame store; then queues the plate check. Frames that are
 * there already are not written again: a job that was broken off goes on, and a file that came in before is
 * ready at once.
 */
export async function bringIn(context: JobContext<'bring-in'>): Promise<void> {
  const { db, job } = context;
  const media = await findMedia(db, job.mediaId!);
  if (!media) throw new Problem('not-found', { thing: 'medium', id: job.mediaId! });
  const unpacked = join(context.folders.frames, `unpacked-${media.id}`);
  try {
    const source = await sourceOf(storedPath(context.folders.media, media.hash), media.name, unpacked);
    const facts = await probe(source, { corrections: media.corrections, keepAlpha: true });
    refuseGaps(source, facts);
    const name = storeName(media.hash, decodeKey(facts));
    const view = viewOf({ ...media, facts }, (hash) => storedPath(context.folders.media, hash));
    const store = new FrameStore(join(context.folders.frames, name), facts.layout, view);
    const { frames, complaint } = store.marker() ?? (await decodeInto(context, store, source, facts, media));
    if (complaint) facts.notes.push(`the decoder complained (${complaint}): some frames may be damaged`);
    await transaction(db, async (connection) => {
      await setMediaReady(connection, media.id, {
        kind: source.kind,
        facts,
        frames,
        store: name,
        frameBytes: frames * bytesPerFrame(facts.layout),
      });
      if (media.checked && media.store === name && media.frames === frames) return;
      await clearCheck(connection, media.id);
      if (source.kind !== 'still')
        await insertJob(connection, {
          kind: 'check',
          projectId: media.projectId,
          mediaId: media.id,
          params: {},
          total: frames,
        });
    });
  } catch (error) {
    if (error instanceof Problem) {
      // A disk that is full says nothing against the file: the job can be started again.
      const renamed = new Problem(
        error.code,
        'file' in error.values ? { ...error.values, file: media.name } : error.values,
        { cause: error },
      );
      await setMediaFailed(db, media.id, renamed.sentence, renamed.code);
      throw renamed;
    }
    throw error;
  } finally {
    rmSync(unpacked, { recursive: true, force: true });
  }
}

async function decodeInto(
  context: JobContext<'bring-in'>,
  store: FrameStore,
  source: MediaSource,
  facts: MediaFacts,
  media: StoredMedia,
) {
  checkRoom(context.folders.frames, facts, media.name);
  store.makeFolders();
  let frames = 0;
  let complaint: string | null = null;
  await context.progress(0, facts.frames);
  const alsoWrite = decoderMakesProxies(facts, media.lut !== null) ? proxyArguments(facts, store.proxies) : [];
  for await (const bytes of decodeFrames(source, facts, { alsoWrite, onComplaint: (words) => (complaint ??= words) })) {
    if (!store.hasRaw(frames)) store.writeRaw(frames, bytes);
    frames++;
    await context.progress(frames, Math.max(frames, facts.frames));
  }
  const marker = { frames, complaint };
  store.setWhole(marker);
  return marker;
}

/** Space that is left to the rest of the machine. */
const SPARE_BYTES = 1 << 28;

/** Refuses what will not fit before any of it is decoded. */
function checkRoom(folder: string, facts: MediaFacts, name: string): void {
  const { bavail, bsize } = statfsSync(folder);
  const needed = facts.frames * bytesPerFrame(facts.layout) + SPARE_BYTES;
  const free = bavail * bsize;
  if (needed > free) throw new Problem('no-room', { file: name, needed: gigabytes(needed), free: gigabytes(free) });
}

async function sourceOf(file: string, name: string, unpacked: string): Promise<MediaSource> {
  if (!existsSync(file)) throw new Problem('file-missing', { file: name });
  const sniffed = sniff(file, name);
  if (sniffed.kind === 'zip') {
    rmSync(unpacked, { recursive: true, force: true });
    await unzipPictures(file, unpacked, name);
    return resolveSource(unpacked);
  }
  return sniffed.kind === 'picture' ? { kind: 'still', file, format: sniffed.format } : { kind: 'clip', file };
}
