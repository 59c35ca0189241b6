import { existsSync, mkdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type {
  Media,
  PlateCheck,
  PlateFit,
  Project,
  Shot,
  ShotCard,
  ShotDetail,
  Storage,
  SweepReport,
  TrackRows,
  UploadReply,
} from '../../core/base/schemas/types.ts';
import { run, select } from '../database/connection.ts';
import { ffmpeg } from '../test/media-files.ts';
import type { Api } from '../test/api.ts';
import { clipPath, temporaryFolder } from '../test/folders.ts';
import { preparedShot, shortClip } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

let service: TestService;
let api: Api;
const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
beforeAll(async () => {
  mkdirSync(folder.path, { recursive: true });
  service = await startTestService();
  api = service.api;
});
afterAll(async () => {
  await service.end();
  folder.remove();
});

const newProject = () => api.call<Project>('POST', '/projects', { name: 'Plates' });

describe('the check', () => {
  test(
    'a demo plate is free of faults; a cut, repeats and a flash planted into another are found',
    { timeout: 240_000 },
    async () => {
      const project = await newProject();
      const checkOf = async (name: string, bytes: Uint8Array) => {
        const { media } = await api.bringIn(project.id, name, bytes);
        return api.until<PlateCheck>(`/media/${media.id}/check`, (c) => c.done, 120);
      };
      const whole = await checkOf('orders-laptop.mp4', (await shortClip(18)).bytes);
      expect(whole.findings.filter((f) => f.kind !== 'fast' && f.kind !== 'blur')).toEqual([]);
      expect(whole.reference!.reasons.length).toBeGreaterThan(2);
      // Frames 0–19 of one, with two repeats and a flash, then 0–9 of the other; coded anew as any cut is.
      await ffmpeg(
        '-i',
        clipPath('bench-tablet.mp4'),
        '-i',
        clipPath('orders-laptop.mp4'),
        '-filter_complex',
        "[0]trim=end_frame=20,loop=loop=1:size=1:start=4,loop=loop=1:size=1:start=14,setpts=N/25/TB,eq=brightness=0.25:enable='eq(n,9)'[a];[1]trim=end_frame=10,setpts=N/25/TB[b];[a][b]concat,scale=640:360:flags=area[v]",
        '-map',
        '[v]',
        '-r',
        '25',
        '-c:v',
        'libx264',
        '-crf',
        '12',
        '-pix_fmt',
        'yuv420p',
        at('cut.mp4'),
      );
      const check = await checkOf('cut.mp4', readFileSync(at('cut.mp4')));
      expect(
        check.findings.filter((f) => f.kind !== 'fast' && f.kind !== 'blur').map((f) => [f.kind, f.frames[0]]),
      ).toEqual([
        ['repeat', 4],
        ['flash', 9],
        ['repeat', 14],
        ['cut', 22],
      ]);
    },
  );
});

describe('another version of the plate', () => {
  test(
    'half the size, regraded and with handles: the offset is found, and all the work moves along',
    { timeout: 180_000 },
    async () => {
      const { project, shot, document } = await preparedShot(api, 12, { followed: true });
      // Frames 0–11 of the clip become 5–16 of a darker, smaller version that begins with other frames.
      await ffmpeg(
        '-i',
        clipPath('orders-laptop.mp4'),
        '-filter_complex',
        '[0]split[x][y];[x]trim=start_frame=60:end_frame=65,setpts=N/25/TB[a];[y]trim=end_frame=20,setpts=N/25/TB[b];[a][b]concat,scale=320:180,eq=gamma=0.8:saturation=0.7[v]',
        '-map',
        '[v]',
        '-r',
        '25',
        '-c:v',
        'libx264',
        '-crf',
        '10',
        '-pix_fmt',
        'yuv420p',
        at('regraded.mov'),
      );
      const { media } = await api.bringIn(project.id, 'regraded.mov', readFileSync(at('regraded.mov')));
      const fit = await api.call<PlateFit>('GET', `/shots/${shot.id}/plate-fit?media=${media.id}`);
      expect(fit).toMatchObject({ offset: 5, found: true, scale: 0.5, warnings: [] });
      const far = await api.call<PlateFit>('GET', `/shots/${shot.id}/plate-fit?media=${media.id}&offset=20`);
      expect(far.warnings.join(' ')).toMatch(
        /The reference frame would be 26, outside.*7 of 12 frames are not in the new plate/,
      );
      const { shot: now, runKey } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
      expect(
        (
          await api.request('PUT', `/shots/${shot.id}/plate/replace`, {
            mediaId: media.id,
            offset: 20,
            base: now.revision,
          })
        ).body,
      ).toMatchObject({ code: 'frame-outside' });
      const before = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
      expect(before.rows.every((r) => r.runKey === runKey)).toBe(true);

      await api.call('PUT', `/shots/${shot.id}/plate/replace`, { mediaId: media.id, offset: 5, base: now.revision });
      const after = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
      expect(after.document).toMatchObject({
        referenceFrame: document.referenceFrame + 5,
        corners: document.corners!.map((p) => p.map((v) => v / 2)),
        contentId: document.contentId,
      });
      const track = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
      expect(track.rows.map((r) => r.frame).sort((a, b) => a - b)).toEqual(Array.from({ length: 12 }, (_, i) => i + 5));
      // It is up to date: nothing has to be followed again. Halved pixels halve the translation and double the perspective part.
      expect(track.rows.every((r) => r.runKey === after.runKey)).toBe(true);
      const h = before.rows.find((r) => r.frame === 2)!.homography!;
      const m = track.rows.find((r) => r.frame === 7)!.homography!;
      expect([m[2] / h[2], m[5] / h[5], m[6] / h[6]]).toEqual([0.5, 0.5, 2].map((v) => expect.closeTo(v, 6) as number));
    },
  );
});

describe('disk', () => {
  test('frames are put away and made again under the work; leftovers are swept, what is missing is named', async () => {
    const { project, shot } = await preparedShot(api, 3, { reference: 1 });
    const plate = (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.plate!;
    const frames = () =>
      api
        .call<Storage>('GET', `/projects/${project.id}/storage`)
        .then((s) => s.media.find((m) => m.mediaId === plate.id)!);
    expect((await frames()).frameBytes).toBeGreaterThan(3 * 640 * 360 * 1.5);
    expect(await api.call('POST', `/media/${plate.id}/clear`)).toMatchObject({ state: 'cleared' });
    expect(await frames()).toMatchObject({ frameBytes: 0, state: 'cleared' });
    expect((await api.request('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).body).toMatchObject({
      code: 'frames-cleared',
    });
    const { job } = await api.call<UploadReply>('POST', `/media/${plate.id}/remake`);
    await api.ended(job.id);
    expect((await frames()).frameBytes).toBeGreaterThan(3 * 640 * 360 * 1.5);
    expect((await api.request('DELETE', `/media/${plate.id}`)).body).toMatchObject({
      code: 'medium-used',
      message: 'orders.mp4 is used by Orders laptop.',
    });

    const media = join(service.dataFolder, 'media');
    const stray = join(media, 'ab', 'ab'.repeat(32));
    mkdirSync(join(media, 'ab'), { recursive: true });
    writeFileSync(stray, 'left over');
    const [row] = await select<{ store: string }>(service.db, 'SELECT store FROM media WHERE id = ?', [plate.id]);
    const store = join(service.dataFolder, 'frames', row!.store);
    const old = new Date(Date.now() - 3 * 86_400_000);
    utimesSync(stray, old, old);
    rmSync(join(store, 'whole.json'));
    const swept = await api.call<SweepReport>('POST', '/storage/sweep');
    expect(swept.orphans).toBeGreaterThanOrEqual(1);
    expect(swept.orphanBytes).toBeGreaterThanOrEqual(9);
    expect(swept.remade).toBeGreaterThanOrEqual(1);
    expect(swept.missing).toEqual([]);
    expect(existsSync(stray)).toBe(false);
  });
});

describe('the library', () => {
  test(
    '500 shots with tracks come within a second; duplicates carry the work, archived ones stay',
    { timeout: 120_000 },
    async () => {
      const { project, shot } = await preparedShot(api, 3, { reference: 1, followed: true });
      const copy = await api.call<Shot>('POST', `/shots/${shot.id}/duplicate`, { name: 'Orders laptop 2' });
      const [one, two] = await Promise.all([shot.id, copy.id].map((id) => api.call<ShotDetail>('GET', `/shots/${id}`)));
      expect(two!.document).toEqual(one!.document);
      expect(two!.shot.plate!.id).toBe(one!.shot.plate!.id);
      const rows = await Promise.all(
        [shot.id, copy.id].map((id) => api.call<TrackRows>('GET', `/shots/${id}/track?after=0`)),
      );
      const plain = (t: TrackRows) =>
        t.rows.map(({ frame, homography }) => ({ frame, homography })).sort((a, b) => a.frame - b.frame);
      expect(plain(rows[1]!)).toEqual(plain(rows[0]!));
      await run(
        service.db,
        "INSERT INTO shots (project_id, name, revision, plate_id) SELECT project_id, CONCAT('Filler ', n.seq), 1, plate_id FROM shots JOIN seq_0_to_497 n WHERE id = ?",
        [shot.id],
      );
      await run(
        service.db,
        "INSERT INTO shot_revisions (shot_id, revision, document) SELECT id, 1, ? FROM shots WHERE project_id = ? AND name LIKE 'Filler%'",
        [JSON.stringify(one!.document), project.id],
      );
      await run(
        service.db,
        `INSERT INTO track_frames (shot_id, frame, run_key, homography, error, confidence, blur, lost, job_id, changed)
      SELECT s.id, n.seq, t.run_key, t.homography, t.error, t.confidence, t.blur, t.lost, t.job_id, t.changed FROM shots s JOIN seq_0_to_99 n JOIN track_frames t ON t.shot_id = ? AND t.frame = 1
      WHERE s.project_id = ? AND s.name LIKE 'Filler%'`,
        [shot.id, project.id],
      );
      const begun = performance.now();
      const cards = await api.call<ShotCard[]>('GET', `/projects/${project.id}/cards`);
      const seconds = (performance.now() - begun) / 1000;
      expect(cards).toHaveLength(500);
      expect(cards[0]).toMatchObject({
        shot: { name: 'Orders laptop' },
        track: { held: 3, lost: 0, outdated: 0 },
        contentName: 'orders.png',
        picture: expect.stringMatching(/^\/api\/v1\/media\/\d+\/frames\/1\.jpg\?v=/) as unknown,
      });
      console.log(`500 shots, 50 000 track rows: ${seconds.toFixed(2)} s`);
      expect(await api.call('PUT', `/shots/${copy.id}/archived`, { archived: true })).toMatchObject({ archived: true });
      expect((await api.call<Project[]>('GET', '/projects')).find((p) => p.id === project.id)).toMatchObject({
        shots: 500,
        archived: false,
        picture: expect.stringMatching(/frames\/0\.jpg/) as unknown,
      });
      const media = await api.call<Media[]>('GET', `/projects/${project.id}/media`);
      expect(media.find((m) => m.name === 'orders.png')!.usedBy.length).toBe(500);
    },
  );
});
