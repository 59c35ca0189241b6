import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ImportReply, Job, Shot, ShotDetail, TrackRows } from '../../core/base/schemas/types.ts';
import { applyToPoint } from '../../core/base/geometry/homography.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 4;
let service: TestService, shot: Shot;

beforeAll(async () => {
  service = await startTestService();
  ({ shot } = await preparedShot(service.api, FRAMES));
  await service.api.ended((await service.api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
}, 120_000);
afterAll(() => service.end());

const text = async (format: string, query = '') =>
  (await service.api.bytes(`/shots/${shot.id}/export/${format}${query}`)).toString();

test('every format is handed on, with its choices; archives hold a file a frame', async () => {
  for (const format of [
    'corners-csv',
    'corners-json',
    'corners-text',
    'homography-csv',
    'homography-json',
    'transform-csv',
    'transform-json',
    'css-html',
    'otio',
    'gltf',
  ])
    expect((await text(format)).length, format).toBeGreaterThan(100);
  expect(await text('corners-csv', '?y=up&decimals=2&frameBase=1&pixelCentre=integer&shutter=180,0')).toMatch(
    /the first frame of the plate is 1[^]*y up; the centre of the bottom-left pixel is at 0, 0[^]*shutter 180 degrees/,
  );
  const maps = unzipSync(new Uint8Array(await service.api.bytes(`/shots/${shot.id}/export/st-map?overscan=4`)));
  expect(Object.keys(maps)).toEqual([
    'orders-laptop.st.0000.exr',
    'orders-laptop.st.0001.exr',
    'orders-laptop.st.0002.exr',
    'orders-laptop.st.0003.exr',
  ]);
  for (const bytes of Object.values(maps)) expect(Buffer.from(bytes).readUInt32LE(0)).toBe(20000630);
  // A page must not run on our own address.
  const page = await fetch(`${service.address}/api/v1/shots/${shot.id}/export/css-html`);
  expect([page.headers.get('content-type'), page.headers.get('content-disposition')]).toEqual([
    'application/octet-stream',
    'attachment; filename=orders-laptop.html',
  ]);
});

test('on the steadied picture the corners stand still', async () => {
  const rows = (await text('corners-csv', '?picture=steadied'))
    .split('\n')
    .filter((line) => /^\d/.test(line))
    .map((line) => line.split(',').slice(1, 9).map(Number));
  expect(rows).toHaveLength(FRAMES);
  expect(Math.max(...rows.flatMap((row) => row.map((v, i) => Math.abs(v - rows[0]![i]!))))).toBeLessThan(0.01);
});

test('what is asked wrongly is a sentence', async () => {
  expect((await service.api.request('GET', `/shots/${shot.id}/export/corners-csv?order=spiral`)).body).toMatchObject({
    code: 'bad-field',
  });
  expect((await service.api.request('GET', `/shots/${shot.id}/export/corners-csv?colour=red`)).body).toMatchObject({
    code: 'bad-field',
  });
  expect((await service.api.request('GET', `/shots/${shot.id}/export/st-map?overscan=-2`)).body).toMatchObject({
    code: 'bad-field',
  });
  expect((await service.api.request('GET', `/shots/${shot.id}/export/shapes-svg`)).body).toMatchObject({
    code: 'no-shapes',
  });
  expect((await service.api.request('GET', `/shots/${shot.id}/export/everything`)).body).toMatchObject({
    code: 'not-found',
  });
});

test('corners of a file come in as a second shot, or in place of the track; faults are reported by line', async () => {
  const before = await service.api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
  const { document } = await service.api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const csv = `${await text('corners-csv')}9,1,2,3,4,5,6,7,8\nx\n`;
  const copied = await service.api.call<ImportReply>('POST', `/shots/${shot.id}/import`, { text: csv, copy: true });
  expect(copied).toMatchObject({
    frames: FRAMES,
    faults: [{ line: 11 }, { line: 12, why: 'the frame is "x", not a whole number' }],
  });
  expect(copied.shotId).not.toBe(shot.id);
  expect(await service.api.call('GET', `/shots/${shot.id}/track?after=0`)).toEqual(before);
  const { rows } = await service.api.call<TrackRows>('GET', `/shots/${copied.shotId}/track?after=0`);
  const home = (await service.api.call<ShotDetail>('GET', `/shots/${copied.shotId}`)).document.corners!;
  for (const { frame, homography } of rows) {
    const mine = before.rows.find((row) => row.frame === frame)!;
    document.corners!.forEach((corner, i) => {
      const [x, y] = applyToPoint(homography!, home[i]!);
      const [u, v] = applyToPoint(mine.homography!, corner);
      expect(Math.hypot(x - u, y - v)).toBeLessThan(1e-4);
    });
  }
  // What has been brought in is rendered as anything else.
  expect(
    (
      await service.api.ended(
        (await service.api.call<Job>('POST', `/shots/${copied.shotId}/render`, { frames: [0, 1], output: 'frames' }))
          .id,
      )
    ).state,
  ).toBe('done');
  const over = await service.api.call<ImportReply>('POST', `/shots/${shot.id}/import`, {
    text: await text('homography-json'),
  });
  expect(over).toMatchObject({ shotId: shot.id, frames: FRAMES, faults: [] });
  expect((await service.api.request('POST', `/shots/${shot.id}/import`, { text: 'what' })).body).toMatchObject({
    code: 'import-unreadable',
  });
  expect(
    (
      await service.api.request('POST', `/shots/${shot.id}/import`, {
        text: 'frame,a\nx,1\n',
        mapping: { frame: 0, corners: [1, 1, 1, 1, 1, 1, 1, 1] },
      })
    ).body,
  ).toMatchObject({ code: 'import-empty' });
  expect(
    (
      await service.api.request('POST', `/shots/${shot.id}/import`, {
        text: (await text('corners-csv'))
          .split('\n')
          .filter((l) => !l.startsWith(`${document.referenceFrame},`))
          .join('\n'),
      })
    ).body,
  ).toMatchObject({ code: 'import-reference' });
});
