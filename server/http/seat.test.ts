import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { roughly } from '../../bench/seat/drawn-surface.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import type {
  Job,
  MatchReply,
  SeatReply,
  Shot,
  ShotCard,
  ShotDetail,
  ShotDocument,
  SnapReply,
} from '../../core/base/schemas/types.ts';
import type { Truth } from '../../demo/truth.ts';
import { plantDrift } from '../test/plant-drift.ts';
import type { Api } from '../test/api.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 10;
const REFERENCE = 3;
let service: TestService, api: Api, shot: Shot, document: ShotDocument, truth: Truth;
const corners = (frame: number) => truth.frames[frame]!.corners as unknown as Quad;
/** A drift of about 2 px at the end, on top of which one corner pulls. */
const drift = (frame: number, corner: number): [number, number] => [
  0.3 * (frame - REFERENCE),
  corner === 2 ? 0.15 * (frame - REFERENCE) : 0,
];

async function change(edit: (draft: ShotDocument) => void): Promise<void> {
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  edit(detail.document);
  await api.call('PUT', `/shots/${shot.id}/document`, { base: detail.shot.revision, document: detail.document });
}
async function look(): Promise<SeatReply> {
  const job = await api.call<Job>('POST', `/shots/${shot.id}/seat`);
  expect(job).toMatchObject({ kind: 'seat', total: FRAMES });
  expect(await api.ended(job.id)).toMatchObject({ state: 'done', done: FRAMES });
  return api.call('GET', `/shots/${shot.id}/seat`);
}
async function exported(): Promise<{ frames: { frame: number; corners: Quad }[] }> {
  return JSON.parse((await api.bytes(`/shots/${shot.id}/export/corners-json`)).toString()) as {
    frames: { frame: number; corners: Quad }[];
  };
}
/** Worst corner of an exported track, px. */
async function worst(): Promise<number> {
  const text = (await api.bytes(`/shots/${shot.id}/export/corners-csv`)).toString();
  return Math.max(
    ...text
      .split('\n')
      .filter((l) => /^\d/.test(l))
      .map((l) => l.split(',').map(Number))
      .map(([frame, ...c]) =>
        Math.max(...corners(frame!).map(([x, y], i) => Math.hypot(c[2 * i]! - x, c[2 * i + 1]! - y))),
      ),
  );
}

beforeAll(async () => {
  service = await startTestService();
  api = service.api;
  ({ shot, document, truth } = await preparedShot(api, FRAMES, { reference: REFERENCE, size: 'full' }));
});
afterAll(() => service.end());

describe('before anything is followed', () => {
  test('there is nothing to look at, and it says what to do', async () => {
    expect(await api.call('GET', `/shots/${shot.id}/seat`)).toEqual({ measured: null, frames: [] });
    expect((await api.request('POST', `/shots/${shot.id}/seat`)).body).toMatchObject({ code: 'no-track' });
    expect((await api.request('POST', `/shots/${shot.id}/match`, { frame: 5, corners: [0] })).body).toMatchObject({
      code: 'not-followed',
    });
  });
  test('a rough quad snaps to the borders of the glass, and says how sure each side is', async () => {
    const found = await api.call<SnapReply>('POST', `/shots/${shot.id}/snap`, {
      frame: REFERENCE,
      corners: roughly(corners(REFERENCE), 10),
      border: 'inner',
    });
    found.corners.forEach(([x, y], i) =>
      expect(Math.hypot(x - corners(REFERENCE)[i]![0], y - corners(REFERENCE)[i]![1])).toBeLessThan(0.35),
    );
    for (const side of found.sides) expect(side.borders[side.chosen!]!.bound).toBeLessThan(0.4);
    expect(found.bounds.every((b) => b !== null && b < 0.5)).toBe(true);
  });
  test.each<[string, object, string]>([
    [
      'crossed corners',
      {
        frame: 0,
        corners: [
          [100, 100],
          [300, 300],
          [300, 100],
          [100, 300],
        ],
        border: 'inner',
      },
      'bad-corners',
    ],
    [
      'a surface of six pixels',
      {
        frame: 0,
        corners: [
          [100, 100],
          [106, 100],
          [106, 105],
          [100, 105],
        ],
        border: 'inner',
      },
      'quad-too-small',
    ],
    [
      'a frame outside',
      {
        frame: 400,
        corners: [
          [100, 100],
          [300, 100],
          [300, 300],
          [100, 300],
        ],
        border: 'inner',
      },
      'frame-outside',
    ],
    [
      'a border of another name',
      {
        frame: 0,
        corners: [
          [100, 100],
          [300, 100],
          [300, 300],
          [100, 300],
        ],
        border: 'middle',
      },
      'bad-field',
    ],
  ])('%s are refused in a sentence', async (_, body, code) => {
    expect((await api.request('POST', `/shots/${shot.id}/snap`, body)).body).toMatchObject({
      code,
      remedy: expect.stringMatching(/\w/) as unknown,
    });
  });
});

