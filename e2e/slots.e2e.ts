import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Variant } from '../core/base/schemas/types.ts';
import { probeFilm } from '../server/test/film-facts.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { expect, test } from './support/workspace.ts';
import { FRAMES, REFERENCE, followedShot, middle } from './support/followed-shot.ts';

test('a slot: somebody else fills it on a phone by the link, frames it, renders and fetches the film, and sees nothing else; withdrawn, the link leads nowhere', async ({
  page,
  browser,
  service,
}) => {
  test.setTimeout(180_000);
  const { api } = service;
  const { shot, truth } = await followedShot(api);
  const folder = temporaryFolder();
  await page.goto(`${service.address}/shots/${shot.id}/send`);
  await page.getByRole('link', { name: 'Other contents, slots' }).click();
  await page.getByLabel('Whom the slot is for').fill('The nursery shop');
  await page.locator('[data-offer-slot]').click();
  const link = await page.locator('[data-secret]').inputValue();
  expect(link).toMatch(/\/slot\/[\w-]{43}$/);

  const phone = await browser.newContext({
    viewport: { width: 390, height: 844 },
    isMobile: true,
    hasTouch: true,
    acceptDownloads: true,
  });
  const guest = await phone.newPage();
  const asked: string[] = [];
  guest.on('request', (request) => asked.push(new URL(request.url()).pathname));
  await guest.goto(link);
  await expect(guest.getByText('Drop a picture or film here')).toBeVisible();
  await guest.getByLabel('Content', { exact: true }).setInputFiles({
    name: 'offer.png',
    mimeType: 'image/png',
    buffer: await sharp({ create: { width: 800, height: 450, channels: 3, background: '#1030c0' } })
      .png()
      .toBuffer(),
  });
  const preview = guest.locator('[data-preview]');
  const shown = async () =>
    middle(
      await (await guest.request.get(new URL((await preview.getAttribute('src'))!, link).href)).body(),
      truth.frames[REFERENCE]!.corners,
    );
  await preview.waitFor({ timeout: 120_000 });
  await guest.getByLabel('Frame', { exact: true }).fill(String(REFERENCE));
  await expect(preview).toHaveAttribute('src', new RegExp(`/frames/${REFERENCE}\\.jpg`));
  const [r, g, b] = await shown();
  expect(b!).toBeGreaterThan(1.8 * r!);
  expect(b!).toBeGreaterThan(1.5 * g!);
  // Pushed off the screen: the plate's own picture is there again.
  const before = await preview.getAttribute('data-preview');
  await guest.getByLabel('To the right').fill('1');
  await expect(preview).not.toHaveAttribute('data-preview', before!);
  expect((await shown())[2]!).toBeLessThan(0.8 * b!);
  await guest.getByRole('button', { name: 'as at first' }).click();
  await expect(preview).toHaveAttribute('data-preview', before!);
  await guest.locator('[data-render]').click();
  await expect(guest.locator('[data-film]')).toBeVisible({ timeout: 120_000 });
  const [download] = await Promise.all([guest.waitForEvent('download'), guest.locator('[data-download]').click()]);
  expect(await probeFilm(await readFile(await download.path()))).toMatchObject({
    codec: 'h264',
    width: 640,
    height: 360,
    frames: FRAMES,
  });
  // Page and files aside, everything that was asked for was the slot's own.
  expect(asked.filter((path) => path.startsWith('/api/') && !path.startsWith('/api/v1/guest/slots/'))).toEqual([]);
  // In the house it is a row among the others.
  await expect(page.locator('[data-variant="The nursery shop"] [data-state]')).toHaveAttribute('data-state', 'done');
  await page.locator('[data-slot="The nursery shop"]').getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.locator('[data-slot="The nursery shop"]')).toContainText('withdrawn');
  await guest.reload();
  await expect(guest.getByRole('alert')).toContainText('This link leads nowhere');
  await phone.close();
  folder.remove();
});

test('many contents: a CSV fills the table, faults are reported by line, all are rendered in one go, a sheet shows them', async ({
  page,
  service,
}) => {
  test.setTimeout(180_000);
  const { api } = service;
  const { shot, project, truth } = await followedShot(api);
  const folder = temporaryFolder();
  for (const [name, background] of [
    ['red.png', '#b02020'],
    ['green.png', '#20a030'],
  ] as const)
    await api.bringIn(
      project.id,
      name,
      await sharp({ create: { width: 640, height: 400, channels: 3, background } })
        .png()
        .toBuffer(),
    );
  await writeFile(
    join(folder.path, 'table.csv'),
    'name,file,fit\nEnglish,red.png,fill\nDeutsch,green.png,fill\nPolski,blue.png,fill\n',
  );
  await page.goto(`${service.address}/shots/${shot.id}/contents`);
  await page.getByLabel('CSV table').setInputFiles(join(folder.path, 'table.csv'));
  await expect(page.locator('[data-variant]')).toHaveCount(3);
  await expect(page.getByText('Line 4: there is no blue.png in this project')).toBeVisible();
  await page.getByRole('button', { name: 'Take Polski out' }).click();
  await expect(page.locator('[data-variant]')).toHaveCount(2);
  await page.getByLabel('Scale of Deutsch').fill('80');
  await page.getByLabel('Scale of Deutsch').press('Enter');
  await page.getByLabel('Name of Deutsch').fill('German');
  await page.getByLabel('Name of Deutsch').press('Enter');
  await expect(page.locator('[data-variant="German"]')).toBeVisible();
  await page.locator('[data-render-all]').click();
  await expect(page.locator('[data-state="done"]')).toHaveCount(2, { timeout: 90_000 });
  const rows = await api.call<Variant[]>('GET', `/shots/${shot.id}/variants`);
  expect(rows.map((row) => [row.name, row.framing.place?.scale ?? null])).toEqual([
    ['English', null],
    ['German', [0.8, 0.8]],
  ]);
  for (const [i, strong] of [0, 1].entries()) {
    const colour = await middle(
      await api.bytes(`/jobs/${rows[i]!.render!.jobId}/frames/${REFERENCE}.png`),
      truth.frames[REFERENCE]!.corners,
    );
    expect(colour.indexOf(Math.max(...colour)), rows[i]!.name).toBe(strong);
  }
  // The sheet that is shown has both, of the frame that is chosen.
  await page.getByLabel('Frame of the sheet').fill(String(REFERENCE));
  const sheet = page.locator('[data-sheet]');
  await expect(sheet).toHaveAttribute('src', new RegExp(`frame=${REFERENCE}&`));
  await expect.poll(() => sheet.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(16 + 2 * 436);
  folder.remove();
});
