import { afterAll, beforeAll, expect, test } from 'vitest';
import { applyToPoints } from '../../core/base/geometry/homography.ts';
import { distance } from '../../core/base/geometry/quad.ts';
import type {
  Job,
  Lens,
  LensFromLines,
  LensOffer,
  Shot,
  ShotDetail,
  ShotDocument,
  TrackRows,
} from '../../core/base/schemas/types.ts';
import type { Api } from '../test/api.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

let service: TestService, api: Api;
beforeAll(async () => {
  service = await startTestService();
  api = service.api;
});
afterAll(() => service.end());

/** The wide tablet half as large, every third frame; its lens is the generator's. */
const EVERY = 3;
const FRAMES = 16;
const LENS: Lens = { k1: -0.03 / ((240 / 260) ** 2 + (135 / 260) ** 2), k2: 0, k3: 0, centre: [240, 135], focal: 260 };

test('a shot with a lens is followed without it and told of the plate as filmed; others may take the lens; bad ones are refused', async () => {
  const { shot, project, document, truth } = await preparedShot(api, FRAMES, {
    reference: 0,
    filter: `select=not(mod(n\\,${EVERY})),setpts=N/25/TB`,
    clip: 'wide-tablet',
    points: null,
  });
  const corners = document.corners!;
  const detail = () => api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const rowsOf = async () => (await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`)).rows;
  const save = async (next: ShotDocument) =>
    api.request('PUT', `/shots/${shot.id}/document`, { base: (await detail()).shot.revision, document: next });
  const follow = async () =>
    expect(
      await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id),
    ).toMatchObject({ state: 'done' });
  const off = async () => {
    const away = (await rowsOf())
      .filter((row) => row.frame >= FRAMES - 5)
      .flatMap((row) =>
        applyToPoints(row.homography!, corners).map((p, i) =>
          distance(p, truth.frames[EVERY * row.frame]!.corners[i]!),
        ),
      );
    return away.reduce((a, b) => a + b, 0) / away.length;
  };
  // The region a person would draw lies on the device.
  await save({ ...document, regions: [{ points: truth.region }] });
  await follow();
  // What its borders tell of the lens, in their own unit: a corner of the picture moved as the generator moves it, to a px.
  const told = await api.call<LensFromLines>('POST', `/shots/${shot.id}/lens`);
  const corner = Math.hypot(240, 135);
  const moved = ({ k1, focal }: Pick<Lens, 'k1' | 'focal'>) => k1 * (corner / focal) ** 2 * corner;
  expect(told.lines).toBeGreaterThan(30);
  expect(Math.abs(moved(told.lens!) - moved(LENS))).toBeLessThan(2);
  expect(told.rms).toBeLessThanOrEqual(told.before);
  const without = await off();
  const before = (await rowsOf())[3]!.runKey;
  expect((await save({ ...(await detail()).document, lens: LENS })).status).toBe(200);
  // What was followed without it is no answer any more.
  expect((await detail()).runKey).not.toBe(before);
  await follow();
  expect(await off()).toBeLessThan(0.2);
  expect(without).toBeGreaterThan(1.5 * (await off()));
  expect((await rowsOf())[0]!.homography!.map((v) => Math.abs(Number(v.toFixed(6))))).toEqual([
    1, 0, 0, 0, 1, 0, 0, 0, 1,
  ]);

  const other = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Another' });
  expect(await api.call<LensOffer[]>('GET', `/shots/${other.id}/lenses`)).toEqual([]);
  await api.call('PUT', `/shots/${other.id}/plate`, { mediaId: (await detail()).shot.plate!.id });
  expect(await api.call<LensOffer[]>('GET', `/shots/${other.id}/lenses`)).toEqual([
    { shotId: shot.id, shot: 'Orders laptop', lens: LENS },
  ]);
  expect(await api.call<LensOffer[]>('GET', `/shots/${shot.id}/lenses`)).toEqual([]);

  // Drawn lines tell it where there are no corners; too few tell nothing, and neither do no lines at all.
  expect((await api.request('POST', `/shots/${other.id}/lens`)).body).toMatchObject({ code: 'no-corners' });
  const empty = await api.call<ShotDetail>('GET', `/shots/${other.id}`);
  const bent = (y: number) =>
    Array.from({ length: 9 }, (_, i): [number, number] => [
      30 + 52 * i,
      y + (y < 135 ? -1 : 1) * -4 * (1 - ((i - 4) / 4) ** 2),
    ]);
  const draw = async (revision: number, lines: [number, number][][]) => {
    expect(
      (
        await api.request('PUT', `/shots/${other.id}/document`, {
          base: revision,
          document: { ...empty.document, straightLines: lines.map((points) => ({ frame: 0, points })) },
        })
      ).status,
    ).toBe(200);
    return api.call<LensFromLines>('POST', `/shots/${other.id}/lens`);
  };
  expect(await draw(empty.shot.revision, [bent(15).slice(0, 4)])).toMatchObject({ lens: null, lines: 1 });
  const drawn = await draw((await api.call<ShotDetail>('GET', `/shots/${other.id}`)).shot.revision, [
    bent(15),
    bent(255),
    bent(45),
  ]);
  expect(Math.abs(drawn.lens!.k1)).toBeGreaterThan(0.01);
  expect(drawn.rms).toBeLessThan(0.5 * drawn.before);
  const { document: now } = await detail();
  const folded = await save({ ...now, lens: { ...LENS, k1: -1.5 } });
  const inLook = await save({ ...now, look: { ...now.look, lens: LENS } });
  expect([folded.status, inLook.status]).toEqual([400, 400]);
  expect(JSON.stringify(folded.body)).toContain('folds over before its corners');
  expect(JSON.stringify(inLook.body)).toContain('beside the look');
}, 180_000);
