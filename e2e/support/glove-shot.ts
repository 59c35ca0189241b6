import type { Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Job, Media, Project, Shot, ShotDetail, ShotDocument } from '../../core/base/schemas/types.ts';
import type { Api } from '../../server/test/api.ts';
import { ROOT } from '../../server/test/folders.ts';
import { preparedShot } from '../../server/test/prepared-shot.ts';
import { expect, saved } from './workspace.ts';

export const FRAMES = 10;
export const REFERENCE = 3;
export const SHOWN = 8;

export async function glove(api: Api) {
  const prepared = await preparedShot(api, FRAMES, { reference: REFERENCE, clip: 'held-phone', followed: true });
  const { shot, project, truth } = prepared;
  const phone = await api.bringIn(
    project.id,
    'potting-round.png',
    await readFile(join(ROOT, 'demo/content/potting-round.png')),
  );
  const document = {
    ...prepared.document,
    keepOut: [{ points: truth.keepOut! }],
    contentId: phone.media.id,
    look: { levels: truth.levels, soften: truth.softness, motionBlur: { shutter: truth.shutter, phase: 0 } },
  } as ShotDocument;
  const { shot: now } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await api.call('PUT', `/shots/${shot.id}/document`, { base: now.revision, document });
  return { shot, truth };
}
export const documentOf = async (api: Api, id: number): Promise<ShotDocument> =>
  (await api.call<ShotDetail>('GET', `/shots/${id}`)).document;
/** A rendered frame's pixels, as the server made it. */
export async function rendered(api: Api, shotId: number, frame: number): Promise<Buffer> {
  const job = await api.call<Job>('POST', `/shots/${shotId}/render`, { frames: [frame, frame], output: 'png' });
  expect((await api.ended(job.id)).state).toBe('done');
  return sharp(await api.bytes(`/jobs/${job.id}/frames/${frame}.png`))
    .removeAlpha()
    .raw()
    .toBuffer();
}
export const atFrame = async (page: Page, frame: number) => {
  const viewer = page.locator('.viewer');
  const away = frame - Number(await viewer.getAttribute('data-frame'));
  await page.locator('.ledger').focus();
  for (let i = 0; i < Math.abs(away); i++) await page.keyboard.press(away > 0 ? 'ArrowRight' : 'ArrowLeft');
  await expect(viewer).toHaveAttribute('data-painted', `${frame} exact`, { timeout: 120_000 });
};

export type Corners = ShotDocument['corners'];
export const box = (left: number, top: number, width: number, height: number) =>
  [
    [left, top],
    [left + width, top],
    [left + width, top + height],
    [left, top + height],
  ] as Corners;
/** A surface that is keyed by hand from one place to another. */
export async function keyedScreen(
  api: Api,
  project: Project,
  plate: Media,
  name: string,
  keys: [[number, Corners], [number, Corners]],
  more: Partial<ShotDocument>,
): Promise<Shot> {
  const shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name });
  await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: plate.id });
  const { shot: now, document } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const [[first, from], [last, to]] = keys;
  await api.call('PUT', `/shots/${shot.id}/document`, {
    base: now.revision,
    document: {
      ...document,
      referenceFrame: first,
      corners: from,
      handKeys: [
        { frame: first, corners: from },
        { frame: last, corners: to },
      ],
      spans: [{ from: first, to: last, source: 'keys' }],
      ...more,
    },
  });
  return shot;
}
/** Drags from the middle of what a selector finds. */
export async function dragFrom(page: Page, selector: string, dx: number, dy: number): Promise<void> {
  const at = (await page.locator(selector).boundingBox())!;
  const [x, y] = [at.x + at.width / 2, at.y + at.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + dx, y + dy, { steps: 4 });
  await page.mouse.up();
  await saved(page);
}
