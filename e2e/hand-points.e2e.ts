import type { ShotDetail, ShotDocument } from '../core/base/schemas/types.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { expect, saved, test } from './support/workspace.ts';
import { FRAMES, REFERENCE, handedOn, openPage, goTo } from './support/by-hand.ts';

test('four corner points: run, cleared, put right by hand in a magnifier, run on, and used; undone all the way', async ({
  page,
  service,
}) => {
  const { api } = service;
  const { shot, truth } = await preparedShot(api, FRAMES, { reference: REFERENCE });
  const document = async (): Promise<ShotDocument> => (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document;
  await page.goto(`${service.address}/shots/${shot.id}/follow`);
  await expect(page.locator('.viewer')).toHaveAttribute('data-painted', new RegExp(`^${REFERENCE} `));
  await openPage(page, 'Points');
  await page.locator('[data-add-corners]').click();
  await expect(page.locator('[data-magnifier]')).toHaveCount(4);
  // A box is sized by its corner in the viewer: by as much as the hand moves, on both sides.
  await page.locator('[data-point-row="top-left"] .who').click();
  const grip = (await page.locator('[data-box="pattern"][data-of="top-left"]').boundingBox())!;
  await page.mouse.move(grip.x + 5, grip.y + 5);
  await page.mouse.down();
  await page.mouse.move(grip.x + 10, grip.y + 10, { steps: 3 });
  await page.mouse.up();
  await saved(page);
  expect((await document()).cornerPoints![0]!.pattern![0]).toBeGreaterThan(24);
  await page.locator('[data-point-row="top-left"] .who').click();
  await page.locator('[data-run="both"]').click();
  await expect(page.locator('[data-use-points]')).toBeVisible({ timeout: 90_000 });
  await expect
    .poll(async () => (await api.call<{ rows: unknown[] }>('GET', `/shots/${shot.id}/points`)).rows.length, {
      timeout: 90_000,
    })
    .toBe(4 * (FRAMES - 1));
  // They become the surface's motion.
  await openPage(page, 'Spans');
  await page.locator('[data-all-points]').click();
  await saved(page);
  expect(Math.max(...(await handedOn(api, shot.id, truth)))).toBeLessThan(1);
  await expect(page.locator('[data-span-bar="points"]')).toBeVisible();
  // A stretch of one of them is thrown away: there the surface is not known.
  await openPage(page, 'Points');
  await goTo(page, 10);
  await page.locator('[data-magnifier="bottom-right"]').click({ position: { x: 20, y: 20 } });
  await page.locator('[data-clear="after"]').click();
  await saved(page);
  expect((await handedOn(api, shot.id, truth)).map((v) => Number.isFinite(v)).lastIndexOf(true)).toBe(10);
  // Its magnifier steps through the frames; dragging the picture there puts it by hand, by sixths of a pixel.
  await page.locator('[data-runs-on]').check();
  const glass = page.locator('[data-magnifier="bottom-right"]');
  const box = (await glass.boundingBox())!;
  await glass.focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('.viewer')).toHaveAttribute('data-frame', '11');
  await page.mouse.move(box.x + 60, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(box.x + 72, box.y + 40, { steps: 4 });
  await page.mouse.up();
  await saved(page);
  const key = (await document()).cornerPoints![2]!.keys![0]!;
  const before = (
    await api.call<{ rows: { name: string; frame: number; at: [number, number] }[] }>('GET', `/shots/${shot.id}/points`)
  ).rows.find((r) => r.name === 'bottom-right' && r.frame === 10)!;
  expect(key.frame).toBe(11);
  expect(key.at[0]).toBeCloseTo(before.at[0] - 2, 1);
  expect(key.at[1]).toBeCloseTo(before.at[1], 1);
  // From there it has run on by itself, to the end.
  await expect
    .poll(async () => (await handedOn(api, shot.id, truth)).slice(12).every((v) => v < 1), { timeout: 90_000 })
    .toBe(true);
  // The one that most wants a look is one press away.
  await page.locator('[data-worst]').click();
  await expect(page.locator('.points li.picked')).toHaveCount(1);
  // All of it can be taken back, to before there were any points.
  const undo = page.getByRole('button', { name: 'Undo' });
  for (let i = 0; i < 20 && (await undo.isEnabled()); i++) await undo.click();
  await saved(page);
  expect(await document()).not.toHaveProperty('cornerPoints');
  expect(await document()).not.toHaveProperty('spans');
});
