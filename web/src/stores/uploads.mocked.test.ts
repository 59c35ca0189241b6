// @vitest-environment happy-dom
import { beforeEach, expect, test, vi } from 'vitest';
import type { UploadReply } from '../../../core/base/schemas/types.ts';
import type { UploadTask } from '../api/upload.ts';
import { settled } from '../test/mount-panel.ts';
import { job, openShot, type Given } from '../test/open-shot.ts';
import { PLATE, SHOT } from '../test/shot-parts.ts';
import { useJobs } from './jobs.ts';
import type { KeptUpload } from './kept-uploads.ts';
import { useNotices } from './notices.ts';
import { useUploads } from './uploads.ts';

const kept = vi.hoisted(() => ({ list: [] as (KeptUpload & { file: Blob | null })[] }));
const transfer = vi.hoisted(() => ({ send: null as unknown as (task: UploadTask) => Promise<UploadReply> }));
vi.mock('./kept-uploads.ts', () => ({
  keepUpload: async (upload: KeptUpload, file: Blob) => {
    kept.list = [...kept.list.filter((one) => one.key !== upload.key), { ...upload, file }];
  },
  dropUpload: async (key: string) => {
    kept.list = kept.list.filter((one) => one.key !== key);
  },
  keptUploads: async () => kept.list,
}));
vi.mock('../api/upload.ts', () => ({ sendFile: (task: UploadTask) => transfer.send(task) }));

const CONTENT = { ...PLATE, id: 20, name: 'orders.mp4' };
const REPLY: UploadReply = { media: CONTENT, job: job({ id: 40, kind: 'bring-in', mediaId: 20 }) };
const HELD = '/projects/1/media/held';
const file = () => new File(['clip'], 'orders.mp4');

beforeEach(() => {
  kept.list = [];
  transfer.send = async () => REPLY;
});
async function uploads(given: Given = {}) {
  const opened = await openShot({
    ...given,
    answers: {
      'GET /limits': { uploadBytes: 1e9, serverFolder: true },
      [`POST ${HELD}`]: { maybe: false, taken: null },
      [`PUT /shots/${SHOT.id}/plate`]: SHOT,
      ...given.answers,
    },
  });
  return { ...opened, uploads: useUploads() };
}

test('a file goes up with its rate, then its job is known and the project’s media are asked for anew', async () => {
  const { uploads: up, api } = await uploads();
  transfer.send = async (task) => {
    task.onStarted('/api/v1/uploads/abc');
    task.onProgress(1, 4);
    expect(up.uploads).toMatchObject([{ name: 'orders.mp4', sent: 1, size: 4 }]);
    expect(kept.list).toMatchObject([{ name: 'orders.mp4', projectId: 1, shotId: null }]);
    task.onProgress(4, 4);
    expect(up.uploads[0]!.words).toBe('being checked');
    return REPLY;
  };
  const before = api.asked('GET', '/projects/1/media').length;
  expect((await up.send('orders.mp4', file()))!.id).toBe(20);
  expect(up.uploads).toEqual([]);
  expect(kept.list).toEqual([]);
  expect(useJobs().jobs.get(40)!.kind).toBe('bring-in');
  expect(api.asked('GET', '/projects/1/media')).toHaveLength(before + 1);
});

test('as a plate it becomes the shot’s', async () => {
  const { uploads: up, api } = await uploads({ plate: null });
  await up.send('orders.mp4', file(), true);
  expect(api.last('PUT', `/shots/${SHOT.id}/plate`)).toEqual({ mediaId: 20 });
});

test('cancelled it is forgotten without a word', async () => {
  const { uploads: up } = await uploads();
  transfer.send = ({ signal }) =>
    new Promise((_, reject) => signal.addEventListener('abort', () => reject(new DOMException('gone', 'AbortError'))));
  const sent = up.send('orders.mp4', file());
  await settled();
  up.uploads[0]!.cancel();
  expect(await sent).toBeUndefined();
  expect(up.uploads).toEqual([]);
  expect(useNotices().notices).toEqual([]);
});

test('what fails says why', async () => {
  const { uploads: up } = await uploads();
  transfer.send = async () => {
    throw new Error('The disk is full. Make room.');
  };
  expect(await up.send('orders.mp4', file())).toBeUndefined();
  expect(useNotices().notices[0]!.text).toBe('The disk is full. Make room.');
});

test('a file of a size that is here already is not sent when it is the same', async () => {
  const { uploads: up, api } = await uploads({
    answers: {
      [`POST ${HELD}`]: ({ hash }: { hash?: string }) =>
        hash ? { maybe: true, taken: REPLY } : { maybe: true, taken: null },
    },
  });
  const send = vi.fn(transfer.send);
  transfer.send = send;
  expect((await up.send('orders.mp4', file()))!.id).toBe(20);
  expect(send).not.toHaveBeenCalled();
  expect(api.asked('POST', HELD)).toHaveLength(2);
});

test('after a reload: a file that the browser still has goes on by itself, another waits to be chosen again', async () => {
  const { uploads: up } = await uploads();
  const started = vi.fn((_: UploadTask) => new Promise<UploadReply>(() => {}));
  transfer.send = started;
  const upload = { key: 'a', projectId: 1, shotId: null, name: 'orders.mp4', size: 4, url: '/api/v1/uploads/abc' };
  kept.list = [
    { ...upload, file: file() },
    { ...upload, key: 'b', name: 'lost.mp4', file: null },
    { ...upload, key: 'c', projectId: 7, file: file() },
  ];
  await up.resumeKept(1);
  await settled();
  expect(started.mock.calls.map(([task]) => [task.name, task.url])).toEqual([['orders.mp4', '/api/v1/uploads/abc']]);
  const waits = up.uploads.find((one) => one.name === 'lost.mp4')!;
  expect(waits).toMatchObject({ wantsFile: true, words: 'choose the file again to go on' });
  transfer.send = async (task) => {
    expect(task.url).toBe('/api/v1/uploads/abc');
    return REPLY;
  };
  await up.send('lost.mp4', file());
  expect(up.uploads.map((one) => one.name)).toEqual(['orders.mp4']);
  up.uploads.length = 0;
});

test('a folder of the server’s own machine is taken by its path; what cannot be is answered', async () => {
  const { uploads: up, api } = await uploads({ answers: { 'POST /projects/1/media/from-server': REPLY } });
  expect((await up.takeFromServer('day-1/orders.mp4'))!.id).toBe(20);
  expect(api.last('POST', '/projects/1/media/from-server')).toEqual({ path: 'day-1/orders.mp4' });
});
