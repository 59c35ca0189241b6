import type { Page } from '@playwright/test';
import type { Api } from '../../server/test/api.ts';
import { expect, plateView } from './workspace.ts';

export const FRAMES = 16;
export const REFERENCE = 4;

export interface Truth {
  frames: { corners: readonly (readonly number[])[] }[];
}
/** How far each corner of what is handed on is from where it truly is, px, by frame; infinite where there is none. */
export async function cornersOff(api: Api, shotId: number, truth: Truth, count = FRAMES): Promise<number[][]> {
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
export const handedOn = async (api: Api, shotId: number, truth: Truth): Promise<number[]> =>
  (await cornersOff(api, shotId, truth)).map((corners) => Math.max(...corners));
export const openPage = (page: Page, name: string) => page.locator('nav.pages').getByRole('button', { name }).click();
export const goTo = async (page: Page, frame: number) => {
  const viewer = page.locator('.viewer');
  const away = frame - Number(await viewer.getAttribute('data-frame'));
  await page.locator('.ledger').focus();
  const press = async (key: string, times: number) => {
    for (let i = 0; i < times; i++) await page.keyboard.press(key);
  };
  await press(away > 0 ? 'PageDown' : 'PageUp', Math.floor(Math.abs(away) / 10));
  await press(away > 0 ? 'ArrowRight' : 'ArrowLeft', Math.abs(away) % 10);
  await expect(viewer).toHaveAttribute('data-frame', String(frame));
};

/** Each keyed corner is dragged to within a pixel or so of where it is: the mouse goes by whole pixels of the page. */
export async function dragKey(page: Page, truth: Truth, frame: number): Promise<void> {
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
