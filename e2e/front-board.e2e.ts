import { canvasPixels, expect, saved, test } from './support/workspace.ts';
import { glove, documentOf, rendered, atFrame } from './support/glove-shot.ts';

test('a board: a page that scrolls and a message that appears, keyed, and edited later', async ({ page, service }) => {
  const { api } = service;
  const { shot } = await glove(api);
  await page.goto(`${service.address}/shots/${shot.id}/content`);
  await page.locator('[data-begin-board]').click();
  await expect(page.locator('[data-board-stage]')).toHaveAttribute('data-board-frame', /\d/);
  // Two keys scroll the page.
  await atFrame(page, 2);
  await page.locator('[data-layer="page"] .entry').click();
  await page.locator('[data-key-of="position"]').click();
  await atFrame(page, 8);
  await page.getByLabel('Down, px').fill('-400');
  await page.keyboard.press('Enter');
  await saved(page);
  const scroll = async () => (await documentOf(api, shot.id)).look.board!.layers.find((l) => l.id === 'page')!.position;
  expect(await scroll()).toEqual([
    { frame: 2, value: [0, 0] },
    { frame: 8, value: [0, -400] },
  ]);
  await expect(page.locator('[data-layer-key="page-2"]')).toBeVisible();
  // A message fades in.
  await page.getByRole('button', { name: 'Add: Text' }).click();
  await page.getByRole('textbox', { name: 'Text', exact: true }).fill('House 2 is dry');
  await page.getByRole('textbox', { name: 'Text', exact: true }).press('Tab');
  await page.locator('[data-key-of="opacity"]').click();
  await atFrame(page, 6);
  await page.getByLabel('Opacity, %').fill('0');
  await page.keyboard.press('Enter');
  await saved(page);
  const before = await api.bytes(`/shots/${shot.id}/export/homography-json`);
  // Dragged on the stage: it snaps to the board's middle.
  await atFrame(page, 8);
  const outline = page.locator('[data-layer-outline]').last();
  const box = (await outline.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 3, box.y + box.height / 2 + 60, { steps: 4 });
  await page.mouse.up();
  await saved(page);
  const text = (await documentOf(api, shot.id)).look.board!.layers.at(-1)!;
  expect(text).toMatchObject({
    kind: 'text',
    text: 'House 2 is dry',
    opacity: [
      { frame: 6, value: 0 },
      { frame: 8, value: 1 },
    ],
  });
  // Seen on the plate, edited, and seen again at once.
  await page.locator('[data-open-board]').click();
  await expect(page.locator('.viewer')).toHaveAttribute('data-painted', '8 exact', { timeout: 120_000 });
  const pixels = async () =>
    JSON.stringify(
      await canvasPixels(
        page,
        Array.from({ length: 400 }, (_, i) => [280 + (i % 20) * 4, 165 + Math.floor(i / 20) * 4] as [number, number]),
      ),
    );
  const was = await pixels();
  await page.getByRole('textbox', { name: 'Text', exact: true }).fill('Water bed 4 now');
  await page.getByRole('textbox', { name: 'Text', exact: true }).press('Tab');
  await expect.poll(pixels, { timeout: 120_000 }).not.toBe(was);
  await saved(page);
  expect(await api.bytes(`/shots/${shot.id}/export/homography-json`)).toEqual(before);
  const frame = await rendered(api, shot.id, 8);
  expect(frame.length).toBe(640 * 360 * 3);
});
