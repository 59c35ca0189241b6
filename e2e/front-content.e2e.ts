import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Project, ShotDocument } from '../core/base/schemas/types.ts';
import { runTool } from '../server/media/run-tool.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { canvasPixels, expect, saved, test } from './support/workspace.ts';
import { documentOf, rendered, atFrame, type Corners, box, keyedScreen, dragFrom } from './support/glove-shot.ts';

test('content placed by its outline, its time on the ledger, and what crosses a dark screen', async ({
  page,
  service,
}) => {
  const { api } = service;
  const last = 15;
  const project = await api.call<Project>('POST', '/projects', { name: 'Dark screen' });
  const folder = temporaryFolder();
  try {
    const film = join(folder.path, 'dark.mkv');
    const clip = join(folder.path, 'greys.mkv');
    const lasts = `r=25:d=${(last + 1) / 25}`;
    // A light square crosses the dark screen (placed by time: an overlay's count of frames may be one ahead); the clip's frame n is 16·n all over.
    await runTool(
      'ffmpeg',
      [
        '-v',
        'error',
        '-f',
        'lavfi',
        '-i',
        `color=0x303030:s=640x360:${lasts}[a];color=0xd0d0d0:s=40x40:${lasts}[b];[a][b]overlay=x='150+20*round(25*t)':y=190`,
        '-vf',
        'format=bgr0',
        '-c:v',
        'ffv1',
        film,
      ],
      60_000,
    );
    await runTool(
      'ffmpeg',
      [
        '-v',
        'error',
        '-f',
        'lavfi',
        '-i',
        `nullsrc=s=64x64:r=25:d=0.4,format=gbrp,geq=r='16*N':g='16*N':b='16*N'`,
        '-vf',
        'format=bgr0',
        '-c:v',
        'ffv1',
        clip,
      ],
      60_000,
    );
    const plate = (await api.bringIn(project.id, 'dark.mkv', await readFile(film))).media;
    const greys = (await api.bringIn(project.id, 'greys.mkv', await readFile(clip))).media;
    const at = box(150, 100, 300, 200);
    const board = { format: 'yarlop-board/1' as const, width: 300, height: 200, background: '#2030c8', layers: [] };
    const shot = await keyedScreen(
      api,
      project,
      plate,
      'Dark screen',
      [
        [0, at],
        [last, at],
      ],
      { contentId: greys.id },
    );
    const other = await keyedScreen(
      api,
      project,
      plate,
      'Another',
      [
        [0, at],
        [last, at],
      ],
      { look: { board } },
    );
    await page.goto(`${service.address}/shots/${shot.id}/content`);
    await expect(page.locator('.viewer')).toHaveAttribute('data-painted', '0 exact', { timeout: 120_000 });
    const seen = async (...points: [number, number][]) =>
      (await canvasPixels(page, points)).map(([r, , b]) => [r, b].join());
    await atFrame(page, 6);
    await expect.poll(() => seen([300, 150])).toEqual(['96,96']);
    // By a corner it is scaled about its middle: what is left of the screen is its black. On the sheet that lies flat it is seen alike.
    await page.locator('[data-place-by-hand]').click();
    const [corner, opposite] = [
      (await page.locator('[data-place-corner="2"]').boundingBox())!,
      (await page.locator('[data-place-corner="0"]').boundingBox())!,
    ];
    await dragFrom(page, '[data-place-corner="2"]', (opposite.x - corner.x) / 4, (opposite.y - corner.y) / 4);
    const place = (await documentOf(api, shot.id)).look.place!;
    for (const factor of place.scale!) expect(factor).toBeCloseTo(0.5, 1);
    await expect.poll(() => seen([300, 200], [165, 115])).toEqual(['96,96', '0,0']);
    await page.locator('[data-place-flat]').click();
    await expect(page.locator('[data-content-flat] [data-place-corner]')).toHaveCount(4);
    await dragFrom(page, '[data-content-flat] [data-place-turn]', 60, 40);
    expect(Math.abs((await documentOf(api, shot.id)).look.place!.turn!)).toBeGreaterThan(20);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await saved(page);
    expect((await documentOf(api, shot.id)).look.place).toBeUndefined();
    // The ledger's bar of the content: started later by its end, two keys of its speed.
    await expect(page.locator('[data-run="in time"]')).toHaveAttribute('title', /Frames 0–9: shown in its time/);
    const ledger = (await page.locator('[data-ledger-content]').boundingBox())!;
    await dragFrom(page, '[data-content-end="start"]', ((ledger.width - 96) * 3.2) / (last + 1), 0);
    const start = (await documentOf(api, shot.id)).look.time!.start!;
    expect([2, 3, 4]).toContain(start);
    await expect.poll(() => seen([300, 150])).toEqual([`${16 * (6 - start)},${16 * (6 - start)}`]);
    await page.locator('[data-key-speed]').click();
    await expect(page.locator('[data-speed-key="6"]')).toBeVisible();
    await page.getByLabel('Speed, %').fill('200');
    await page.keyboard.press('Enter');
    await saved(page);
    expect((await documentOf(api, shot.id)).look.time!.speed).toEqual([{ frame: 6, value: 2 }]);
    // The board of the other shot is taken in its place: a copy.
    const boards = page.getByLabel('Take the board of another shot');
    await boards.focus();
    await expect(boards.locator('option')).toHaveCount(2);
    await boards.selectOption(String(other.id));
    await saved(page);
    expect((await documentOf(api, shot.id)).look.board).toEqual(board);
    await expect.poll(() => seen([300, 150])).toEqual(['32,200']);
    // What differs from the dark screen stands in front of it: the square, at 150 + 6·20.
    await page
      .getByRole('link', { name: /^Front/ })
      .first()
      .click();
    await page.locator('[data-difference]').click();
    await saved(page);
    await expect
      .poll(() => seen([290, 210], [350, 210], [225, 210]), { timeout: 120_000 })
      .toEqual(['208,208', '32,200', '32,200']);
    const pixel = (await rendered(api, shot.id, 6)).subarray((210 * 640 + 290) * 3, (210 * 640 + 290) * 3 + 3);
    expect([...pixel]).toEqual([208, 208, 208]);
  } finally {
    folder.remove();
  }
});

