import { afterAll, beforeAll, expect, test } from 'vitest';
import { CORNER_NAMES, type Quad } from '../../core/base/geometry/quad.ts';
import type { Job, Shot, ShotDetail, ShotDocument, SpliceReply, TrackRows } from '../../core/base/schemas/types.ts';
import type { Truth } from '../../demo/truth.ts';
import type { Api } from '../test/api.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 12;
const REFERENCE = 3;
let service: TestService, api: Api, shot: Shot, truth: Truth;
const corners = (frame: number, by = 0) =>
  truth.frames[frame]!.corners.map(([x, y]) => [x + by, y - by]) as unknown as Quad;

async function change(edit: (draft: ShotDocument) => void): Promise<void> {
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  edit(detail.document);
  await api.call('PUT', `/shots/${shot.id}/document`, { base: detail.shot.revision, document: detail.document });
}
async function track(): Promise<
  Map<number, { off: number; source: string | undefined; bounds: readonly number[] | undefined; note: string | null }>
> {
  const { rows } = await api.call<TrackRows>('GET', `/shots/${shot.id}/track`);
  const csv = (await api.bytes(`/shots/${shot.id}/export/corners-csv`)).toString();
  const off = new Map(
    csv
      .split('\n')
      .filter((l) => /^\d/.test(l))
      .map((l) => l.split(',').map(Number))
      .map(([frame, ...c]) => [
        frame!,
        Math.max(...corners(frame!).map(([x, y], i) => Math.hypot(c[2 * i]! - x, c[2 * i + 1]! - y))),
      ]),
  );
  return new Map(
    rows.map((r) => [r.frame, { off: off.get(r.frame) ?? NaN, source: r.source, bounds: r.bounds, note: r.note }]),
  );
}

beforeAll(async () => {
  service = await startTestService();
  api = service.api;
  ({ shot, truth } = await preparedShot(api, FRAMES, { reference: REFERENCE, checked: true }));
  await change((draft) => {
    draft.cornerPoints = CORNER_NAMES.map((name, i) => ({
      name,
      at: [...corners(REFERENCE)[i]!],
      pattern: [31, 31],
      search: [81, 81],
    }));
  });
});
afterAll(() => service.end());

test('followed on a picture that another track steadies, the track is that of the plate, within a tenth of a pixel of one followed directly', async () => {
  const handedOn = async () =>
    (await api.bytes(`/shots/${shot.id}/export/corners-csv`))
      .toString()
      .split('\n')
      .filter((l) => /^\d/.test(l))
      .map((l) => l.split(',').map(Number));
  await change((draft) => {
    delete draft.spans;
    delete draft.handKeys;
  });
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  const direct = await handedOn();
  const second = await api.call<Shot>('POST', `/shots/${shot.id}/duplicate`, { name: 'As it was' });
  await api.ended((await api.call<Job>('POST', `/shots/${second.id}/follow`, { direction: 'both' })).id);
  await change((draft) => (draft.steady = { remove: ['position', 'rotation', 'scale'], follow: true }));
  expect((await api.request('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).body).toMatchObject({
    code: 'steady-by-itself',
  });
  await change((draft) => (draft.steady!.by = second.id));
  await api.call('POST', `/shots/${shot.id}/track/clear`, { frames: [0, FRAMES - 1] });
  expect(
    await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id),
  ).toMatchObject({ state: 'done' });
  const found = await handedOn();
  expect(found).toHaveLength(FRAMES);
  found.forEach((row, i) => row.slice(1).forEach((v, k) => expect(Math.abs(v - direct[i]![k + 1]!)).toBeLessThan(0.1)));
  expect(found.flat().some((v, i) => v !== direct.flat()[i])).toBe(true);
  await change((draft) => {
    delete draft.steady;
    draft.handKeys = [0, 6, 11].map((frame) => ({ frame, corners: corners(frame).map((p) => [...p]) as never }));
  });
});

test('a span may take its motion from another shot of the plate, whose reference need not be known here', async () => {
  const plate = (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.plate!;
  const second = await api.call<Shot>('POST', `/projects/${shot.projectId}/shots`, { name: 'Second part' });
  await api.call('PUT', `/shots/${second.id}/plate`, { mediaId: plate.id });
  const detail = await api.call<ShotDetail>('GET', `/shots/${second.id}`);
  const at = corners(9);
  const grown = at.map(([x, y]) => [x, y] as [number, number]);
  await api.call('PUT', `/shots/${second.id}/document`, {
    base: detail.shot.revision,
    document: { ...detail.document, referenceFrame: 9, regions: [{ points: grown }], corners: at },
  });
  await api.ended(
    (await api.call<Job>('POST', `/shots/${second.id}/follow`, { direction: 'both', frames: [7, 11] })).id,
  );
  await change((draft) => {
    draft.fade = 0;
    draft.handKeys = [0, 6, 8, 11].map((frame) => ({ frame, corners: corners(frame).map((p) => [...p]) as never }));
    draft.spans = [
      { from: 0, to: 7, source: 'keys' },
      { from: 8, to: 11, source: 'shot', shot: second.id },
    ];
  });
  const found = await track();
  const { joins } = await api.call<SpliceReply>('GET', `/shots/${shot.id}/joins`);
  expect(joins).toEqual([{ frame: 8, jump: expect.any(Number) as unknown, fade: null }]);
  expect(joins[0]!.jump!).toBeLessThan(1);
  expect(found.get(10)).toMatchObject({ source: 'shot' });
  expect(found.get(10)!.off).toBeLessThan(0.3);
  expect(Math.max(...found.get(10)!.bounds!)).toBeLessThan(1);
});
