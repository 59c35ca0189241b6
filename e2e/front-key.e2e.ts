import type { FrontReply } from '../core/base/schemas/types.ts';
import { canvasPixels, clickPlate, expect, saved, test } from './support/workspace.ts';
import { trueComposite } from './support/true-composite.ts';
import { SHOWN, glove, documentOf, rendered, atFrame } from './support/glove-shot.ts';

test('the glove shot: a proposed key and one shape, looked at, undone, rendered like the truth', async ({
  page,
  service,
}) => {
  const { api } = service;
  const { shot, truth } = await glove(api);
  await page.goto(`${service.address}/shots/${shot.id}/front`);
  await page.locator('[data-propose-key]').click();
  await expect(page.locator('[data-colour-key="0"]')).toBeVisible({ timeout: 120_000 });
  await saved(page);
  const { look } = await documentOf(api, shot.id);
  const [key] = look.keys as FrontReply['keys'];
  expect(key!.colour[1]).toBeGreaterThan(5 * key!.colour[0]);
  expect(look.markers!.length).toBeGreaterThan(4);
  // What it was measured from stands beside it, until a number is set by hand.
  const reason = page.getByRole('button', { name: /^Measured: Key\. The screen shows one colour/ });
  const blur = page.locator('[data-colour-key="0"]').getByLabel('Blur, px');
  await expect(reason).toBeVisible();
  await blur.fill('0.4');
  await blur.press('Enter');
  await expect(reason).toHaveCount(0);
  await saved(page);
  await page.locator('.ledger').focus();
  await page.keyboard.press('Control+z');
  await expect(reason).toBeVisible();
  await saved(page);
  await atFrame(page, SHOWN);
  // The matte: black on the thumb, white on the screen, black outside.
  const corners = truth.frames[SHOWN]!.corners;
  const on = (u: number, v: number): [number, number] =>
    [0, 1].map(
      (k) =>
        (1 - v) * ((1 - u) * corners[0]![k]! + u * corners[1]![k]!) +
        v * ((1 - u) * corners[3]![k]! + u * corners[2]![k]!),
    ) as [number, number];
  const thumb = on(0.14, 0.7);
  const screen = on(0.3, 0.3);
  const wall: [number, number] = [60, 60];
  await page.getByRole('group', { name: 'Look at' }).getByRole('button', { name: 'matte' }).click();
  await expect(page.locator('.viewer')).toHaveAttribute('data-painted', `${SHOWN} exact`, { timeout: 120_000 });
  await expect.poll(async () => (await canvasPixels(page, [thumb, screen, wall])).map(([r]) => r)).toEqual([0, 255, 0]);
  await page.getByRole('group', { name: 'Look at' }).getByRole('button', { name: 'finished' }).click();
  // A shape drawn over the clear screen keeps the plate there, and rides.
  await page.getByRole('button', { name: 'Draw a shape (D)' }).click();
  const square = [on(0.35, 0.8), on(0.6, 0.8), on(0.6, 0.9), on(0.35, 0.9)];
  await clickPlate(page, square);
  await page.keyboard.press('Enter');
  await saved(page);
  const drawn = (await documentOf(api, shot.id)).look.shapes!;
  expect(drawn).toMatchObject([{ does: 'keep', home: SHOWN }]);
  const middle = on(0.47, 0.85);
  await expect
    .poll(
      async () => {
        const [r, g] = (await canvasPixels(page, [middle]))[0]!;
        return g! - r!;
      },
      { timeout: 120_000 },
    )
    .toBeGreaterThan(25);
  // Its corner is moved on another frame: a key, seen in the ledger.
  await atFrame(page, SHOWN - 4);
  const handle = page.locator('[aria-label="Point 1 of shape 1"]');
  await handle.focus();
  await page.keyboard.press('Shift+ArrowUp');
  await saved(page);
  expect((await documentOf(api, shot.id)).look.shapes![0]!.keys).toHaveLength(1);
  await expect(page.locator('[data-key^="shapes-0-"]')).toHaveCount(2);
  // Undone step by step; the key stays.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await documentOf(api, shot.id)).look.shapes ?? []).toHaveLength(0);
  expect((await documentOf(api, shot.id)).look.keys).toEqual(look.keys);
  // Redone and reloaded: nothing is lost.
  await page.keyboard.press('Control+Shift+z');
  await saved(page);
  await page.reload();
  await expect(page.locator('[data-shape="0"]')).toBeVisible();
  await page.locator('[data-shape="0"] [aria-label^="Remove"]').click();
  await saved(page);
  // What the server renders is what it would have looked like.
  const ours = await rendered(api, shot.id, SHOWN);
  const expected = await trueComposite('held-phone', SHOWN);
  let sum = 0;
  let n = 0;
  let green = 0;
  for (let v = 0.02; v < 0.98; v += 0.01)
    for (let u = 0.02; u < 0.98; u += 0.02) {
      const [x, y] = on(u, v);
      const i = (Math.floor(y) * truth.width + Math.floor(x)) * 3;
      for (let c = 0; c < 3; c++) sum += Math.abs(ours[i + c]! - expected[i + c]!);
      green = Math.max(
        green,
        ours[i + 1]! - (ours[i]! + ours[i + 2]!) / 2 - (expected[i + 1]! - (expected[i]! + expected[i + 2]!) / 2),
      );
      n += 3;
    }
  expect(sum / n).toBeLessThan(6);
  expect(green).toBeLessThan(45);
});
