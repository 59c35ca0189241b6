import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { Limits, Media, UploadReply } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { sendFile } from '../api/upload.ts';
import { hashFile } from '../media/hash-file.ts';
import { useJobs } from './jobs.ts';
import { dropUpload, keepUpload, keptUploads, type KeptUpload } from './kept-uploads.ts';
import { useNotices } from './notices.ts';
import { useShot } from './shot.ts';
import { byteWords, TransferRate, transferWords } from './transfer-rate.ts';

export interface Upload {
  key: string;
  name: string;
  sent: number;
  size: number;
  /** Rate and time left, or what it is waiting for. */
  words: string;
  /** The page was loaded anew and no longer has the file: choosing it again goes on. */
  wantsFile: boolean;
  cancel: () => void;
}

/** Files on their way to the server: several at once, going on after a reload or a restart of the server. */
export const useUploads = defineStore('uploads', () => {
  const notices = useNotices();
  const uploads = ref<Upload[]>([]);
  const limits = ref<Limits | null>(null);
  const waiting = new Map<string, KeptUpload>();
  let lookedForKept = false;

  async function loadLimits(): Promise<void> {
    limits.value ??= (await notices.guard(() => call('GET', '/limits', 'limits'))) ?? null;
  }

  /** Sends a file into the shot's project; the medium, or undefined when it failed or was cancelled. */
  async function send(name: string, file: Blob, asPlate = false): Promise<Media | undefined> {
    const shot = useShot();
    const projectId = shot.project?.id;
    if (projectId === undefined) return undefined;
    await loadLimits();
    if (file.size === 0) {
      notices.add(`${name} is empty (0 bytes). Copy or export it again.`);
      return undefined;
    }
    if (limits.value && file.size > limits.value.uploadBytes) {
      notices.add(
        `${name} has ${byteWords(file.size)}; the most that is taken is ${byteWords(limits.value.uploadBytes)}. Cut it to the part that is needed.`,
      );
      return undefined;
    }
    const again = [...waiting.values()].find(
      (w) => w.name === name && w.size === file.size && w.projectId === projectId,
    );
    if (again) waiting.delete(again.key);
    return through(
      {
        ...(again ?? { key: crypto.randomUUID(), url: null }),
        projectId,
        shotId: asPlate ? (shot.shot?.id ?? null) : null,
        name,
        size: file.size,
      },
      file,
    );
  }

  async function through(kept: KeptUpload, file: Blob): Promise<Media | undefined> {
    const cancel = new AbortController();
    const rate = new TransferRate();
    uploads.value = [
      ...uploads.value.filter((u) => u.key !== kept.key),
      {
        key: kept.key,
        name: kept.name,
        sent: 0,
        size: kept.size,
        words: '',
        wantsFile: false,
        cancel: () => cancel.abort(),
      },
    ];
    const change = (what: Partial<Upload>) => Object.assign(uploads.value.find((u) => u.key === kept.key) ?? {}, what);
    await keepUpload(kept, file);
    const done = await notices.guard(async (): Promise<UploadReply | null> => {
      const held = await takeHeld(kept, file, cancel.signal, () =>
        change({ words: 'looking whether it is here already' }),
      );
      if (held) return held;
      return sendFile({
        projectId: kept.projectId,
        name: kept.name,
        file,
        url: kept.url,
        signal: cancel.signal,
        onStarted: (url) => void keepUpload(Object.assign(kept, { url }), file),
        onProgress: (sent, total) => {
          rate.add(performance.now(), sent);
          change({ sent, words: sent >= total ? 'being checked' : transferWords(rate.perSecond, total - sent) });
        },
      });
    });
    uploads.value = uploads.value.filter((u) => u.key !== kept.key);
    await dropUpload(kept.key);
    if (!done) return undefined;
    useJobs().take(done.job);
    await afterwards(kept, done.media);
    return done.media;
  }

  async function afterwards(kept: KeptUpload, media: Media): Promise<void> {
    const shot = useShot();
    if (shot.project?.id !== kept.projectId) return;
    await notices.guard(async () => {
      await shot.refreshMedia();
      if (kept.shotId !== null && shot.shot?.id === kept.shotId) await shot.choosePlate(media.id);
    });
  }

  /** A file that is here already is taken at once; it is only read for that when one of its size is. */
  async function takeHeld(
    { projectId, name, size, url }: KeptUpload,
    file: Blob,
    signal: AbortSignal,
    onHashing: () => void,
  ): Promise<UploadReply | null> {
    if (url !== null) return null;
    const { maybe } = await call('POST', `/projects/${projectId}/media/held`, 'heldReply', { name, bytes: size });
    if (!maybe) return null;
    onHashing();
    const hash = await hashFile(file, signal);
    if (hash === null) throw new DOMException('cancelled', 'AbortError');
    return (await call('POST', `/projects/${projectId}/media/held`, 'heldReply', { name, bytes: size, hash })).taken;
  }

  /** Goes on with what an earlier page had begun for this project. */
  async function resumeKept(projectId: number): Promise<void> {
    if (lookedForKept) return;
    lookedForKept = true;
    for (const { file, ...kept } of await keptUploads()) {
      if (kept.projectId !== projectId) continue;
      if (file && (await isReadable(file))) void through(kept, file);
      else {
        waiting.set(kept.key, kept);
        uploads.value.push({
          key: kept.key,
          name: kept.name,
          sent: 0,
          size: kept.size,
          words: 'choose the file again to go on',
          wantsFile: true,
          cancel: () => void forget(kept.key),
        });
      }
    }
  }
  async function forget(key: string): Promise<void> {
    waiting.delete(key);
    uploads.value = uploads.value.filter((u) => u.key !== key);
    await dropUpload(key);
  }

  /** Takes a file or folder of the server's own machine. */
  async function takeFromServer(path: string): Promise<Media | undefined> {
    const shot = useShot();
    const projectId = shot.project?.id;
    if (projectId === undefined) return undefined;
    const done = await notices.guard(() =>
      call('POST', `/projects/${projectId}/media/from-server`, 'uploadReply', { path }),
    );
    if (!done) return undefined;
    useJobs().take(done.job);
    await shot.refreshMedia();
    return done.media;
  }
  return { uploads, limits, loadLimits, send, resumeKept, takeFromServer };
});

async function isReadable(file: Blob): Promise<boolean> {
  try {
    await file.slice(0, 1).arrayBuffer();
    return true;
  } catch {
    // A file that was moved or changed since: the browser no longer gives it.
    return false;
  }
}
