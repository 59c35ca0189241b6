import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { readFile } from 'node:fs/promises';
import type { ShotDetail, ShotDocument } from '../core/base/schemas/types.ts';
import type { Api } from '../server/test/api.ts';
import { knownTrack, preparedShot } from '../server/test/prepared-shot.ts';
import { expect, plateView, saved, test } from './support/workspace.ts';

const FRAMES = 16;
const REFERENCE = 4;

interface Truth {
  frames: { corners: readonly (readonly number[])[] }[];
}
/** The laptop's screen dark, and a glare that crosses its upper left corner. */

/** How far each corner of what is handed on is from where it truly is, px, by frame; infinite where there is none. */
async function cornersOff(api: Api, shotId: number, truth: Truth, count = FRAMES): Promise<number[][]> {
  // Nothing is handed on before anything is followed.
  const text = await api.bytes(`/shots/${shotId}/export/corners-csv`).catch(() => '');
  const rows = text
    .toString()
    .split('\n')
    .filter((l) => /^\d/.test(l))
    .map((l) => l.split(','));
  const off = Array.from({ length: count }, () => [Infinity]);
  for (const [frame, ...c] of rows)
    if (c[0] !== '')
      off[Number(frame)] = truth.frames[Number(frame)]!.corners.map(([x, y], i) =>
        Math.hypot(Number(c[2 * i]) - x!, Number(c[2 * i + 1]) - y!),
      );
  return off;
}
/** The worst corner's distance on each frame, px. */
const handedOn = async (api: Api, shotId: number, truth: Truth): Promise<number[]> =>
  (await cornersOff(api, shotId, truth)).map((corners) => Math.max(...corners));
const openPage = (page: Page, name: string) => page.locator('nav.pages').getByRole('button', { name }).click();
const goTo = async (page: Page, frame: number) => {
  const viewer = page.locator('.viewer');
  const away = frame - Number(await viewer.getAttribute('data-frame'));
  await page.locator('.ledger').focus();
  for (let i = 0; i < Math.abs(away); i++) await page.keyboard.press(away > 0 ? 'ArrowRight' : 'ArrowLeft');
  await expect(viewer).toHaveAttribute('data-frame', String(frame));
};

/** Each keyed corner is dragged to within a pixel or so of where it is: the mouse goes by whole pixels of the page. */
async function dragKey(page: Page, truth: Truth, frame: number): Promise<void> {
  for (const [corner, [x, y]] of truth.frames[frame]!.corners.entries()) {
    const view = await plateView(page);
    const to = view.toPage(x!, y!);
    const from = (await page.locator(`[data-key-corner="${corner}"]`).boundingBox())!;
    await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
    await page.mouse.down();
    await page.mouse.move(from.x + from.width / 2 + 3, from.y + from.height / 2, { steps: 2 });
    await page.mouse.move(to.x, to.y, { steps: 3 });
    await page.mouse.up();
  }
}

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

test('a phone thrown and caught: followed while it is held, eight keys in its flight, pulled, and all of it spliced', async ({
  page,
  service,
}) => {
  const LENGTH = 64;
  const { api } = service;
  const { shot, truth } = await preparedShot(api, LENGTH, {
    reference: 4,
    clip: 'thrown-phone',
    points: null,
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
