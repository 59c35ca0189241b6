import type { Job, Project, Shot, ShotDetail, TrackRows } from '../core/base/schemas/types.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { clickPlate, expect, reading, saved, test } from './support/bench.ts';

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

test('a drag of a corner is one step and one save', async ({ page, service }) => {
  const { shot } = await preparedShot(service.api, 2, { reference: 0 });
  await page.goto(`${service.address}/shots/${shot.id}/seat`);
  const corner = page.locator('[data-corner="1"]');
  const box = (await corner.boundingBox())!;
  const revision = async () => (await service.api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.revision;
  const start = await revision();
  const x = await page.getByLabel('top-right x, x').inputValue();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  for (let i = 1; i <= 20; i++) await page.mouse.move(box.x + box.width / 2 + i, box.y + box.height / 2 - i);
  await page.mouse.up();
  await saved(page);
  await expect(page.getByLabel('top-right x, x')).not.toHaveValue(x);
  await expect.poll(revision).toBe(start + 1);
  // In a magnifier eight screen pixels are one of the plate.
  const glass = (await page.locator('[data-glass="1"]').boundingBox())!;
  const before = Number(await page.getByLabel('top-right x, x').inputValue());
  await page.mouse.move(glass.x + 60, glass.y + 40);
  await page.mouse.down();
  await page.mouse.move(glass.x + 64, glass.y + 40, { steps: 4 });
  await page.mouse.up();
  await expect
    .poll(async () => Number(await page.getByLabel('top-right x, x').inputValue()))
    .toBeCloseTo(before + 0.5, 1);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('top-right x, x')).toHaveValue(x);
});

test('a stale save from a second tab: both are told, and either side can be kept', async ({
  page,
  context,
  service,
}) => {
  const { shot } = await preparedShot(service.api, 2, { reference: 0 });
  const second = await context.newPage();
  for (const tab of [page, second]) {
    await tab.goto(`${service.address}/shots/${shot.id}/blend`);
    // Both have read the same revision before either saves.
    await expect(tab.getByLabel('Soften, px')).toBeVisible();
  }
  const soften = async (tab: typeof page, value: string) => {
    await tab.getByLabel('Soften, px').fill(value);
    await tab.getByLabel('Soften, px').press('Enter');
  };
  await soften(page, '2');
  await saved(page);
  await soften(second, '5');
  await expect(second.getByText('This shot was changed elsewhere')).toBeVisible();
  expect((await documentOf(service.api, shot.id)).look.soften).toBe(2);
  await second.getByRole('button', { name: 'Put mine over it' }).click();
  await saved(second);
  expect((await documentOf(service.api, shot.id)).look.soften).toBe(5);
  await soften(page, '7');
  await expect(page.getByText('This shot was changed elsewhere')).toBeVisible();
  await page.getByRole('button', { name: 'Take theirs' }).click();
  await expect(page.getByLabel('Soften, px')).toHaveValue('5');
  await second.close();
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
  const [job] = await service.api.call<Job[]>('GET', `/shots/${shot.id}/jobs`);
  expect(job).toMatchObject({ kind: 'follow', state: 'running' });
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

test('without the server edits are kept and saved when it is back', async ({ page, context, service }) => {
  const { shot } = await preparedShot(service.api, 2, { reference: 0 });
  await page.goto(`${service.address}/shots/${shot.id}/blend`);
  await expect(page.getByLabel('Soften, px')).toBeVisible();
  await context.setOffline(true);
  await page.getByLabel('Soften, px').fill('3');
  await page.getByLabel('Soften, px').press('Enter');
  await expect(page.locator('[data-save]')).toHaveAttribute('data-save', 'offline');
  await context.setOffline(false);
  await saved(page);
  expect((await documentOf(service.api, shot.id)).look.soften).toBe(3);
});

test('lists: a shot is renamed, deleted and brought back; the keys are listed', async ({ page, service }) => {
  const project = await service.api.call<Project>('POST', '/projects', { name: 'Seed house' });
  await service.api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Wall screen' });
  await page.goto(`${service.address}/projects/${project.id}`);
  await page.getByRole('button', { name: 'Rename Wall screen' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Watering plan');
  await page.getByRole('dialog').getByRole('button', { name: 'Rename' }).click();
  await page.getByRole('button', { name: 'Delete Watering plan' }).click();
  await expect(page.getByText('There is no shot yet')).toBeVisible();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await page.getByRole('link', { name: 'Watering plan' }).click();
  await expect(page.getByText('Bring in the clip in which a screen is to be replaced')).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('go to the reference frame');
});

test('a file that is no picture is answered with a sentence, and the shot works on', async ({ page, service }) => {
  const project = await service.api.call<Project>('POST', '/projects', { name: 'Mistakes' });
  const shot = await service.api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Phone' });
  await page.goto(`${service.address}/shots/${shot.id}/plate`);
  await page.locator('[data-file-input]').setInputFiles({
    name: 'notes.mp4',
    mimeType: 'video/mp4',
    buffer: Buffer.from('Beds one to eight.\n'.repeat(80)),
  });
  await expect(page.locator('.column').getByRole('alert')).toContainText(
    'notes.mp4 is not a picture or film that can be read (it is text). Bring in an MP4',
  );
  await page
    .locator('[data-file-input]')
    .setInputFiles({ name: 'empty.mp4', mimeType: 'video/mp4', buffer: Buffer.alloc(0) });
  await expect(page.locator('.stack')).toContainText('empty.mp4 is empty (0 bytes)');
  await page.goto(`${service.address}/shots/99999/plate`);
  await expect(page.getByRole('alert')).toContainText('There is no shot 99999');
});
