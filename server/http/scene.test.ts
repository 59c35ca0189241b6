import { afterAll, beforeAll, expect, test } from 'vitest';
import { cornerBound, unpackCertainty } from '../../core/motion/follow/certainty.ts';
import { applyToPoints } from '../../core/base/geometry/homography.ts';
import { distance } from '../../core/base/geometry/quad.ts';
import type { Job, SceneReply, ShotDetail, ShotDocument, TrackRows } from '../../core/base/schemas/types.ts';
import type { Api } from '../test/api.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

let service: TestService, api: Api;
beforeAll(async () => {
  service = await startTestService();
  api = service.api;
});
afterAll(() => service.end());

/** Every third frame of the hall: the whole walk in a third of the time. */
const EVERY = 3;
const THIRD = `select=not(mod(n\\,${EVERY})),setpts=N/25/TB`;
const FRAMES = 24;
const REFERENCE = 12;

test('a wall screen that is off: the room is solved, the plane of its corners carried within its bounds, used as a span, moved by hand, and kept', async () => {
  const { shot, document, truth } = await preparedShot(api, FRAMES, {
    reference: REFERENCE,
    filter: THIRD,
    clip: 'wall-screen',
    size: 'full',
  });
  const true3 = (frame: number) => truth.frames[EVERY * frame]!.corners;
  const corners = true3(REFERENCE) as unknown as NonNullable<ShotDocument['corners']>;
  expect(await api.call<SceneReply>('GET', `/shots/${shot.id}/scene`)).toEqual({
    scene: null,
    plane: null,
    current: false,
    changed: 0,
  });
  let revision = (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.revision;
  const save = async (change: Partial<ShotDocument>) => {
    const { document: now } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
    revision = (
      await api.call<{ revision: number }>('PUT', `/shots/${shot.id}/document`, {
        base: revision,
        document: { ...now, ...change },
      })
    ).revision;
  };
  await save({ ...document, corners, regions: [], proportions: [16, 9] });
  expect(await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/scene`)).id)).toMatchObject({
    kind: 'scene',
    state: 'done',
    problem: null,
  });
  const solved = await api.call<SceneReply>('GET', `/shots/${shot.id}/scene`);
  expect(solved).toMatchObject({
    current: true,
    scene: { motion: 'walks', zooms: false },
    plane: { frame: REFERENCE },
  });
  expect(solved.scene!.frames).toHaveLength(FRAMES);
  expect(solved.scene!.points.length).toBeGreaterThan(100);
  // It moves the surface where a span says so.
  expect((await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`)).rows).toEqual([]);
  await save({ spans: [{ from: 0, to: FRAMES - 1, source: 'scene' }] });
  const { rows } = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
  const offs: number[] = [];
  let within = 0;
  for (const row of rows) {
    const at = applyToPoints(row.homography!, corners).map((p, i) => distance(p, true3(row.frame)[i]!));
    const certainty = row.certainty && unpackCertainty(row.certainty);
    offs.push(Math.max(...at));
    if (certainty && at.every((d, i) => d <= cornerBound(certainty, row.homography!, corners[i]!))) within++;
  }
  expect(rows).toHaveLength(FRAMES);
  expect(Math.max(...offs)).toBeLessThan(1.5);
  expect(offs.reduce((a, b) => a + b, 0) / FRAMES).toBeLessThan(0.7);
  expect(within / (FRAMES - 1)).toBeGreaterThan(0.6);
  // Its glTF holds the room: points, the surface in the unit of its proportions, and the camera.
  const gltf = JSON.parse((await api.bytes(`/shots/${shot.id}/export/gltf`)).toString()) as {
    nodes: { name: string }[];
    cameras: { extras: { focalLength: string } }[];
  };
  expect(gltf.nodes.map((node) => node.name)).toEqual(expect.arrayContaining(['camera', 'surface', 'points']));
  expect(gltf.cameras[0]!.extras.focalLength).toBe('solved from the room');
  // The same question is not solved again; another one makes what is there out of date, and it stands until it is asked.
  await save({ scene: { removed: [{ frame: 3, at: [200, 200] }] } });
  expect(await api.call<SceneReply>('GET', `/shots/${shot.id}/scene`)).toMatchObject({
    current: false,
    scene: { motion: 'walks' },
  });
  await save({ scene: { normal: solved.plane!.normal.map((v) => 1.02 * v) } });
  const moved = (await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`)).rows;
  expect(
    distance(applyToPoints(moved[0]!.homography!, corners)[0], applyToPoints(rows[0]!.homography!, corners)[0]),
  ).toBeGreaterThan(0.5);
  expect((await api.request('POST', `/shots/${shot.id}/scene`)).status).toBe(200);
}, 240_000);

test('too little to see, and no plate: a sentence, and what was there stays', async () => {
  const { shot } = await preparedShot(api, 5, { reference: 2, filter: 'drawbox=color=gray:t=fill' });
  const job = await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/scene`)).id);
  expect(job).toMatchObject({
    state: 'failed',
    problem: expect.stringContaining('at least eight are needed') as unknown,
  });
  expect((await api.request('POST', '/shots/99999/scene')).status).toBe(404);
}, 120_000);
