import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type {
  GuestReview,
  Job,
  MadeReview,
  NewNoteRequest,
  ReviewNote,
  ReviewVersion,
  Shot,
} from '../../core/base/schemas/types.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 4;
let service: TestService, shot: Shot, versions: ReviewVersion[];

beforeAll(async () => {
  service = await startTestService();
  const { api } = service;
  ({ shot } = await preparedShot(api, FRAMES, { reference: 1 }));
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  const render = async (frames: [number, number]) =>
    api.ended((await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames, output: 'h264' })).id);
  expect((await render([0, FRAMES - 1])).state).toBe('done');
  expect((await render([1, 2])).state).toBe('done');
  versions = await api.call<ReviewVersion[]>('GET', `/shots/${shot.id}/versions`);
}, 120_000);
afterAll(() => service.end());

const share = (jobs: number[], days = 7) =>
  service.api.call<MadeReview>('POST', `/shots/${shot.id}/reviews`, { name: 'For the agency', days, versions: jobs });
const note = (jobId: number, frame: number, words = 'The corner is soft'): NewNoteRequest => ({
  jobId,
  frame,
  at: [0.25, 0.75],
  author: 'Ida',
  words,
});

test('whoever has the link sees those versions and no other, pins notes, and reads the answers that the shot gives', async () => {
  const { api } = service;
  const [second, first] = versions as [ReviewVersion, ReviewVersion];
  expect(versions).toMatchObject([
    { version: 2, frames: [1, 2] },
    { version: 1, frames: [0, 3] },
  ]);
  const { secret } = await share([second.jobId]);
  const path = `/guest/reviews/${secret}`;
  const seen = await api.call<GuestReview>('GET', path);
  expect(seen).toMatchObject({
    name: 'For the agency',
    shot: 'Orders laptop',
    width: 640,
    height: 360,
    versions: [{ jobId: second.jobId }],
    notes: [],
  });
  const jpeg = await api.bytes(`${path}/versions/${second.jobId}/frames/1.jpg`);
  expect(await sharp(jpeg).metadata()).toMatchObject({ format: 'jpeg', width: 640, height: 360 });
  expect(Buffer.compare(jpeg, await api.bytes(`/jobs/${second.jobId}/frames/1.jpg`))).toBe(0);
  // Outside its span, and of a version that is not under review.
  expect(await api.request('GET', `${path}/versions/${second.jobId}/frames/3.jpg`)).toMatchObject({
    status: 400,
    body: { code: 'frame-outside' },
  });
  expect(await api.request('GET', `${path}/versions/${first.jobId}/frames/1.jpg`)).toMatchObject({ status: 404 });
  expect(await api.request('POST', `${path}/notes`, note(first.jobId, 1))).toMatchObject({ status: 404 });
  expect(await api.request('POST', `${path}/notes`, note(second.jobId, 3))).toMatchObject({ status: 400 });
  expect(await api.request('POST', `${path}/notes`, { ...note(second.jobId, 1), at: [1.5, 0] })).toMatchObject({
    status: 400,
    body: { code: 'bad-field' },
  });
  expect(await api.request('POST', `${path}/notes`, { ...note(second.jobId, 1), words: ' ' })).toMatchObject({
    status: 400,
  });

  const [pinned] = (await api.call<GuestReview>('POST', `${path}/notes`, note(second.jobId, 2, 'Schärfer, bitte <b>')))
    .notes;
  expect(pinned).toMatchObject({
    jobId: second.jobId,
    version: 2,
    frame: 2,
    at: [0.25, 0.75],
    author: 'Ida',
    words: 'Schärfer, bitte <b>',
    settled: false,
    answers: [],
  });
  // In the shot: a note of the house on the other version, an answer, settled.
  expect(await api.call<ReviewNote[]>('POST', `/shots/${shot.id}/notes`, note(first.jobId, 0, 'Ours'))).toHaveLength(2);
  await api.call('POST', `/notes/${pinned!.id}/answers`, { author: 'Bea', words: 'Mended in v3' });
  await api.call('PUT', `/notes/${pinned!.id}/settled`, { settled: true });
  expect((await api.call<GuestReview>('GET', path)).notes).toMatchObject([
    { id: pinned!.id, settled: true, answers: [{ author: 'Bea', words: 'Mended in v3' }] },
  ]);
  await api.call('POST', `${path}/notes/${pinned!.id}/answers`, { author: 'Ida', words: 'Thanks' });
  const own = (await api.call<ReviewNote[]>('GET', `/shots/${shot.id}/notes`)).find((one) => one.words === 'Ours')!;
  expect(await api.request('POST', `${path}/notes/${own.id}/answers`, { author: 'Ida', words: 'Peek' })).toMatchObject({
    status: 404,
  });
  expect(
    (await api.call<ReviewNote[]>('GET', `/shots/${shot.id}/notes`)).map((one) => [one.frame, one.answers.length]),
  ).toEqual([
    [0, 0],
    [2, 2],
  ]);
});

test('links of a review run out and are withdrawn; only finished versions of the shot can be shown', async () => {
  const { api } = service;
  const { secret, review } = await share(versions.map((one) => one.jobId));
  const late = await share([versions[0]!.jobId], 1e-9);
  const status = async (one: string) => (await api.request('GET', `/guest/reviews/${one}`)).status;
  expect(await status(secret)).toBe(200);
  expect(await status(late.secret)).toBe(404);
  expect(await api.call('DELETE', `/reviews/${review.id}`)).toContainEqual(
    expect.objectContaining({ id: review.id, state: 'revoked' }),
  );
  expect(await api.request('GET', `/guest/reviews/${secret}`)).toMatchObject({
    status: 404,
    body: { code: 'link-gone', remedy: 'Ask whoever sent it for a new one.' },
  });
  expect(await api.request('POST', `/shots/${shot.id}/reviews`, { name: 'x', days: 1, versions: [] })).toMatchObject({
    status: 400,
  });
  expect(
    await api.request('POST', `/shots/${shot.id}/reviews`, { name: 'x', days: 1, versions: [99_999] }),
  ).toMatchObject({ status: 404 });
});
