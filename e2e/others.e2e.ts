import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Job, ShotDetail, Variant } from '../core/base/schemas/types.ts';
import { probeFilm } from '../server/test/film-facts.ts';
import type { Api } from '../server/test/api.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { launch } from '../server/test/launched.ts';
import { expect, test } from './support/workspace.ts';

const FRAMES = 8;
const REFERENCE = 3;

const followedShot = (api: Api) => preparedShot(api, FRAMES, { reference: REFERENCE, followed: true });
/** Mean of the screen's middle on a picture of a frame. */
async function middle(picture: Buffer, corners: readonly (readonly [number, number])[]): Promise<number[]> {
  const { width } = await sharp(picture).metadata();
  const scale = width / 640;
  const x = scale * corners.reduce((sum, c) => sum + c[0] / 4, 0);
  const y = scale * corners.reduce((sum, c) => sum + c[1] / 4, 0);
  const { channels } = await sharp(
    await sharp(picture)
      .extract({
        left: Math.round(x - 15 * scale),
        top: Math.round(y - 10 * scale),
        width: Math.round(30 * scale),
        height: Math.round(20 * scale),
      })
      .png()
      .toBuffer(),
  ).stats();
  return channels.slice(0, 3).map((c) => c.mean);
}

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

test('where it asks who one is: the first account by the code of the start, an artist’s and a reviewer’s rights, a token, out again', async ({
  browser,
}) => {
  test.setTimeout(180_000);
  const folder = temporaryFolder();
  const launched = await launch(folder.path, { env: { YARLOP_SIGN_IN: 'yes' } });
  try {
    const code = /sign-in#([\w-]+)/.exec(launched.output())![1]!;
    const password = 'panes and putty 7';
    const context = await browser.newContext();
    const page = await context.newPage();
    // Whatever is opened, the door comes first.
    await page.goto(`${launched.address}/projects/1`);
    await expect(page.getByRole('heading', { name: 'The first account' })).toBeVisible();
    await page.goto(`${launched.address}/sign-in#${code}`);
    await page.getByLabel('Name').fill('Ada');
    await page.getByLabel('Password', { exact: true }).fill(password);
    await page.getByLabel('Password again').fill('something else');
    await page.getByRole('button', { name: 'Make the account' }).click();
    await expect(page.getByRole('alert')).toContainText('The two passwords differ');
    await page.getByLabel('Password again').fill(password);
    await page.getByRole('button', { name: 'Make the account' }).click();
    await expect(page.getByRole('heading', { name: 'Projects' })).toBeVisible();
    await page.getByRole('link', { name: 'Access' }).click();
    await page.getByLabel('Name of the account').fill('Cem');
    await page.getByLabel('Password', { exact: true }).fill(password);
    await page.getByLabel('Role of the account').selectOption('reviewer');
    await page.getByRole('button', { name: 'Make the account' }).click();
    await expect(page.locator('[data-account="Cem"]')).toContainText('reviewer');
    await page.getByLabel('Name of the token').fill('Farm');
    await page.getByRole('button', { name: 'Make the token' }).click();
    const secret = await page.locator('[data-secret]').inputValue();
    const asked = (token: string) =>
      fetch(`${launched.address}/api/v1/projects`, { headers: { Authorization: `Bearer ${token}` } }).then(
        (reply) => reply.status,
      );
    expect(await asked(secret)).toBe(200);
    await page.getByRole('button', { name: 'Withdraw Farm' }).click();
    await expect(page.locator('[data-token="Farm"]')).toContainText('withdrawn');
    expect(await asked(secret)).toBe(401);

    // A reviewer looks, and is told what they may not.
    const other = await browser.newContext();
    const reviewer = await other.newPage();
    await reviewer.goto(`${launched.address}/access`);
    await reviewer.getByLabel('Name').fill('Cem');
    await reviewer.getByLabel('Password').fill('wrong wrong');
    await reviewer.getByRole('button', { name: 'Sign in' }).click();
    await expect(reviewer.getByRole('alert')).toContainText('Name and password do not belong together');
    await reviewer.getByLabel('Password').fill(password);
    await reviewer.getByRole('button', { name: 'Sign in' }).click();
    await expect(reviewer.getByText('accounts and tokens are an owner’s')).toBeVisible();
    await reviewer.getByLabel('Password now').fill(password);
    await reviewer.getByLabel('New password').fill('glass and putty 8');
    await reviewer.getByRole('button', { name: 'Change it' }).click();
    await expect(reviewer.getByText('The password is changed')).toBeVisible();
    // Signed out, the session opens nothing any more.
    await page.getByRole('button', { name: 'Sign out Ada' }).click();
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await page.goto(`${launched.address}/`);
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await context.close();
    await other.close();
  } finally {
    await launched.stop();
    folder.remove();
  }
});
