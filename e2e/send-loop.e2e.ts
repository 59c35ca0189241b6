import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Project, Shot, ShotDetail } from '../core/base/schemas/types.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { driftingTake } from '../server/test/media-files.ts';
import { expect, saved, test } from './support/workspace.ts';

test('a loop is made and played: a dividing line is dragged and keyed, the jump is reported, the film goes round, all can be taken back', async ({
  page,
  service,
}) => {
  test.setTimeout(240_000);
  const { api } = service;
  const folder = temporaryFolder();
  const LENGTH = 26;
  const FADE = 6;
  try {
    await driftingTake(join(folder.path, 'take.mkv'), LENGTH);
    const project = await api.call<Project>('POST', '/projects', { name: 'Round and round' });
    const shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Tapped tablet' });
    const { media } = await api.bringIn(project.id, 'take.mkv', await readFile(join(folder.path, 'take.mkv')));
    await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: media.id });
    const loop = async () => (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document.loop;
    await page.goto(`${service.address}/shots/${shot.id}/send`);
    const section = page.locator('[data-loop]');
    await expect(section).toContainText('its end goes over into its beginning');
    await section.getByRole('button', { name: 'show' }).click();
    // What is finished is not there yet: it says so, and what to do.
    await section.locator('[data-make-loop]').click();
    await expect(page.getByRole('alert').first()).toContainText(/corners|content/i);
    await section.getByRole('group', { name: 'What is joined' }).getByRole('button', { name: 'plate' }).click();
    await section.getByLabel('Goes over in, frames').fill(String(FADE));
    await section.getByLabel('Goes over in, frames').press('Enter');
    await section.getByRole('group', { name: 'Divided by' }).getByRole('button', { name: 'line' }).click();
    await saved(page);
    expect(await loop()).toMatchObject({
      of: 'plate',
      fade: FADE,
      split: {
        home: 0,
        line: {
          points: [
            [160, 180],
            [160, 0],
          ],
        },
      },
    });
    // An end is dragged on the first frame, and nudged on a later one: that is a key.
    const end = page.locator('[data-split-end="1"]');
    const box = (await end.boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2 + 60, box.y + box.height / 2 + 4, { steps: 4 });
    await page.mouse.up();
    await saved(page);
    expect((await loop())!.split!.line!.points[1]![0]).toBeGreaterThan(165);
    await page.locator('.ledger').focus();
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight');
    await expect(page.locator('.viewer')).toHaveAttribute('data-frame', '3');
    await end.focus();
    await page.keyboard.press('Shift+ArrowLeft');
    await saved(page);
    expect((await loop())!.split!.line!.keys).toMatchObject([{ frame: 3 }]);
    await page.locator('.ledger').focus();
    await page.keyboard.press('Control+z');
    await saved(page);
    expect((await loop())!.split!.line!.keys).toBeUndefined();
    // Made, told, played.
    await section.locator('[data-make-loop]').click();
    await expect(section.locator('[data-loop-made="done"]')).toBeVisible({ timeout: 120_000 });
    await expect(section.locator('[data-loop-made="done"]')).toContainText(`${LENGTH - FADE} frames`);
    const told = /join: ([\d.]+) px, ([\d.]+) of 255/.exec((await section.locator('[data-jump]').textContent())!)!;
    expect(Number(told[1])).toBeLessThan(0.3);
    expect(Number(told[2])).toBeLessThan(1);
    await section.locator('[data-play-loop]').click();
    const player = page.locator('[data-loop-player]');
    await expect(player).toBeVisible();
    // It goes round: its time falls back and grows again.
    await expect
      .poll(
        () =>
          player.evaluate((video: HTMLVideoElement) => {
            const w = window as unknown as { turns?: number; last?: number };
            w.turns = (w.turns ?? 0) + (video.currentTime < (w.last ?? 0) ? 1 : 0);
            w.last = video.currentTime;
            return w.turns;
          }),
        { timeout: 30_000, intervals: [100] },
      )
      .toBeGreaterThan(1);
    expect(await player.evaluate((video: HTMLVideoElement) => Math.round(video.duration * 25))).toBe(LENGTH - FADE);
    await page.keyboard.press('Escape');
    await expect(player).toHaveCount(0);
    // By numbers: the beginning lies half through over the end, where the numbers put it.
    await section.getByRole('group', { name: 'Align' }).getByRole('button', { name: 'by hand' }).click();
    await section.locator('[data-go-join]').click();
    const ghost = page.locator('[data-ghost]');
    const left = async () => (await ghost.boundingBox())!;
    await expect(ghost).toHaveAttribute('data-ghost', String(LENGTH - 1 - FADE / 2 - (LENGTH - FADE)));
    const before = await left();
    await section.getByLabel('Right, px').fill('4');
    await section.getByLabel('Right, px').press('Enter');
    await expect.poll(async () => Math.round((320 * (before.x - (await left()).x)) / before.width)).toBe(4);
    await saved(page);
    expect((await loop())!.byHand).toEqual({ move: [4, 0], turn: 0, scale: 1 });
    await page.locator('.ledger').focus();
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect(ghost).toHaveCount(0);
  } finally {
    folder.remove();
  }
});
