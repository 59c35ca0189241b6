import { unzipSync } from 'fflate';
import { readFile } from 'node:fs/promises';
import { knownTrack, preparedShot } from '../server/test/prepared-shot.ts';
import { expect, saved, test } from './support/workspace.ts';
import { FRAMES, REFERENCE, handedOn, goTo } from './support/by-hand.ts';

test('the picture steadied by another track: looked at, followed on, and mapped back to the plate as if followed directly', async ({
  page,
  service,
}) => {
  const { api } = service;
  const { shot, truth } = await preparedShot(api, FRAMES, { reference: REFERENCE });
  const handed = async () =>
    (await api.bytes(`/shots/${shot.id}/export/corners-csv`))
      .toString()
      .split('\n')
      .filter((l) => /^\d/.test(l))
      .map((l) => l.split(',').map(Number));
  const both = page.getByRole('button', { name: 'Both ways' });
  await page.goto(`${service.address}/shots/${shot.id}/follow`);
  await expect(page.locator('.viewer')).toHaveAttribute('data-painted', new RegExp(`^${REFERENCE} `));
  await both.click();
  await expect
    .poll(async () => Math.max(...(await handedOn(api, shot.id, truth))), { timeout: 120_000 })
    .toBeLessThan(3);
  const direct = await handed();
  const second = await api.call<{ id: number }>('POST', `/shots/${shot.id}/duplicate`, { name: 'Rough track' });
  await knownTrack(api, second.id, truth, [0, FRAMES - 1]);
  await page.reload();
  await expect(page.locator('.viewer')).toHaveAttribute('data-painted', /\d+ /);
  // Seen steadied, the middle of the screen stands still from frame to frame.
  await page.locator('.ledger').focus();
  await page.keyboard.press('g');
  await expect(page.locator('[data-steadied] .said')).toContainText('taken out');
  const pixels = () =>
    page
      .locator('[data-steadied] canvas')
      .evaluate((canvas: HTMLCanvasElement) =>
        [...canvas.getContext('2d')!.getImageData(canvas.width / 2 - 60, canvas.height / 2 - 40, 120, 80).data].filter(
          (_, i) => i % 4 === 1,
        ),
      );
  const at = async (frame: number) => {
    await goTo(page, frame);
    await expect(page.locator('[data-steadied]')).toHaveAttribute('data-steadied-frame', String(frame));
    return pixels();
  };
  const apart = (a: number[], b: number[]) => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length;
  const [early, late] = [await at(2), await at(14)];
  expect(apart(early, late)).toBeLessThan(6);
  // The surface is drawn where it stands still: its outline moves by less than a pixel of the page.
  const outlineAt = async () =>
    (await page.locator('[data-steadied-outline]').getAttribute('d'))!.match(/-?\d+(\.\d+)?/g)!.map(Number);
  const there = await outlineAt();
  await at(3);
  await expect.poll(async () => (await outlineAt()).every((v, i) => Math.abs(v - there[i]!) < 0.5)).toBe(true);
  await page.keyboard.press('g');
  await expect(page.locator('[data-steadied]')).toHaveCount(0);
  await page
    .locator('section', { has: page.getByRole('heading', { name: 'Steady' }) })
    .getByRole('button', { name: 'show' })
    .click();
  // The steadied clip is written, to take along.
  await page.locator('[data-write-steady]').click();
  await expect(page.locator('[data-steadied-clip="done"] a')).toBeVisible({ timeout: 150_000 });
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.locator('[data-steadied-clip="done"] a').click(),
  ]);
  const zip = unzipSync(new Uint8Array(await readFile(await download.path())));
  expect(Object.keys(zip).sort()).toEqual(['steadied.mp4', 'steady.json']);
  expect(download.suggestedFilename()).toBe('orders-laptop-steadied.zip');
  await page.getByLabel('Follow on', { exact: true }).selectOption({ label: 'steadied by Rough track' });
  await saved(page);
  await api.call('POST', `/shots/${shot.id}/track/clear`, { frames: [0, FRAMES - 1] });
  await both.click();
  await expect
    .poll(async () => (await handedOn(api, shot.id, truth)).filter(Number.isFinite).length, { timeout: 120_000 })
    .toBe(FRAMES);
  const found = await handed();
  found.forEach((row, i) => row.slice(1).forEach((v, k) => expect(Math.abs(v - direct[i]![k + 1]!)).toBeLessThan(0.1)));
  expect(found.flat().some((v, i) => v !== direct.flat()[i])).toBe(true);
});
