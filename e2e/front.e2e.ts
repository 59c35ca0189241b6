import type { Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import { applyToPoint } from '../core/base/geometry/homography.ts';
import { UNIT_SQUARE } from '../core/base/geometry/quad.ts';
import type { FrontReply, Job, Media, Project, Shot, ShotDetail, ShotDocument } from '../core/base/schemas/types.ts';
import { runTool } from '../server/media/run-tool.ts';
import type { Api } from '../server/test/api.ts';
import { ROOT, temporaryFolder } from '../server/test/folders.ts';
import { preparedShot } from '../server/test/prepared-shot.ts';
import { canvasPixels, clickPlate, expect, plateView, saved, test } from './support/workspace.ts';
import { trueComposite } from './support/true-composite.ts';

const FRAMES = 14;
const REFERENCE = 3;
const SHOWN = 12;

async function glove(api: Api) {
  const prepared = await preparedShot(api, FRAMES, { reference: REFERENCE, clip: 'held-phone', followed: true });
  const { shot, project, truth } = prepared;
  const phone = await api.bringIn(
    project.id,
    'potting-round.png',
    await readFile(join(ROOT, 'demo/content/potting-round.png')),
  );
  const document = {
    ...prepared.document,
    keepOut: [{ points: truth.keepOut! }],
    contentId: phone.media.id,
    look: { levels: truth.levels, soften: truth.softness, motionBlur: { shutter: truth.shutter, phase: 0 } },
  } as ShotDocument;
  const { shot: now } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await api.call('PUT', `/shots/${shot.id}/document`, { base: now.revision, document });
  return { shot, truth };
}
const documentOf = async (api: Api, id: number): Promise<ShotDocument> =>
  (await api.call<ShotDetail>('GET', `/shots/${id}`)).document;
/** A rendered frame's pixels, as the server made it. */
async function rendered(api: Api, shotId: number, frame: number): Promise<Buffer> {
  const job = await api.call<Job>('POST', `/shots/${shotId}/render`, { frames: [frame, frame], output: 'png' });
  expect((await api.ended(job.id)).state).toBe('done');
  return sharp(await api.bytes(`/jobs/${job.id}/frames/${frame}.png`))
    .removeAlpha()
    .raw()
    .toBuffer();
}
const atFrame = async (page: Page, frame: number) => {
  const viewer = page.locator('.viewer');
  const away = frame - Number(await viewer.getAttribute('data-frame'));
  await page.locator('.ledger').focus();
  for (let i = 0; i < Math.abs(away); i++) await page.keyboard.press(away > 0 ? 'ArrowRight' : 'ArrowLeft');
  await expect(viewer).toHaveAttribute('data-painted', `${frame} exact`, { timeout: 120_000 });
};

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
  const expected = (await trueComposite('held-phone', [SHOWN], 'half')).get(SHOWN)!;
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

test('marks on the glove shot are found and painted out on all frames; one is brushed, patched, keyed and taken back; the cleaned plate is sent', async ({
  page,
  service,
}) => {
  test.setTimeout(300_000);
  const { api } = service;
  const { shot, truth } = await glove(api);
  const fixes = async () => {
    const { clean } = (await documentOf(api, shot.id)).look;
    return clean && clean.fixes !== 'find' ? clean.fixes : [];
  };
  const on = (frame: number, u: number, v: number) =>
    applyToPoint(homographyBetweenQuads(UNIT_SQUARE, truth.frames[frame]!.corners)!, [u, v]);
  const off = (a: number[], b: number[]) => Math.max(...a.map((v, c) => Math.abs(v - b[c]!)));
  await page.goto(`${service.address}/shots/${shot.id}/front`);
  const section = page.locator('[data-clean]');
  await section.scrollIntoViewIfNeeded();
  await expect(section).toContainText('somebody mirrored in the glass');
  await section.locator('[data-find-marks]').click();
  await expect(section.locator('[data-fix="5"]')).toBeVisible({ timeout: 120_000 });
  await saved(page);
  const found = (await fixes()).length;
  expect(found).toBeGreaterThanOrEqual(6);
  expect(found).toBeLessThanOrEqual(8);
  // On this frame and on another, with and without: where the mark was, the screen is as it is beside it.
  for (const frame of [SHOWN, REFERENCE]) {
    await atFrame(page, frame);
    const places = [on(frame, 0.25, 0.125), on(frame, 0.25, 0.19)] as const;
    const difference = async () => {
      const [a, b] = await canvasPixels(page, places);
      return off(a!, b!);
    };
    await section.getByRole('button', { name: 'cleaned' }).click();
    await expect.poll(difference, { timeout: 120_000 }).toBeLessThan(14);
    await section.getByRole('button', { name: 'plate' }).click();
    await expect.poll(difference, { timeout: 60_000 }).toBeGreaterThan(40);
  }
  // One of them taken as shown by the screen, under its glass: it goes as well.
  const at = on(REFERENCE, 0.25, 0.125);
  const near = (await fixes()).findIndex(({ shape }) =>
    shape!.points.every(([x, y]) => Math.hypot(x - at[0], y - at[1]) < 15),
  );
  await section.locator(`[data-fix="${near}"] .entry`).click();
  await section.getByRole('group', { name: 'Filled from' }).getByRole('button', { name: 'glass' }).click();
  await saved(page);
  expect((await fixes())[near]!.method).toBe('glass');
  await section.getByRole('button', { name: 'cleaned' }).click();
  await expect
    .poll(
      async () => {
        const [a, b] = await canvasPixels(page, [at, on(REFERENCE, 0.25, 0.19)]);
        return off(a!, b!);
      },
      { timeout: 120_000 },
    )
    .toBeLessThan(14);
  // A stroke of the brush over the phone's frame, filled from beside it; where it is taken from is dragged.
  await section.getByRole('button', { name: 'Brush' }).click();
  const view = await plateView(page);
  const stroke = [on(REFERENCE, 0.4, -0.04), on(REFERENCE, 0.6, -0.04)].map(([x, y]) => view.toPage(x, y));
  await page.mouse.move(stroke[0]!.x, stroke[0]!.y);
  await page.mouse.down();
  await page.mouse.move(stroke[1]!.x, stroke[1]!.y, { steps: 6 });
  await page.mouse.up();
  await expect(section.locator(`[data-fix="${found}"]`)).toBeVisible();
  await section.getByRole('group', { name: 'Filled from' }).getByRole('button', { name: 'patch' }).click();
  await saved(page);
  const from = (await fixes())[found]!.from!;
  const source = (await page.locator('[data-fix-source]').boundingBox())!;
  await page.mouse.move(source.x + source.width / 2, source.y + source.height / 2);
  await page.mouse.down();
  await page.mouse.move(source.x + source.width / 2 + 40, source.y + source.height / 2 + 30, { steps: 4 });
  await page.mouse.up();
  await saved(page);
  expect(off((await fixes())[found]!.from!, from)).toBeGreaterThan(0.05);
  // Moved on another frame, it has a key there, in the ledger too.
  await atFrame(page, REFERENCE + 4);
  await page.locator(`[aria-label="Move fix ${found + 1}"]`).focus();
  await page.keyboard.press('Shift+ArrowDown');
  await saved(page);
  expect((await fixes())[found]!.shape!.keys).toHaveLength(1);
  await expect(page.locator(`[data-key^="fixes-${found}-"]`)).toHaveCount(2);
  // Undone to the brush, step by step: key, source, filling, stroke.
  await page.locator('.ledger').focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z');
  await saved(page);
  expect(await fixes()).toHaveLength(found);
  // One drawn around nearly all of the screen is said to be too large; it can be taken away again.
  await section.getByRole('button', { name: 'Draw' }).click();
  await clickPlate(page, [
    on(REFERENCE + 4, 0.05, 0.05),
    on(REFERENCE + 4, 0.95, 0.05),
    on(REFERENCE + 4, 0.95, 0.95),
    on(REFERENCE + 4, 0.05, 0.95),
  ]);
  await page.keyboard.press('Enter');
  await expect(section.locator('[data-too-large]')).toContainText('Draw it smaller');
  await section.locator(`[data-fix="${found}"] [aria-label^="Remove"]`).click();
  await saved(page);
  expect(await fixes()).toHaveLength(found);
  // The cleaned plate as it is sent.
  const job = await api.ended(
    (
      await api.call<Job>('POST', `/shots/${shot.id}/render`, {
        frames: [SHOWN, SHOWN],
        output: 'png',
        layers: ['clean'],
      })
    ).id,
  );
  const zip = unzipSync(new Uint8Array(await api.bytes(`/jobs/${job.id}/files/${job.render!.files[0]!.name}`)));
  const sent = await sharp(Buffer.from(Object.values(zip)[0]!))
    .removeAlpha()
    .raw()
    .toBuffer();
  const pixel = ([x, y]: readonly [number, number]) => {
    const i = 3 * (Math.floor(y) * truth.width + Math.floor(x));
    return [...sent.subarray(i, i + 3)];
  };
  for (const [u, v] of [
    [0.25, 0.125],
    [0.75, 0.125],
    [0.25, 0.375],
  ] as const)
    expect(off(pixel(on(SHOWN, u, v)), pixel(on(SHOWN, u, v + 0.065)))).toBeLessThan(20);
});

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
  await atFrame(page, 10);
  await page.getByLabel('Down, px').fill('-400');
  await page.keyboard.press('Enter');
  await saved(page);
  const scroll = async () => (await documentOf(api, shot.id)).look.board!.layers.find((l) => l.id === 'page')!.position;
  expect(await scroll()).toEqual([
    { frame: 2, value: [0, 0] },
    { frame: 10, value: [0, -400] },
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
  await atFrame(page, 10);
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
      { frame: 10, value: 1 },
    ],
  });
  // Seen on the plate, edited, and seen again at once.
  await page.locator('[data-open-board]').click();
  await expect(page.locator('.viewer')).toHaveAttribute('data-painted', '10 exact', { timeout: 120_000 });
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
  const frame = await rendered(api, shot.id, 10);
  expect(frame.length).toBe(640 * 360 * 3);
});