describe('a track that strays', () => {
  beforeAll(async () => {
    await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
    await plantDrift(service.db, shot.id, document.corners as unknown as Quad, drift);
  });
  test('is found out by looking at the borders, frame by frame, with bounds and slices', async () => {
    expect(await worst()).toBeGreaterThan(1.5);
    const { measured, frames } = await look();
    expect(measured).toMatchObject({ worth: true, corners: document.corners });
    expect(measured!.borders.every((n) => n > 0)).toBe(true);
    expect(frames.map((f) => f.frame)).toEqual(Array.from({ length: FRAMES }, (_, i) => i));
    for (const { frame, moves, bounds, holds, strips } of frames) {
      expect(holds).toBe(true);
      expect(Buffer.from(strips, 'base64')).toHaveLength(8 * 49);
      for (let c = 0; c < 4; c++)
        expect(Math.hypot(moves![2 * c]! + drift(frame, c)[0], moves![2 * c + 1]! + drift(frame, c)[1])).toBeLessThan(
          0.35,
        );
      expect(Math.max(...bounds!)).toBeLessThan(0.6);
    }
  });
  test('the list of shots says how far off it is', async () => {
    const [card] = await api.call<ShotCard[]>('GET', `/projects/${shot.projectId}/cards`);
    expect(card!.seatOff).toBeGreaterThan(0.5);
  });
  test('locked to them, what is exported is where it should be; without the lock as before', async () => {
    await change((d) => (d.lock = true));
    expect(await worst()).toBeLessThan(0.3);
    await change((d) => delete d.lock);
    expect(await worst()).toBeGreaterThan(1.5);
  });
  test('keys mend it as well, muted ones do not; smoothing of 0 changes nothing', async () => {
    const keyed = [0, FRAMES - 1].flatMap((frame) =>
      [0, 1, 2, 3].map((corner) => ({ frame, corner, dx: -drift(frame, corner)[0], dy: -drift(frame, corner)[1] })),
    );
    await change((d) => (d.corrections = keyed));
    const mended = await worst();
    expect(mended).toBeLessThan(0.3);
    await change((d) => (d.smooth = 0));
    expect(await worst()).toBe(mended);
    await change((d) => (d.corrections = keyed.map((c) => ({ ...c, muted: true }))));
    expect(await worst()).toBeGreaterThan(1.5);
    await change((d) => delete d.corrections);
  });
  test('a corner is matched to the reference, from where it is seated', async () => {
    const frame = 8;
    const { corners: found } = await api.call<MatchReply>('POST', `/shots/${shot.id}/match`, {
      frame,
      corners: [0, 1, 2, 3],
    });
    for (const { corner, dx, dy, score, refused } of found) {
      if (refused !== null) continue;
      expect(score).toBeGreaterThan(0.8);
      expect(Math.hypot(dx + drift(frame, corner)[0], dy + drift(frame, corner)[1])).toBeLessThan(0.5);
    }
    expect(found.filter((m) => m.refused === null).length).toBeGreaterThanOrEqual(2);
  });
  test('an outset reaches over the sides of what is rendered and exported', async () => {
    const plain = await exported();
    await change((d) => (d.outset = { unit: 'px', sides: [2, 0, 0, 0] }));
    const reaching = await exported();
    const at = (t: typeof plain) => t.frames.find((f) => f.frame === REFERENCE)!.corners;
    expect(at(reaching)[0][1]).toBeCloseTo(at(plain)[0][1] - 2, 0);
    expect(at(reaching)[3]).toEqual(at(plain)[3]);
    await change((d) => delete d.outset);
  });
  test('turned content keeps its lock: what was measured is determined by where the corners lie', async () => {
    await change((d) => {
      d.lock = true;
      d.corners = [d.corners![1], d.corners![2], d.corners![3], d.corners![0]];
    });
    const turned = await exported();
    for (const { frame, corners: seated } of turned.frames)
      seated.forEach(([x, y], i) =>
        expect(Math.hypot(x - corners(frame)[(i + 1) % 4]![0], y - corners(frame)[(i + 1) % 4]![1])).toBeLessThan(0.3),
      );
    await change((d) => {
      delete d.lock;
      d.corners = document.corners;
    });
  });
  test('where the track changes, what was seen no longer holds, and locks nothing', async () => {
    await plantDrift(service.db, shot.id, document.corners as unknown as Quad, (frame) =>
      frame === 6 ? [1, 0] : [0, 0],
    );
    const { frames } = await api.call<SeatReply>('GET', `/shots/${shot.id}/seat`);
    expect(frames.filter((f) => !f.holds).map((f) => f.frame)).toEqual([6]);
    await change((d) => (d.lock = true));
    expect(await worst()).toBeGreaterThan(1.5);
    await look();
    expect(await worst()).toBeLessThan(0.3);
  });
  test('of another reference frame it is not', async () => {
    await change((d) => (d.referenceFrame = 5));
    expect(await api.call('GET', `/shots/${shot.id}/seat`)).toEqual({ measured: null, frames: [] });
    await change((d) => (d.referenceFrame = REFERENCE));
  });
});