test('two surfaces, one passing before the other', async ({ page, service }) => {
  const { api } = service;
  const last = 11;
  const project = await api.call<Project>('POST', '/projects', { name: 'Two screens' });
  const folder = temporaryFolder();
  try {
    const film = join(folder.path, 'wall.mkv');
    await runTool(
      'ffmpeg',
      [
        '-v',
        'error',
        '-f',
        'lavfi',
        '-i',
        `color=0x606060:s=640x360:r=25:d=${(last + 1) / 25}`,
        '-c:v',
        'ffv1',
        '-pix_fmt',
        'bgr0',
        film,
      ],
      60_000,
    );
    const plate = await api.bringIn(project.id, 'wall.mkv', await readFile(film));
    const plain = (colour: string) =>
      sharp({ create: { width: 64, height: 64, channels: 3, background: colour } })
        .png()
        .toBuffer();
    const blue = await api.bringIn(project.id, 'blue.png', await plain('#2030c8'));
    const red = await api.bringIn(project.id, 'red.png', await plain('#c82020'));
    const screen = (name: string, contentId: number, from: Corners, to: Corners, more: Partial<ShotDocument>) =>
      keyedScreen(
        api,
        project,
        plate.media,
        name,
        [
          [0, from],
          [last, to],
        ],
        { contentId, ...more },
      );
    const phone = await screen('Phone', red.media.id, box(50, 150, 60, 100), box(490, 150, 60, 100), {});
    const wall = await screen('Wall screen', blue.media.id, box(150, 100, 300, 200), box(150, 100, 300, 200), {
      others: [{ shot: phone.id, nearer: true, border: 6 }],
    });
    await page.goto(`${service.address}/shots/${wall.id}/content`);
    await expect(page.locator(`[data-other="${phone.id}"]`)).toBeVisible();
    await atFrame(page, 6);
    // On frame 6 the phone's left side is at 50 + 6·40 = 290.
    const colours = async () =>
      (
        await canvasPixels(page, [
          [200, 200],
          [320, 200],
          [287, 200],
        ])
      ).map((p) => p.join());
    await expect.poll(colours, { timeout: 90_000 }).toEqual(['32,48,200', '200,32,32', '95,95,95']);
    // Laid behind, the wall screen covers it.
    await page.locator(`[data-other="${phone.id}"]`).getByRole('button', { name: 'behind' }).click();
    await expect.poll(colours, { timeout: 90_000 }).toEqual(['32,48,200', '32,48,200', '32,48,200']);
    await page.keyboard.press('Control+z');
    await saved(page);
    const pixel = async (frame: number, x: number) => [
      ...(await rendered(api, wall.id, frame)).subarray((200 * 640 + x) * 3, (200 * 640 + x) * 3 + 3),
    ];
    expect(await pixel(6, 320)).toEqual([200, 32, 32]);
    expect(await pixel(9, 320)).toEqual([32, 48, 200]);
    // Another screen is a shot of its own on the same plate.
    await page.locator('[data-add-surface]').click();
    await expect(page).toHaveURL(/\/follow$/);
    expect((await documentOf(api, wall.id)).others).toHaveLength(2);
  } finally {
    folder.remove();
  }
});
