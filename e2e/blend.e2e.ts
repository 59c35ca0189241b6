import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { psnrInside } from '../bench/psnr.ts';
import { codeToLight } from '../core/image/transfer.ts';
import type { Job, Look, ShotDetail, ShotDocument } from '../core/schemas/types.ts';
import { preparedShot, type Api } from '../server/test/service.ts';
import { canvasPixels, expect, saved, test } from './support/bench.ts';
import { trueComposite } from './support/true-composite.ts';

const FRAMES = 20, REFERENCE = 10, SHOWN = 14;

/** The laptop with the green screen, followed. */
async function laptop(api: Api) {
  const prepared = await preparedShot(api, FRAMES, REFERENCE), job = await api.call<Job>('POST', `/shots/${prepared.shot.id}/follow`, { direction: 'both' });
  expect((await api.ended(job.id)).state).toBe('done');
  return prepared;
}
const detailOf = (api: Api, id: number) => api.call<ShotDetail>('GET', `/shots/${id}`);
const lookOf = async (api: Api, id: number): Promise<Look> => (await detailOf(api, id)).document.look;
async function change(api: Api, id: number, recipe: (document: ShotDocument) => ShotDocument): Promise<void> {
  const { shot, document } = await detailOf(api, id);
  await api.call('PUT', `/shots/${id}/document`, { base: shot.revision, document: recipe(document) });
}
async function rendered(api: Api, shotId: number, frame: number): Promise<Buffer> {
  const job = await api.call<Job>('POST', `/shots/${shotId}/render`, { frames: [frame, frame], output: 'png' });
  expect((await api.ended(job.id)).state).toBe('done');
  return sharp(await api.bytes(`/jobs/${job.id}/frames/${frame}.png`)).removeAlpha().raw().toBuffer();
}
async function atFrame(page: Page, frame: number): Promise<void> {
  const viewer = page.locator('.viewer'), away = frame - Number(await viewer.getAttribute('data-frame'));
  await page.locator('.ledger').focus();
  for (let i = 0; i < Math.abs(away); i++) await page.keyboard.press(away > 0 ? 'ArrowRight' : 'ArrowLeft');
  await expect(viewer).toHaveAttribute('data-painted', `${frame} exact`, { timeout: 60_000 });
}
async function type(page: Page, label: string, value: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(value);
  await page.getByLabel(label, { exact: true }).press('Enter');
}

