// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, test, vi } from 'vitest';
import { settled } from '../test/mount-panel.ts';
import { job } from '../test/open-shot.ts';
import { TableApi } from '../test/table-api.ts';
import { useJobs } from './jobs.ts';

/** The service's events, sent by hand. */
class Events extends EventTarget {
  static last: Events;
  onerror: (() => void) | null = null;
  constructor(readonly url: string) {
    super();
    Events.last = this;
  }
  send(name: string, data?: unknown): void {
    this.dispatchEvent(new MessageEvent(name, { data: JSON.stringify(data) }));
  }
}
beforeEach(() => {
  setActivePinia(createPinia());
  vi.stubGlobal('EventSource', Events);
});

test('jobs are kept current by the service’s events; what is open is what waits or runs', () => {
  const jobs = useJobs();
  const heard: string[] = [];
  const stop = jobs.onJob((one) => heard.push(one.state));
  jobs.connect();
  Events.last.send('job', job({ id: 5, state: 'queued' }));
  Events.last.send('job', job({ id: 5, done: 2 }));
  expect(jobs.open.map((one) => [one.id, one.done])).toEqual([[5, 2]]);
  Events.last.send('job', job({ id: 5, state: 'done', done: 4 }));
  expect(jobs.open).toEqual([]);
  stop();
  Events.last.send('job', job({ id: 6 }));
  expect(heard).toEqual(['queued', 'running', 'done']);
});

test('after the line was cut, jobs that were open are asked for', async () => {
  const api = new TableApi({ 'GET /jobs/5': job({ id: 5, state: 'failed', problem: 'The picture is gone.' }) });
  const jobs = useJobs();
  jobs.connect();
  jobs.take(job({ id: 5 }));
  jobs.take(job({ id: 6, state: 'done' }));
  Events.last.onerror!();
  expect(jobs.connected).toBe(false);
  Events.last.send('ready');
  await settled();
  expect(jobs.connected).toBe(true);
  expect(api.calls.map((call) => call.path)).toEqual(['/jobs/5']);
  expect(jobs.jobs.get(5)!.problem).toBe('The picture is gone.');
});

test('an event that is no job is not taken for one', () => {
  const jobs = useJobs();
  jobs.connect();
  const heard = vi.fn();
  vi.stubGlobal('reportError', heard);
  const taken = () => Events.last.send('job', { id: 'x' });
  try {
    taken();
  } catch {
    // Some event targets throw what a listener throws.
  }
  expect(jobs.jobs.size).toBe(0);
});

test('stopping asks the service and shows what came of it', async () => {
  new TableApi({ 'POST /jobs/5/stop': job({ id: 5, state: 'stopped' }) });
  const jobs = useJobs();
  jobs.take(job({ id: 5 }));
  await jobs.stop(5);
  expect(jobs.jobs.get(5)!.state).toBe('stopped');
});
