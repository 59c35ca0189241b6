import { expect, saved, test } from './support/workspace.ts';
import { FRAMES, laptop, states } from './support/sent-shot.ts';

test('frames are rendered, put out of date by an edit and brought back by undo; only what is out of date is made again', async ({
  page,
  service,
}) => {
  const { shot } = await laptop(service.api);
  const { api } = service;
  await page.goto(`${service.address}/shots/${shot.id}/send`);
  await page.locator('[data-render-missing]').click();
  await expect(page.locator('[data-ledger-counts]')).toHaveText(`${FRAMES} of ${FRAMES}`, { timeout: 120_000 });
  await expect(page.locator('[data-reading="send"]')).toContainText(`${FRAMES} / ${FRAMES}`);
  // Softened on Blend: all of them are of another look now, and Send says which.
  await page.getByRole('link', { name: 'Blend' }).first().click();
  await page.getByLabel('Soften, px', { exact: true }).fill('2');
  await page.getByLabel('Soften, px', { exact: true }).press('Enter');
  await saved(page);
  await expect(page.locator('[data-reading="send"]')).toContainText(`${FRAMES} out of date`);
  await page.getByRole('link', { name: 'Send' }).first().click();
  await expect(page.locator('[data-frame-state]')).toContainText('is out of date: softness changed');
  expect(await states(api, shot.id)).toEqual(Array.from({ length: FRAMES }, () => 'stale'));
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  await expect(page.locator('[data-ledger-counts]')).toHaveText(`${FRAMES} of ${FRAMES}`);
  await page.getByRole('button', { name: 'Redo' }).click();
  await saved(page);
  // One frame of the new look, then the rest of them.
  await page.locator('[data-render-one]').click();
  await expect(page.locator('[data-render-stale]')).toHaveText(`Render ${FRAMES - 1} out of date`, {
    timeout: 120_000,
  });
  await page.locator('[data-render-stale]').click();
  await expect(page.locator('[data-ledger-counts]')).toHaveText(`${FRAMES} of ${FRAMES}`, { timeout: 120_000 });
  expect(await states(api, shot.id)).toEqual(Array.from({ length: FRAMES }, () => 'done'));
});