type Corners = ShotDocument['corners'];
const box = (left: number, top: number, width: number, height: number) =>
  [
    [left, top],
    [left + width, top],
    [left + width, top + height],
    [left, top + height],
  ] as Corners;
/** A surface that is keyed by hand from one place to another. */
async function keyedScreen(
  api: Api,
  project: Project,
  plate: Media,
  name: string,
  keys: [[number, Corners], [number, Corners]],
  more: Partial<ShotDocument>,
): Promise<Shot> {
  const shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name });
  await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: plate.id });
  const { shot: now, document } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const [[first, from], [last, to]] = keys;
  await api.call('PUT', `/shots/${shot.id}/document`, {
    base: now.revision,
    document: {
      ...document,
      referenceFrame: first,
      corners: from,
      handKeys: [
        { frame: first, corners: from },
        { frame: last, corners: to },
      ],
      spans: [{ from: first, to: last, source: 'keys' }],
      ...more,
    },
  });
  return shot;
}
/** Drags from the middle of what a selector finds. */
async function dragFrom(page: Page, selector: string, dx: number, dy: number): Promise<void> {
  const at = (await page.locator(selector).boundingBox())!;
  const [x, y] = [at.x + at.width / 2, at.y + at.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + dx, y + dy, { steps: 4 });
  await page.mouse.up();
  await saved(page);
}

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
