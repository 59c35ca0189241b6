import type { ShotDetail, ShotDocument } from '../core/base/schemas/types.ts';
import { knownTrack, preparedShot } from '../server/test/prepared-shot.ts';
import { expect, saved, test } from './support/workspace.ts';
import { cornersOff, openPage, goTo, dragKey } from './support/by-hand.ts';

test('a phone thrown and caught: followed while it is held, eight keys in its flight, pulled, and all of it spliced', async ({
  page,
  service,
}) => {
  const LENGTH = 64;
  const { api } = service;
  const { shot, truth } = await preparedShot(api, LENGTH, {
    reference: 4,
    clip: 'thrown-phone',
  });
  const revise = async (id: number, change: Partial<ShotDocument>) => {
    const detail = await api.call<ShotDetail>('GET', `/shots/${id}`);
    await api.call('PUT', `/shots/${id}/document`, {
      base: detail.shot.revision,
      document: { ...detail.document, ...change },
    });
  };
  // The glove that holds it is kept out; the same plate is followed from a frame after the catch in a shot of its own.
  const second = await api.call<{ id: number }>('POST', `/shots/${shot.id}/duplicate`, { name: 'After the catch' });
  const late = LENGTH - 6;
  await revise(shot.id, { keepOut: [{ points: (truth as unknown as { keepOut: [number, number][] }).keepOut }] });
  const after = truth.frames[late]!.corners;
  const [mx, my] = [0, 1].map((k) => after.reduce((sum, c) => sum + c[k]!, 0) / 4) as [number, number];
  await revise(second.id, {
    referenceFrame: late,
    corners: after as unknown as ShotDocument['corners'],
    regions: [{ points: after.map(([x, y]): [number, number] => [x + 0.12 * (x - mx), y + 0.12 * (y - my)]) }],
  });
  await knownTrack(api, second.id, truth, [42, LENGTH - 1]);
  // As the accuracy tables count: root mean square of the four corners.
  const off = async () => (await cornersOff(api, shot.id, truth, LENGTH)).map((corners) => Math.hypot(...corners) / 2);
  await page.goto(`${service.address}/shots/${shot.id}/follow`);
  await expect(page.locator('.viewer')).toHaveAttribute('data-painted', /^4 /);
  await goTo(page, 20);
  await page.keyboard.press('u');
  await saved(page);
  await page.getByRole('button', { name: 'Both ways' }).click();
  await expect.poll(async () => (await off()).filter(Number.isFinite).length, { timeout: 120_000 }).toBe(21);
  await goTo(page, LENGTH - 1);
  await page.keyboard.press('u');
  // Extremes first, then halves: each key is put where the last ones say, and dragged onto the corners.
  await openPage(page, 'Keys');
  for (const frame of [18, 44, 33, 25, 22, 40, 29, 37]) {
    await goTo(page, frame);
    await page.locator('[data-put-key]').click();
    await dragKey(page, truth, frame);
  }
  await saved(page);
  await openPage(page, 'Spans');
  await page.locator('[data-span-keys]').click();
  await page.getByLabel('Source of span 3').selectOption({ label: 'After the catch' });
  await saved(page);
  const rough = await off();
  await openPage(page, 'Keys');
  await page.locator('[data-pull]').click();
  await expect(page.locator('[data-pulled]')).toHaveText(/^1\d frames$/, { timeout: 120_000 });
  await expect
    .poll(async () => (await api.call<{ rows: unknown[] }>('GET', `/shots/${shot.id}/pull`)).rows.length, {
      timeout: 120_000,
    })
    .toBe(19);
  const finished = await off();
  expect(Math.max(...rough)).toBeGreaterThan(2);
  expect(Math.max(...finished)).toBeLessThan(2);
  expect(finished.filter((v) => v < 1).length).toBeGreaterThanOrEqual(0.8 * LENGTH);
  await openPage(page, 'Spans');
  await expect(page.locator('[data-jump]')).toHaveCount(2);
  // A whole span is dragged in the ledger, its neighbours give and take; undone, all is as it was.
  const spans = async () =>
    (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document.spans!.map(({ from, to }) => [from, to]);
  const bar = (await page.locator('[data-span-bar="keys"]').boundingBox())!;
  const frame = bar.width / 27;
  await page.mouse.move(bar.x + bar.width / 2, bar.y + 8);
  await page.mouse.down();
  await page.mouse.move(bar.x + bar.width / 2 + 2 * frame, bar.y + 8, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  expect(await spans()).toEqual([
    [0, 19],
    [20, 46],
    [47, LENGTH - 1],
  ]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  expect(await spans()).toEqual([
    [0, 17],
    [18, 44],
    [45, LENGTH - 1],
  ]);
});
