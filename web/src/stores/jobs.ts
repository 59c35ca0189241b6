import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { checked } from '../../../core/base/schemas/check.ts';
import type { Job } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { EVENTS_URL } from '../api/urls.ts';

/** All jobs heard of, kept current by server-sent events. */
export const useJobs = defineStore('jobs', () => {
  const jobs = shallowRef(new Map<number, Job>());
  const connected = ref(false);
  const listeners = new Set<(job: Job) => void>();
  let source: EventSource | null = null;

  function take(job: Job): void {
    jobs.value = new Map(jobs.value).set(job.id, job);
    for (const listener of listeners) listener(job);
  }
  function connect(): void {
    if (source) return;
    source = new EventSource(EVENTS_URL);
    source.addEventListener('ready', () => {
      connected.value = true;
      // What changed while nobody listened: ask for jobs that were still open.
      for (const job of jobs.value.values())
        if (isOpen(job)) void call('GET', `/jobs/${job.id}`, 'apiJob').then(take, () => {});
    });
    source.addEventListener('job', (event) =>
      take(checked('apiJob', JSON.parse((event as MessageEvent<string>).data), 'a job event')),
    );
    source.onerror = () => {
      connected.value = false;
    };
  }
  function onJob(listener: (job: Job) => void): () => void {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }
  async function loadForShot(shotId: number): Promise<void> {
    for (const job of (await call('GET', `/shots/${shotId}/jobs`, 'jobs')).reverse()) take(job);
  }
  async function stop(id: number): Promise<void> {
    take(await call('POST', `/jobs/${id}/stop`, 'apiJob'));
  }
  const open = computed(() => [...jobs.value.values()].filter(isOpen));
  return { jobs, open, connected, take, connect, onJob, loadForShot, stop };
});

export function isOpen(job: Job): boolean {
  return job.state === 'queued' || job.state === 'running';
}
