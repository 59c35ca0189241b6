import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { CleanFixFile, Job, Project, Shot, ShotDetail } from '../../core/base/schemas/types.ts';
import { bars, leftInMarks, MARKED_QUAD, markedScreen } from '../../core/test/marked-screen.ts';
import { filmOf } from '../test/media-files.ts';
import type { Api } from '../test/api.ts';
import { temporaryFolder } from '../test/folders.ts';
import { startTestService, type TestService } from '../test/service.ts';

/** A screen with crosses, over which a brighter room and the bars of a window are mirrored farther on each frame. */
const FRAMES = 8;
const mirrored = (k: number) => (u: number) => (u < 0.13 * k ? 0.06 : 0) + bars(k)(u);
const folder = temporaryFolder();
let service: TestService, api: Api, shot: Shot;

beforeAll(async () => {
  service = await startTestService();
  api = service.api;
  const film = join(folder.path, 'marked.mkv');
  const project = await api.call<Project>('POST', '/projects', { name: 'Marked' });
  await filmOf(
    Array.from({ length: FRAMES }, (_, k) => markedScreen({ marked: true, mirrored: mirrored(k) })),
    film,
  );
  shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Marked screen' });
  const { media } = await api.bringIn(project.id, 'marked.mkv', await readFile(film));
  await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: media.id });
  await change((detail) =>
    Object.assign(detail.document, {
      corners: MARKED_QUAD.map(([x, y]) => [x, y]),
      regions: [
        {
          points: [
            [6, 2],
            [214, 2],
            [214, 148],
            [6, 148],
          ],
        },
      ],
    }),
  );
  expect(
    await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id),
  ).toMatchObject({ state: 'done' });
});
afterAll(async () => {
  await service.end();
  folder.remove();
});

async function change(edit: (detail: ShotDetail) => void): Promise<void> {
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  edit(detail);
  await api.call('PUT', `/shots/${shot.id}/document`, { base: detail.shot.revision, document: detail.document });
}

test('marks are found to lie under glass; the cleaned plate keeps what is mirrored over them', async () => {
  const { fixes } = await api.call<{ fixes: CleanFixFile[] }>('POST', `/shots/${shot.id}/marks`);
  expect(fixes.map(({ method }) => method)).toEqual(Array(4).fill('glass'));
  const left = async (method: CleanFixFile['method'], frame: number) => {
    await change(({ document }) => (document.look.clean = { fixes: fixes.map((fix) => ({ ...fix, method })) }));
    const job = await api.ended(
      (
        await api.call<Job>('POST', `/shots/${shot.id}/render`, {
          frames: [frame, frame],
          output: 'frames',
          layers: ['clean'],
        })
      ).id,
    );
    expect(job.state, JSON.stringify(job.problem)).toBe('done');
    return leftInMarks(
      {
        data: await sharp(await api.bytes(`/jobs/${job.id}/frames/${frame}.png`))
          .removeAlpha()
          .raw()
          .toBuffer(),
      },
      markedScreen({ marked: false, mirrored: mirrored(frame) }),
    );
  };
  const glass = await left('glass', 6);
  expect(glass).toBeLessThan(2);
  expect(await left('smooth', 6)).toBeGreaterThan(2 * glass);
}, 120_000);
