import { afterAll, beforeAll, expect, test } from 'vitest';
import { stMapChannels } from '../../core/handoff/exchange/st-map.ts';
import { mapOfLens } from '../../core/motion/lens/lens-map.ts';
import type { Lens, LensFromBoards, LensFromMap, ShotDetail } from '../../core/base/schemas/types.ts';
import { exrFile } from '../media/exr-file.ts';
import { boardStills } from '../test/board-stills.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

let service: TestService;
beforeAll(async () => {
  service = await startTestService();
});
afterAll(() => service.end());

/** The wide tablet's own, half as large. */
const LENS: Lens = { k1: -0.03 / ((240 / 260) ** 2 + (135 / 260) ** 2), k2: 0, k3: 0, centre: [240, 135], focal: 260 };
const SIZE = { width: 480, height: 270 };

test('chessboards and ST maps of the project tell the plate’s lens; what cannot is refused in words', async () => {
  const { api } = service;
  const { shot, project } = await preparedShot(api, 2, { reference: 0, clip: 'wide-tablet' });
  const ids: number[] = [];
  const plate = (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.plate!.id;
  for (const [i, still] of (await boardStills(LENS, SIZE)).entries())
    ids.push((await api.bringIn(project.id, `board-${i}.png`, still)).media.id);
  const boards = await api.call<LensFromBoards>('POST', `/shots/${shot.id}/lens/boards`, { media: [...ids, plate] });
  // The tablet's plate shows none.
  expect(boards.views.map((view) => view.crossings > 20)).toEqual([true, true, true, true, true, false, false]);
  expect(Math.abs(boards.lens.focal / LENS.focal - 1)).toBeLessThan(0.003);
  expect(Math.abs(boards.lens.k1 - LENS.k1)).toBeLessThan(0.002);
  expect(boards.rms).toBeLessThan(0.1);

  const { s, t } = mapOfLens(LENS, SIZE, 'out');
  const exr = (
    await api.bringIn(
      project.id,
      'undistort.exr',
      exrFile(480, 270, stMapChannels({ ...SIZE, s, t, within: s.map(() => 1) }), 32),
    )
  ).media.id;
  const map = await api.call<LensFromMap>('POST', `/shots/${shot.id}/lens/map`, { media: exr, takes: 'out' });
  expect(map.worst).toBeLessThan(0.01);
  expect(map.lens.k1 * (LENS.focal / map.lens.focal) ** 2).toBeCloseTo(LENS.k1, 4);

  const other = await api.call<{ id: number }>('POST', '/projects', { name: 'Other' });
  const foreign = (await api.bringIn(other.id, 'b.png', (await boardStills(LENS, SIZE))[0]!)).media.id;
  const square = (
    await api.bringIn(project.id, 'square.png', (await boardStills(LENS, { width: 300, height: 300 }))[0]!)
  ).media.id;
  expect(await api.request('POST', `/shots/${shot.id}/lens/boards`, { media: [foreign] })).toMatchObject({
    status: 404,
  });
  expect(await api.request('POST', `/shots/${shot.id}/lens/boards`, { media: [square] })).toMatchObject({
    status: 400,
    body: { code: 'board-shape' },
  });
  expect(await api.request('POST', `/shots/${shot.id}/lens/boards`, { media: [plate] })).toMatchObject({
    status: 422,
    body: { code: 'no-board' },
  });
  expect(await api.request('POST', `/shots/${shot.id}/lens/map`, { media: square, takes: 'in' })).toMatchObject({
    status: 422,
    body: { code: 'lens-map-none' },
  });
}, 120_000);
