import { execa } from 'execa';
import { readFile, writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { greenScreen } from '../../core/test/green-screen.ts';
import type { Job, Media, Project, Shot, ShotDetail, ShotDocument } from '../../core/base/schemas/types.ts';
import { filmOf } from '../test/media-files.ts';
import type { Api } from '../test/api.ts';
import { temporaryFolder } from '../test/folders.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 6;
const folder = temporaryFolder();
let service: TestService, api: Api, project: Project, shot: Shot, blue: Media;

async function change(
  edit: (draft: ShotDocument) => void,
): Promise<{ status: number; body: { code?: string; message?: string } }> {
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  edit(detail.document);
  return api.request('PUT', `/shots/${shot.id}/document`, { base: detail.shot.revision, document: detail.document });
}

beforeAll(async () => {
  service = await startTestService();
  api = service.api;
  // The bar moves; the surface does not, and is followed by its dark frame.
  const pictures = Array.from(
    { length: FRAMES },
    (_, k) =>
      greenScreen({
        bar: [
          [66 + 5 * k, 0],
          [78 + 5 * k, 0],
          [78 + 5 * k, 120],
          [66 + 5 * k, 120],
        ],
        noise: 0.01,
      }).picture,
  );
  const film = `${folder.path}/green.mkv`;
  await filmOf(pictures, film);
  project = await api.call<Project>('POST', '/projects', { name: 'Green' });
  shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Green screen' });
  const plate = await api.bringIn(project.id, 'green.mkv', await readFile(film));
  ({ media: blue } = await api.bringIn(
    project.id,
    'blue.png',
    await sharp({ create: { width: 80, height: 66, channels: 3, background: '#2030c8' } })
      .png()
      .toBuffer(),
  ));
  await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: plate.media.id });
});
afterAll(async () => {
  await service.end();
  folder.remove();
});

test('a board is written as a clip of its own size, at the plate’s rate', async () => {
  await change((draft) => void delete draft.look.board);
  expect((await api.request('POST', `/shots/${shot.id}/board-clip`)).body).toMatchObject({ code: 'no-content' });
  await change((draft) => {
    draft.look.board = {
      format: 'yarlop-board/1',
      width: 60,
      height: 40,
      background: '#204060',
      layers: [
        {
          id: 'bar',
          kind: 'solid',
          colour: '#ff8000',
          width: 20,
          height: 40,
          position: [
            { frame: 0, value: [0, 0] },
            { frame: 4, value: [40, 0] },
          ],
        },
        { id: 'page', kind: 'picture', media: blue.id, width: 10, height: 10, position: [0, 30] },
      ],
    };
  });
  const job = await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/board-clip`)).id);
  expect(job).toMatchObject({ kind: 'board', state: 'done', done: FRAMES });
  const film = `${folder.path}/board.mp4`;
  await writeFile(film, new Uint8Array(await api.bytes(`/jobs/${job.id}/result`)));
  const { stdout: told } = await execa('ffprobe', [
    '-v',
    'error',
    '-show_entries',
    'stream=width,height,r_frame_rate,nb_frames',
    '-of',
    'csv=p=0',
    film,
  ]);
  expect(told).toBe(`60,40,25/1,${FRAMES}`);
  const { stdout } = await execa('ffmpeg', ['-v', 'error', '-i', film, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'], {
    encoding: 'buffer',
  });
  const at = (frame: number, x: number, y: number) => [
    ...stdout.subarray((frame * 2400 + y * 60 + x) * 3, (frame * 2400 + y * 60 + x) * 3 + 3),
  ];
  const near = (seen: number[], wanted: number[]) =>
    seen.forEach((v, c) => expect(Math.abs(v - wanted[c]!)).toBeLessThan(12));
  near(at(0, 10, 15), [255, 128, 0]);
  near(at(4, 10, 15), [32, 64, 96]);
  near(at(4, 50, 15), [255, 128, 0]);
  near(at(4, 4, 35), [32, 48, 200]);
});