test('a laptop with a green screen: the look is measured, taken, compared with the truth, changed, and measured again', async ({ page, service }) => {
  // Drawn first: while it is, connections that wait would be closed.
  const goal = (await trueComposite('orders-laptop', [SHOWN])).get(SHOWN)!;
  const { api } = service, { shot, truth } = await laptop(api), outline = truth.frames[SHOWN]!.corners as [number, number][];
  await page.goto(`${service.address}/shots/${shot.id}/blend`);
  const before = await lookOf(api, shot.id);
  await page.getByRole('button', { name: 'Measure the look' }).click();
  await expect(page.getByRole('button', { name: /^Take all/ })).toBeVisible({ timeout: 120_000 });
  // Nothing is changed by measuring.
  expect(await lookOf(api, shot.id)).toEqual(before);
  await expect(page.getByText('of the device\'s straight borders', { exact: false }).first()).toBeVisible();
  // One alone, then the rest.
  await page.getByRole('button', { name: 'Take Softness' }).click();
  await saved(page);
  const one = await lookOf(api, shot.id);
  expect(Object.keys(one).filter((name) => !(name in before)).sort()).toEqual(['soften', 'why']);
  expect(Math.abs((one.soften as number) - truth.softness)).toBeLessThan(0.12);
  await page.getByRole('button', { name: /^Take all/ }).click();
  await saved(page);
  const taken = await lookOf(api, shot.id);
  expect(Object.keys(taken)).toEqual(expect.arrayContaining(['levels', 'motionBlur', 'grain', 'keys', 'spill']));
  expect(taken.why!['levels/white']!.says).toMatch(/\d+ places around the screen/);
  // The measured look is nearer to how the laptop would have looked than content as it comes; with grain off the noise does not count.
  const { width, height } = truth;
  await change(api, shot.id, (d) => ({ ...d, look: { ...d.look, grain: { ...d.look.grain!, off: true } } }));
  const measured = psnrInside(await rendered(api, shot.id, SHOWN), goal, width, height, outline);
  await change(api, shot.id, (d) => ({ ...d, look: {} }));
  const plain = psnrInside(await rendered(api, shot.id, SHOWN), goal, width, height, outline);
  expect(measured).toBeGreaterThan(plain + 6);
  expect(measured).toBeGreaterThan(24);
  // Put back what was taken; a value set by hand loses its reason, the others keep theirs.
  await change(api, shot.id, (d) => ({ ...d, look: taken }));
  await page.reload();
  await type(page, 'Soften, px', '3');
  await saved(page);
  const byHand = await lookOf(api, shot.id);
  expect(byHand.soften).toBe(3);
  expect(byHand.why!.soften).toBeUndefined();
  expect(byHand.why!['levels/white']).toBeDefined();
  // Undo brings value and reason back.
  await page.locator('.ledger').focus();
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await lookOf(api, shot.id)).why!.soften).toBeDefined();
  // Other corners: what was measured is out of date until it is measured again.
  await change(api, shot.id, (d) => ({ ...d, corners: d.corners!.map(([x, y]) => [x + 3, y + 2]) as ShotDocument['corners'] }));
  await page.reload();
  await expect(page.getByText(/values were measured along other corners/)).toBeVisible();
  await page.getByRole('button', { name: 'Measure again' }).click();
  await expect(page.getByRole('button', { name: /^Take all/ })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('button', { name: /^Take all/ }).click();
  await expect(page.getByText(/measured along other corners/)).toHaveCount(0);
});

test('softness keyed over the shot, and the content\'s light on the room, read back in pixels', async ({ page, service }) => {
  const { api } = service, { shot, truth } = await laptop(api);
  await page.goto(`${service.address}/shots/${shot.id}/blend`);
  await atFrame(page, 6);
  await page.getByRole('button', { name: 'Key: Soften' }).click();
  await atFrame(page, SHOWN);
  await type(page, 'Soften, px', '6');
  await saved(page);
  expect((await lookOf(api, shot.id)).soften).toEqual([{ frame: 6, value: 0 }, { frame: SHOWN, value: 6 }]);
  // Just outside the screen's left side: dark where it is sharp, lit by the content where it is soft.
  const beside = (frame: number): [number, number] => {
    const [a, b, , d] = truth.frames[frame]!.corners as [number, number][], inward = [b![0] - a![0], b![1] - a![1]], length = Math.hypot(...inward);
    return [(a![0] + d![0]) / 2 - (3 * inward[0]!) / length, (a![1] + d![1]) / 2 - (3 * inward[1]!) / length];
  };
  await expect(page.locator('.viewer')).toHaveAttribute('data-painted', `${SHOWN} exact`, { timeout: 60_000 });
  await expect.poll(async () => (await canvasPixels(page, [beside(SHOWN)]))[0]![1], { timeout: 30_000 }).toBeGreaterThan(90);
  await atFrame(page, 6);
  expect((await canvasPixels(page, [beside(6)]))[0]![1]).toBeLessThan(70);
  // Light around: below the screen the room grows brighter by the content's light, and not far away.
  const [, , c, d] = truth.frames[6]!.corners as [number, number][], below: [number, number] = [(c![0] + d![0]) / 2, Math.min(truth.height - 3, (c![1] + d![1]) / 2 + 25)], far: [number, number] = [4, 4], [near0, far0] = await canvasPixels(page, [below, far]);
  await type(page, 'Cast around, ×', '1');
  await saved(page);
  await expect.poll(async () => codeToLight((await canvasPixels(page, [below]))[0]![1]! / 255) / codeToLight(near0![1]! / 255), { timeout: 30_000 }).toBeGreaterThan(1.15);
  expect((await canvasPixels(page, [far]))[0]).toEqual(far0);
});
