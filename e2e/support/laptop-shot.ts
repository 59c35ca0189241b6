import type { Page } from '@playwright/test';
import sharp from 'sharp';
import type { Job, Look, ShotDetail, ShotDocument } from '../../core/base/schemas/types.ts';
import type { Api } from '../../server/test/api.ts';
import { preparedShot } from '../../server/test/prepared-shot.ts';
import { expect } from './workspace.ts';

export const FRAMES = 10;
export const REFERENCE = 5;
export const SHOWN = 8;

/** The laptop with the green screen; how it moves is known. */
export const laptop = (api: Api) => preparedShot(api, FRAMES, { reference: REFERENCE, followed: true });
export const detailOf = (api: Api, id: number) => api.call<ShotDetail>('GET', `/shots/${id}`);
export const lookOf = async (api: Api, id: number): Promise<Look> => (await detailOf(api, id)).document.look;
export async function change(api: Api, id: number, recipe: (document: ShotDocument) => ShotDocument): Promise<void> {
  const { shot, document } = await detailOf(api, id);
  await api.call('PUT', `/shots/${id}/document`, { base: shot.revision, document: recipe(document) });
}
export async function rendered(api: Api, shotId: number, frame: number): Promise<Buffer> {
  const job = await api.call<Job>('POST', `/shots/${shotId}/render`, { frames: [frame, frame], output: 'png' });
  expect((await api.ended(job.id)).state).toBe('done');
  return sharp(await api.bytes(`/jobs/${job.id}/frames/${frame}.png`))
    .removeAlpha()
    .raw()
    .toBuffer();
}
export async function atFrame(page: Page, frame: number): Promise<void> {
  const viewer = page.locator('.viewer');
  const away = frame - Number(await viewer.getAttribute('data-frame'));
  await page.locator('.ledger').focus();
  for (let i = 0; i < Math.abs(away); i++) await page.keyboard.press(away > 0 ? 'ArrowRight' : 'ArrowLeft');
  await expect(viewer).toHaveAttribute('data-painted', `${frame} exact`, { timeout: 120_000 });
}
export async function type(page: Page, label: string, value: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(value);
  await page.getByLabel(label, { exact: true }).press('Enter');
}
