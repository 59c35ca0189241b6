import { readFile } from 'node:fs/promises';
import { launch } from '../server/test/launched.ts';
import { Api } from '../server/test/api.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { expect, test } from './support/workspace.ts';
import { FRAMES, laptop } from './support/sent-shot.ts';

test('a whole project is saved as one file and brought into an empty server', async ({ page, service }) => {
  test.setTimeout(120_000);
  const { shot, project } = await laptop(service.api);
  const folder = temporaryFolder();
  const empty = await launch(folder.path);
  await page.goto(`${service.address}/projects/${project.id}`);
  const [download] = await Promise.all([page.waitForEvent('download'), page.locator('[data-save-all]').click()]);
  expect(download.suggestedFilename()).toBe('trial.yarlop.zip');
  const bytes = await readFile(await download.path());
  await page.goto(empty.address);
  await page
    .getByLabel('A saved project')
    .setInputFiles({ name: 'trial.yarlop.zip', mimeType: 'application/zip', buffer: bytes });
  await expect(page).toHaveURL(/\/projects\/1$/);
  await page.getByRole('link', { name: 'Orders laptop' }).first().click();
  await expect(page.locator('[data-reading="follow"]')).toContainText(`${FRAMES} of ${FRAMES}`, { timeout: 120_000 });
  const id = Number(/\/shots\/(\d+)\//.exec(page.url())![1]);
  const corners = async (api: Api, of: number) => (await api.bytes(`/shots/${of}/export/corners-csv`)).toString();
  expect(await corners(new Api(empty.address), id)).toBe(await corners(service.api, shot.id));
  await empty.stop();
  folder.remove();
});
