import { expect, test as base, type Page } from '@playwright/test';
import type { ShotDetail } from '../../core/base/schemas/types.ts';
import { Api } from '../../server/test/api.ts';
import { temporaryFolder } from '../../server/test/folders.ts';
import { launch, type Launched } from '../../server/test/launched.ts';
import { runService, type RunService } from './run.ts';

interface Fixtures {
  /** The program that all journeys of the run share. */
  service: RunService & { api: Api };
  /** The program started for this journey alone, as a person starts it on an empty data folder. */
  ownService: Launched & { api: Api };
}

export const test = base.extend<Fixtures>({
  // Playwright wants the (empty) list of fixtures spelt out.
  // eslint-disable-next-line no-empty-pattern
  service: async ({}, use) => {
    const service = runService();
    await use({ ...service, api: new Api(service.address) });
  },
  // eslint-disable-next-line no-empty-pattern
  ownService: async ({}, use) => {
    const folder = temporaryFolder();
    const launched = await launch(folder.path);
    await use({ ...launched, api: new Api(launched.address) });
    await launched.stop();
    folder.remove();
  },
});

/** How large the plate of the page's shot is, px. */
async function plateSize(page: Page): Promise<{ width: number; height: number }> {
  const { origin, pathname } = new URL(page.url());
  const reply = await page.request.get(`${origin}/api/v1${/\/shots\/\d+/.exec(pathname)![0]}`);
  return ((await reply.json()) as ShotDetail).shot.plate!.facts!;
}

/** How plate pixels lie on the page: reckoned from the viewer's box, so that the test depends on nothing inside. */
export async function plateView(page: Page): Promise<{ toPage: (x: number, y: number) => { x: number; y: number } }> {
  const box = (await page.locator('.viewer').boundingBox())!;
  const { width, height } = await plateSize(page);
  // The viewer fits the plate with a margin of 16 px on its narrower side (docs/architecture.md).
  const scale = Math.min((box.width - 32) / width, (box.height - 32) / height);
  const left = box.x + (box.width - width * scale) / 2;
  const top = box.y + (box.height - height * scale) / 2;
  return { toPage: (x, y) => ({ x: left + x * scale, y: top + y * scale }) };
}

export async function clickPlate(page: Page, points: readonly (readonly [number, number])[]): Promise<void> {
  const view = await plateView(page);
  for (const [x, y] of points) {
    const at = view.toPage(x, y);
    await page.mouse.click(at.x, at.y);
  }
}

export const saved = (page: Page): Promise<void> =>
  expect(page.locator('[data-save]')).toHaveAttribute('data-save', 'saved');

/** The reading of a step on the rail. */
export const reading = (page: Page, step: string) => page.locator(`[data-reading="${step}"]`);

/** Colours of the viewer's canvas at plate points. */
export async function canvasPixels(page: Page, points: readonly (readonly [number, number])[]): Promise<number[][]> {
  const view = await plateView(page);
  const box = (await page.locator('.viewer').boundingBox())!;
  const places = points.map(([x, y]) => view.toPage(x, y)).map((p) => [p.x - box.x, p.y - box.y]);
  return page.locator('.viewer canvas').evaluate((canvas: HTMLCanvasElement, at) => {
    const context = canvas.getContext('2d')!;
    return at.map(([x, y]) => [
      ...context
        .getImageData(Math.round(x! * devicePixelRatio), Math.round(y! * devicePixelRatio), 1, 1)
        .data.slice(0, 3),
    ]);
  }, places);
}
/** Colours at a plate's point while one of two pictures in turns is painted: turn and pixel are read at one moment, in the page. */
export async function pixelInTurn(
  page: Page,
  turn: 'now' | 'other',
  [x, y]: readonly [number, number],
): Promise<number[]> {
  const view = await plateView(page);
  const box = (await page.locator('.viewer').boundingBox())!;
  const at = view.toPage(x, y);
  return page.locator('.viewer').evaluate(
    (viewer: HTMLElement, { turn, left, top }) =>
      new Promise<number[]>((done) => {
        const look = () => {
          if (viewer.dataset.turn !== turn) requestAnimationFrame(look);
          else
            done([
              ...viewer
                .querySelector('canvas')!
                .getContext('2d')!
                .getImageData(Math.round(left * devicePixelRatio), Math.round(top * devicePixelRatio), 1, 1)
                .data.slice(0, 3),
            ]);
        };
        look();
      }),
    { turn, left: at.x - box.x, top: at.y - box.y },
  );
}
export { expect };
