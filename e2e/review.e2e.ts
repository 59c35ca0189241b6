import sharp from 'sharp';
import type { Job, ShotDetail } from '../core/base/schemas/types.ts';
import { expect, test } from './support/workspace.ts';
import { FRAMES, followedShot } from './support/followed-shot.ts';

test('a review: versions side by side, a note pinned by somebody with the link, answered and settled in the shot', async ({
  page,
  browser,
  service,
}) => {
  test.setTimeout(180_000);
  const { api } = service;
  const { shot } = await followedShot(api);
  const render = async () => {
    const { id } = await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [0, FRAMES - 1], output: 'h264' });
    expect(await api.ended(id)).toMatchObject({ state: 'done' });
  };
  await render();
  const {
    shot: { revision },
    document,
  } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await api.call('PUT', `/shots/${shot.id}/document`, {
    base: revision,
    document: { ...document, look: { ...document.look, soften: 4 } },
  });
  await render();
  await page.goto(`${service.address}/shots/${shot.id}/send`);
  await page.getByRole('link', { name: 'Versions and notes' }).click();
  await page.getByRole('button', { name: 'side by side' }).click();
  const pictures = page.locator('[data-pane] img');
  await expect(pictures).toHaveCount(2);
  await expect
    .poll(() => pictures.evaluateAll((all) => all.map((image) => (image as HTMLImageElement).naturalWidth)))
    .toEqual([640, 640]);
  const [second, first] = await pictures.evaluateAll((all) =>
    all.map((image) => Number((image as HTMLElement).dataset.version)),
  );
  // Two different pictures of one frame; going on, both go on.
  expect(
    Buffer.compare(await api.bytes(`/jobs/${second}/frames/0.jpg`), await api.bytes(`/jobs/${first}/frames/0.jpg`)),
  ).not.toBe(0);
  await page.keyboard.press('ArrowRight');
  for (const i of [0, 1]) await expect(pictures.nth(i)).toHaveAttribute('data-frame', '1');
  // In turns: at one place the one, then the other; what is seen is what is said. What differs between a soft and a sharp picture is dark.
  await page.getByRole('button', { name: 'in turns' }).click();
  const pane = page.locator('[data-pane="0"]');
  const seen = new Map<string, string>();
  await expect(pane.locator('img')).toHaveCount(2);
  // Asked of one moment: what is read in several steps may belong to both turns.
  const look = () =>
    pane.evaluate((element) => {
      const images = [...element.querySelectorAll('img')];
      const visible = images.filter((image) => getComputedStyle(image).visibility === 'visible');
      const canvas = new OffscreenCanvas(64, 36).getContext('2d')!;
      for (const image of visible) canvas.drawImage(image, 200, 100, 64, 36, 0, 0, 64, 36);
      return {
        turn: element.querySelector<HTMLElement>('[data-turn]')!.dataset.turn!,
        versions: visible.map((image) => image.dataset.version!),
        pixels: canvas.getImageData(0, 0, 64, 36).data.join(),
      };
    });
  const asked = async (): Promise<string[]> => {
    const { turn, versions, pixels } = await look();
    expect(versions).toEqual([turn]);
    seen.set(turn, pixels);
    return [...seen.keys()].toSorted();
  };
  // At another pace than theirs, else it would always be the same one's turn.
  await expect.poll(asked, { intervals: [130, 270] }).toEqual([String(first), String(second)].toSorted());
  expect(new Set(seen.values()).size).toBe(2);
  await page.getByRole('button', { name: 'difference', exact: true }).click();
  await expect
    .poll(async () =>
      (await sharp(await pane.screenshot()).stats()).channels.slice(0, 3).map(({ mean }) => mean > 0.05 && mean < 30),
    )
    .toEqual([true, true, true]);
  // A picture that is not there is named, in place of a hole.
  await page.route('**/frames/2.jpg', (asked) =>
    asked.fulfill({ status: 410, contentType: 'application/problem+json', body: '{}' }),
  );
  await page.reload();
  await page.getByLabel('Frame', { exact: true }).fill('2');
  await expect(page.locator('[data-gone]')).toContainText('Frame 2 of v002 is not here');
  await page.unroute('**/frames/2.jpg');
  await page.reload();
  await page.getByRole('button', { name: 'Links for reviewers' }).click();
  await page.getByLabel('Whom the review is for').fill('Agency');
  await page.getByLabel('v001').check();
  await page.locator('[data-share]').click();
  const link = await page.locator('[data-secret]').inputValue();

  const other = await browser.newContext({ viewport: { width: 1100, height: 760 } });
  const guest = await other.newPage();
  await guest.goto(link);
  await guest.getByLabel('Your name').fill('Ida');
  await guest.getByRole('button', { name: 'A frame on' }).click();
  await guest.getByRole('button', { name: 'A frame on' }).click();
  await expect(guest.locator('[data-review-frame]')).toHaveText('2');
  const box = (await guest.locator('[data-pane="0"]').boundingBox())!;
  await guest.mouse.click(box.x + 0.25 * box.width, box.y + 0.5 * box.height);
  await guest.getByLabel('Note').fill('Softer than before');
  await guest.getByRole('button', { name: 'Pin it' }).click();
  const pin = guest.locator('[data-pin]');
  await expect(pin).toBeVisible();
  const at = (await pin.boundingBox())!;
  expect(
    Math.hypot(at.x + at.width / 2 - box.x - 0.25 * box.width, at.y + at.height / 2 - box.y - 0.5 * box.height),
  ).toBeLessThan(2);
  // Zoomed in, it stays on its place of the picture.
  await guest.mouse.move(box.x + 0.25 * box.width, box.y + 0.5 * box.height);
  await guest.mouse.wheel(0, -300);
  await guest.mouse.wheel(0, -300);
  await expect
    .poll(async () => {
      const now = (await pin.boundingBox())!;
      return Math.hypot(now.x - at.x, now.y - at.y);
    })
    .toBeLessThan(2);

  // It comes to the shot by itself; the answer comes back.
  const note = page.locator('[data-note]');
  await expect(note).toContainText('Softer than before');
  await note.getByTitle('Go to frame 2').click();
  await expect(page.locator('[data-review-frame]')).toHaveText('2');
  await page.getByLabel('Your name').fill('Bea');
  await note.getByRole('button', { name: 'answer' }).click();
  await page.getByLabel('Answer').fill('As it was meant');
  await page.getByRole('button', { name: 'Send the answer' }).click();
  await note.getByRole('button', { name: 'settle' }).click();
  await expect(guest.locator('[data-note]')).toContainText('Bea As it was meant');
  await expect(guest.locator('[data-note]')).toContainText('settled');
  await other.close();
});
