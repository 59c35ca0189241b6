import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { cornerBound, unpackCertainty } from '../../core/motion/follow/certainty.ts';
import { applyToPoint } from '../../core/base/geometry/homography.ts';
import type { Job, Shot, ShotDetail, ShotDocument, TrackRows } from '../../core/base/schemas/types.ts';
import type { Api } from '../test/api.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

let service: TestService;
let api: Api;
beforeAll(async () => {
  service = await startTestService();
  api = service.api;
});
afterAll(() => service.end());

test('a second surface rides on a track, from a reference frame of its own, to its true places', async () => {
  const { shot, project, truth } = await preparedShot(api, 6, { reference: 1 });
  const rider = await api.call<Shot>('POST', `/shots/${shot.id}/duplicate`, { name: 'Window on the screen' });
  const { document } = await api.call<ShotDetail>('GET', `/shots/${rider.id}`);
  expect(await api.call<Shot[]>('GET', `/shots/${rider.id}/ridable`)).toMatchObject([{ id: shot.id }]);
  // It is seen on frame 4, where its corners are those of the truth.
  const corners = truth.frames[4]!.corners as unknown as NonNullable<ShotDocument['corners']>;
  const riding = { ...document, referenceFrame: 4, corners, regions: [], rides: shot.id };
  await api.call('PUT', `/shots/${rider.id}/document`, { base: 1, document: riding });
  // Nothing to ride on yet; then the track is made, and the rider goes with it without a run of its own.
  expect((await api.call<TrackRows>('GET', `/shots/${rider.id}/track?after=0`)).rows).toEqual([]);
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  // What disagreed is kept beside the rows; the reference has nothing to disagree with.
  expect(await api.call('GET', `/shots/${shot.id}/disagreement?frames=0-5`)).toMatchObject({
    frames: 5,
    mean: { cells: expect.stringMatching(/^[0-9.]{300,}$/) as unknown },
  });
  expect(await api.call('GET', `/shots/${shot.id}/disagreement?frames=1-1`)).toEqual({ frames: 0, mean: null });
  expect((await api.request('GET', `/shots/${shot.id}/disagreement?frames=5`)).body).toMatchObject({
    code: 'bad-range',
  });
  const { rows } = await api.call<TrackRows>('GET', `/shots/${rider.id}/track?after=0`);
  expect(rows).toHaveLength(6);
  for (const row of rows) {
    const certainty = row.frame === 4 ? null : unpackCertainty(row.certainty!)!;
    corners.forEach((c, i) => {
      const [x, y] = applyToPoint(row.homography!, c);
      const [u, v] = truth.frames[row.frame]!.corners[i]!;
      const off = Math.hypot(x - u, y - v);
      expect(off, `frame ${row.frame}`).toBeLessThan(0.5);
      if (!certainty) return expect(off).toBeLessThan(1e-9);
      const bound = cornerBound(certainty, row.homography!, c);
      expect(bound).toBeGreaterThan(0.01);
      expect(bound).toBeLessThan(1);
    });
  }
  expect(
    (await api.bytes(`/shots/${rider.id}/export/corners-csv`))
      .toString()
      .split('\n')
      .filter((l) => /^\d/.test(l)),
  ).toHaveLength(6);
  const film = await api.call<Job>('POST', `/shots/${rider.id}/render`, { frames: [0, 0], output: 'png' });
  expect((await api.ended(film.id)).state).toBe('done');

  // What would leave it without motion, or go in a circle, is refused with a sentence.
  const refused = async (method: string, path: string, body?: unknown) => (await api.request(method, path, body)).body;
  expect(await refused('POST', `/shots/${rider.id}/follow`, { direction: 'both' })).toMatchObject({
    code: 'rides',
    message: 'This shot rides on the track of Orders laptop.',
  });
  expect(await refused('DELETE', `/shots/${shot.id}`)).toMatchObject({
    code: 'ridden',
    message: 'Orders laptop is ridden on by Window on the screen.',
  });
  const source = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const save = (rides: number) =>
    refused('PUT', `/shots/${shot.id}/document`, {
      base: source.shot.revision,
      document: { ...source.document, rides },
    });
  expect(await save(rider.id)).toMatchObject({
    code: 'bad-ride',
    message: expect.stringMatching(/rides on a third one/) as unknown,
  });
  expect(await save(shot.id)).toMatchObject({ message: expect.stringMatching(/this shot itself/) as unknown });
  const elsewhere = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'No plate' });
  expect(await save(elsewhere.id)).toMatchObject({ message: expect.stringMatching(/another plate/) as unknown });
  expect((await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.revision).toBe(source.shot.revision);

  // A trial without the plate's frames on the disk says so.
  await rm(join(service.dataFolder, 'frames'), { recursive: true, force: true });
  expect(await refused('POST', `/shots/${shot.id}/sampling`)).toMatchObject({ code: 'frame-gone' });
});
