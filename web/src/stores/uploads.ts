import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { Media } from '../../../core/schemas/types.ts';
import { upload } from '../api/client.ts';
import { useJobs } from './jobs.ts';
import { useNotices } from './notices.ts';
import { useShot } from './shot.ts';

export interface Upload {
  id: number;
  name: string;
  share: number;
  cancel: () => void;
}

/** Files on their way to the server. */
export const useUploads = defineStore('uploads', () => {
  const notices = useNotices();
  const uploads = ref<Upload[]>([]);
  let next = 1;

  /** Sends a file into the shot's project; the medium, or undefined when it failed or was cancelled. */
  async function send(name: string, file: Blob): Promise<Media | undefined> {
    const shot = useShot();
    const projectId = shot.project?.id;
    if (projectId === undefined) return undefined;
    const id = next++;
    const cancel = new AbortController();
    uploads.value.push({ id, name, share: 0, cancel: () => cancel.abort() });
    const progress = (share: number) => {
      const entry = uploads.value.find((u) => u.id === id);
      if (entry) entry.share = share;
    };
    return notices.guard(async () => {
      const reply = await upload(projectId, name, file, progress, cancel.signal);
      useJobs().take(reply.job);
      await shot.refreshMedia();
      return reply.media;
    }).finally(() => (uploads.value = uploads.value.filter((u) => u.id !== id)));
  }
  return { uploads, send };
});
