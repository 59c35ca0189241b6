import type { Job, ShotDetail, TrackRows } from '../core/base/schemas/types.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { clickPlate, expect, reading, saved, test } from './support/workspace.ts';

const documentOf = async (api: { call<T>(m: string, p: string): Promise<T> }, id: number) =>
  (await api.call<ShotDetail>('GET', `/shots/${id}`)).document;

test('undo and redo of every kind of edit, by key and by button, also on the server', async ({ page, service }) => {
  const { shot } = await preparedShot(service.api, 3, { reference: 0 });
  await page.goto(`${service.address}/shots/${shot.id}/follow`);
  await expect(page.locator('[data-outline="regions-0"]')).toBeVisible();
  await page.keyboard.press('k');
  await clickPlate(page, [
    [100, 100],
    [160, 100],
    [160, 160],
  ]);
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'affine' }).click();
  await page.keyboard.press('Alt+3');
  await page.locator('[data-corner="2"]').focus();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Alt+4');
  await page.getByRole('button', { name: 'fill' }).click();
  await page.keyboard.press('Alt+6');
  await page.getByLabel('Soften, px').fill('1.2');
  await page.getByLabel('Soften, px').press('Enter');
  await page.getByLabel('Feather top', { exact: true }).fill('3');
  await page.getByLabel('Feather top', { exact: true }).press('Enter');
  await page.getByLabel('Opacity, %').fill('80');
  await page.getByLabel('Opacity, %').press('Enter');
  await saved(page);
  const after = await documentOf(service.api, shot.id);
  expect(after).toMatchObject({
    motion: 'affine',
    look: { fit: 'fill', soften: 1.2, feather: [3, 0, 0, 0], opacity: 0.8 },
  });
  expect(after.keepOut).toHaveLength(1);

  const before = (await service.api.call<ShotDetail>('POST', `/shots/${shot.id}/revisions/2/restore`)).document;
  await page.reload();
  await expect(reading(page, 'blend')).toContainText('not set');
  await service.api.call(
    'POST',
    `/shots/${shot.id}/revisions/${(await service.api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.revision - 1}/restore`,
  );
  await page.reload();
  await expect(reading(page, 'blend')).toContainText('soft 1.2');
  expect(await documentOf(service.api, shot.id)).toEqual(after);

  // Undo reaches back to what this page opened with, and redo forward again.
  await page.keyboard.press('Alt+1');
  await page.keyboard.press('Alt+6');
  await page.getByLabel('Soften, px').fill('4');
  await page.getByLabel('Soften, px').press('Enter');
  await page.getByLabel('Feather left', { exact: true }).fill('7');
  await page.getByLabel('Feather left', { exact: true }).press('Enter');
  await page.locator('.viewer').click({ position: { x: 5, y: 5 } });
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Feather left', { exact: true })).toHaveValue('0');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Soften, px')).toHaveValue('1.2');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByLabel('Soften, px')).toHaveValue('4');
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  expect(await documentOf(service.api, shot.id)).toEqual(after);
  expect(before.look).toEqual({ fit: 'stretch' });
});

test('reload during a running job: it goes on, is seen again and can be stopped; an edit just typed is kept', async ({
  page,
  service,
}) => {
  const { shot } = await preparedShot(service.api, 60, { reference: 2, size: 'full' });
  await page.goto(`${service.address}/shots/${shot.id}/follow`);
  await page.getByRole('button', { name: 'Both ways' }).click();
  await expect(page.locator('[data-job="follow"]')).toContainText('/60');
  await page.getByRole('button', { name: 'similarity' }).click();
  await page.reload();
  await expect(page.getByRole('button', { name: 'similarity' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.locator('[data-job="follow"]')).toBeVisible();
  // It may have to wait for what other shots have asked for.
  const jobs = () => service.api.call<Job[]>('GET', `/shots/${shot.id}/jobs`);
  await expect.poll(async () => (await jobs())[0]!.state, { timeout: 60_000 }).toBe('running');
  const [job] = await jobs();
  expect(job!.kind).toBe('follow');
  await page.locator('[data-job="follow"]').getByRole('button', { name: 'Stop' }).click();
  await expect(page.locator('[data-job="follow"]')).toHaveCount(0);
  expect((await service.api.call<Job>('GET', `/jobs/${job!.id}`)).state).toBe('stopped');
  const { rows } = await service.api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
  expect(rows.length).toBeGreaterThan(0);
  // Where frames have moved to does not depend on how it was asked; from another reference they mean something else.
  await expect(reading(page, 'follow')).not.toContainText('out of date');
  await page.locator('.ledger').press('Home');
  await page.getByRole('button', { name: /^use frame/ }).click();
  await expect(reading(page, 'follow')).toContainText('out of date');
});
