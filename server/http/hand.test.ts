import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { CORNER_NAMES, type Quad } from '../../core/base/geometry/quad.ts';
import type {
  Job,
  PlateCheck,
  PointJudgements,
  PointRows,
  PulledRows,
  Shot,
  ShotDetail,
  ShotDocument,
  TrackRows,
} from '../../core/base/schemas/types.ts';
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
const refusal = async (edit: (draft: ShotDocument) => void) => {
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  edit(detail.document);
  return (
    await api.request('PUT', `/shots/${shot.id}/document`, { base: detail.shot.revision, document: detail.document })
  ).body;
};
const points = () => api.call<PointRows>('GET', `/shots/${shot.id}/points`);
const run = async (request: object) => {
  const job = await api.call<Job>('POST', `/shots/${shot.id}/points`, request);
  expect(await api.ended(job.id)).toMatchObject({ kind: 'points', state: 'done' });
};
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

describe('corner points', () => {
  test('are judged before they are followed', async () => {
    const judged = await api.call<PointJudgements>('GET', `/shots/${shot.id}/points/hold`);
    expect(judged.map((j) => j.name)).toEqual([...CORNER_NAMES]);
    expect(judged.every((j) => j.hold === 'corner' && j.warning === null)).toBe(true);
  });
  test('are followed to a fraction of a pixel, and are asked for as they change', async () => {
    await run({ direction: 'both' });
    const { rows, after } = await points();
    expect(new Set(rows.map((r) => r.frame)).size).toBe(FRAMES - 1);
    for (const { name, frame, at, how, bound } of rows) {
      const [x, y] = corners(frame)[CORNER_NAMES.indexOf(name as never)]!;
      expect(how).toBe('matched');
      expect(Math.hypot(at![0] - x, at![1] - y)).toBeLessThan(0.5);
      expect(bound).toBeLessThan(1);
    }
    expect(await api.call('GET', `/shots/${shot.id}/points?after=${after}`)).toEqual({ after, rows: [] });
  });
  test('move the surface where a span says so; the same track, every frame with its source', async () => {
    await change((draft) => {
      draft.spans = [
        { from: 0, to: 5, source: 'points' },
        { from: 6, to: FRAMES - 1, source: 'hold' },
      ];
      draft.fade = 0;
    });
    const found = await track();
    for (const frame of [0, 2, 5])
      expect(found.get(frame)).toMatchObject({ source: 'points', off: expect.any(Number) as unknown });
    expect(found.get(5)!.off).toBeLessThan(0.5);
    expect(found.get(11)).toMatchObject({ source: 'hold', note: 'held as on the frame before' });
    expect(found.get(11)!.off).toBeGreaterThan(0.5);
  });
  test('a hole is not used until it is taken back; what is put by hand counts at once', async () => {
    await change((draft) => {
      draft.spans = [{ from: 0, to: FRAMES - 1, source: 'points' }];
      draft.cornerPoints![1]!.holes = [[8, 11]];
      draft.cornerPoints![1]!.keys = [{ frame: 9, at: [corners(9)[1][0] + 4, corners(9)[1][1]] }];
    });
    const { rows } = await api.call<TrackRows>('GET', `/shots/${shot.id}/track`);
    expect(rows.find((r) => r.frame === 8)).toMatchObject({
      homography: null,
      lost: expect.stringMatching(/\w/) as unknown,
    });
    expect((await track()).get(9)!.off).toBeCloseTo(4, 1);
    await change((draft) => {
      delete draft.cornerPoints![1]!.holes;
      delete draft.cornerPoints![1]!.keys;
    });
    expect((await track()).get(8)!.off).toBeLessThan(0.5);
  });
  test('one of them alone, one way, from a frame on; a kept span stays as it is', async () => {
    await change((draft) => (draft.cornerPoints![2]!.keep = [[9, 9]]));
    const before = (await points()).rows;
    await run({ direction: 'forward', names: ['bottom-right'], from: 7 });
    const { rows } = await points();
    const of = (list: typeof rows, name: string, frame: number) =>
      list.find((r) => r.name === name && r.frame === frame);
    expect(of(rows, 'bottom-right', 9)).toEqual(of(before, 'bottom-right', 9));
    expect(of(rows, 'top-left', 9)).toEqual(of(before, 'top-left', 9));
    expect(of(rows, 'bottom-right', 10)!.at![0]).toBeCloseTo(corners(10)[2][0], 0);
  });
  test.each<[string, object, string]>([
    ['an unknown point', { direction: 'both', names: ['middle'] }, 'not-found'],
    ['a frame outside', { direction: 'both', frames: [0, 99] }, 'frame-outside'],
    ['a span the wrong way round', { direction: 'both', frames: [9, 2] }, 'bad-range'],
    ['another direction', { direction: 'sideways' }, 'bad-field'],
  ])('%s is refused in a sentence', async (_, body, code) =>
    expect((await api.request('POST', `/shots/${shot.id}/points`, body)).body).toMatchObject({ code }),
  );
  test('across a cut nothing is followed, and the frame is named', async () => {
    const plate = (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.plate!;
    await api.until<PlateCheck>(`/media/${plate.id}/check`, (c) => c.done, 60);
    await service.db.query('UPDATE check_frames SET cut = TRUE WHERE media_id = ? AND frame = 8', [plate.id]);
    expect((await api.request('POST', `/shots/${shot.id}/points`, { direction: 'both' })).body).toMatchObject({
      code: 'crosses-cut',
      message: 'the span: there is a cut at frame 8.',
    });
    expect(
      await api.request('POST', `/shots/${shot.id}/points`, { direction: 'both', frames: [0, 7], names: ['top-left'] }),
    ).toMatchObject({ status: 200 });
    await api.until<Job[]>(`/shots/${shot.id}/jobs`, (jobs) => jobs.every((j) => j.state === 'done'), 60);
    await service.db.query('UPDATE check_frames SET cut = FALSE WHERE media_id = ? AND frame = 8', [plate.id]);
  });
  test('points that cannot be followed are refused before anything is lost', async () => {
    const kept = (await points()).rows.length;
    await change((draft) => (draft.cornerPoints![0]!.at = [4, 4]));
    expect((await api.request('POST', `/shots/${shot.id}/points`, { direction: 'both' })).body).toMatchObject({
      code: 'point-outside',
    });
    expect((await api.call<PointJudgements>('GET', `/shots/${shot.id}/points/hold`))[0]).toMatchObject({
      hold: 'outside',
    });
    expect((await points()).rows).toHaveLength(kept);
    await change((draft) => (draft.cornerPoints![0]!.at = [...corners(REFERENCE)[0]]));
  });
});

describe('hand keys', () => {
  const keyed = [0, 6, 11];
  test('are interpolated by pose at once, and told as such', async () => {
    await change((draft) => {
      draft.handKeys = keyed.map((frame, i) => ({
        frame,
        corners: corners(frame, i === 1 ? 1 : 0).map((p) => [...p]) as never,
      }));
      draft.spans = [{ from: 0, to: FRAMES - 1, source: 'keys' }];
    });
    const found = await track();
    expect(found.get(6)).toMatchObject({ source: 'keys', note: 'keyed by hand' });
    expect(found.get(8)).toMatchObject({ note: 'interpolated by pose' });
    expect(found.get(8)!.off).toBeGreaterThan(0.5);
    expect(found.get(8)!.off).toBeLessThan(Math.max(...found.get(8)!.bounds!));
    expect(found.get(REFERENCE)!.off).toBeLessThan(0.01);
  });
  test('are pulled onto the picture: surer and nearer, the keys as they were put', async () => {
    const job = await api.call<Job>('POST', `/shots/${shot.id}/pull`);
    expect(await api.ended(job.id)).toMatchObject({ kind: 'pull', state: 'done', done: FRAMES - 1 });
    const { rows } = await api.call<PulledRows>('GET', `/shots/${shot.id}/pull`);
    expect(rows.map((r) => r.frame).sort((a, b) => a - b)).toEqual([1, 2, 4, 5, 7, 8, 9, 10]);
    const found = await track();
    for (const frame of [1, 4, 8]) {
      expect(found.get(frame)).toMatchObject({ note: 'pulled onto the picture' });
      expect(found.get(frame)!.off).toBeLessThan(0.3);
    }
    expect(found.get(6)!.off).toBeCloseTo(Math.SQRT2, 1);
  });
  test('a key put on a pulled frame counts before it', async () => {
    await change(
      (draft) => void draft.handKeys!.push({ frame: 8, corners: corners(8, 2).map((p) => [...p]) as never }),
    );
    expect((await track()).get(8)).toMatchObject({
      note: 'keyed by hand',
      off: expect.closeTo(2 * Math.SQRT2, 1) as unknown,
    });
  });
  test.each<[string, (draft: ShotDocument) => void, string]>([
    [
      'crossed',
      (draft) =>
        (draft.handKeys = [
          {
            frame: 2,
            corners: [
              [0, 0],
              [50, 50],
              [50, 0],
              [0, 50],
            ],
          },
        ]),
      'bad-hand-key',
    ],
    ['twice on a frame', (draft) => (draft.handKeys = [draft.handKeys![0]!, draft.handKeys![0]!]), 'key-twice'],
    [
      'spans that overlap',
      (draft) =>
        (draft.spans = [
          { from: 0, to: 5, source: 'keys' },
          { from: 5, to: 8, source: 'plane' },
        ]),
      'spans-overlap',
    ],
    [
      'a span of another shot that there is not',
      (draft) => (draft.spans = [{ from: 0, to: 5, source: 'shot', shot: 999 }]),
      'bad-span-source',
    ],
    [
      'two points of one name',
      (draft) => (draft.cornerPoints = [draft.cornerPoints![0]!, draft.cornerPoints![0]!]),
      'point-named-twice',
    ],
  ])('%s is refused in a sentence, and nothing is saved', async (_, edit, code) =>
    expect(await refusal(edit)).toMatchObject({ code, remedy: expect.stringMatching(/\w/) as unknown }),
  );
  test('without corners there is nothing to pull', async () => {
    await change((draft) => (draft.corners = null));
    expect((await api.request('POST', `/shots/${shot.id}/pull`)).body).toMatchObject({ code: 'no-corners' });
    await change((draft) => (draft.corners = corners(REFERENCE).map((p) => [...p]) as never));
  });
});
