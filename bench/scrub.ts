/**
 * How the viewer keeps up, in the real browser: time from a press in the ledger to the painted frame, to the frame at full
 * resolution, frames a second while playing, time to read a full frame from the store, and memory over minutes of scrubbing.
 * `npm run bench:scrub [minutes]`; writes docs/scrubbing.md.
 */
import { readFileSync, writeFileSync, mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { launchBrowser } from '../e2e/support/browser.ts';
import { mean, quantile } from '../core/base/image/statistics.ts';
import type { Media, Project, Shot } from '../core/base/schemas/types.ts';
import { ffmpeg } from '../server/test/media-files.ts';
import { launch } from '../server/test/launched.ts';
import { Api } from '../server/test/api.ts';
import { ROOT, temporaryFolder } from '../server/test/folders.ts';
import { readFile } from 'node:fs/promises';

const MINUTES = Number(process.argv[2] ?? 10);
const JUMPS = 150;
const folder = temporaryFolder();
mkdirSync(folder.path, { recursive: true });
const service = await launch(join(folder.path, 'data'));
const api = new Api(service.address);
const browser = await launchBrowser();
const lines = [
  '# Scrubbing and playing',
  '',
  '`npm run bench:scrub` in headless Chromium on two shared cores, pictures drawn by software. Milliseconds; a plate of 240 frames, H.264.',
  '',
  '| plate | scrub to painted, median | 95th | jump to painted, median | 95th | to full resolution, median | played of 25 fps | read a full frame, median |',
  '|---|---|---|---|---|---|---|---|',
];

try {
  const project = await api.call<Project>('POST', '/projects', { name: 'Bench' });
  for (const [name, size] of [
    ['720p', '1280x720'],
    ['1080p', '1920x1080'],
  ] as const) {
    const shot = await plateShot(project, name, size);
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    // The loader of TypeScript marks functions with a helper that the page does not have.
    await page.addInitScript('globalThis.__name = (f) => f');
    await page.goto(`${service.address}/shots/${shot.id}/plate`);
    await page.locator('.viewer[data-painted]').waitFor();
    const drag = await scrub(page, true);
    const jumps = await scrub(page, false);
    const settle = await settles(page);
    const fps = await plays(page);
    const read = await reads();
    lines.push(
      `| ${name} | ${ms(drag, 0.5)} | ${ms(drag, 0.95)} | ${ms(jumps, 0.5)} | ${ms(jumps, 0.95)} | ${ms(settle, 0.5)} | ${fps.toFixed(1)} | ${ms(read, 0.5)} |`,
    );
    console.log(lines.at(-1));
    if (name === '1080p') lines.push('', ...(await memory(page)));
    await page.close();
  }
  writeFileSync(join(ROOT, 'docs/scrubbing.md'), `${lines.join('\n')}\n`);
} finally {
  await browser.close();
  await service.stop();
  folder.remove();
}

function ms(list: readonly number[], p: number): string {
  return quantile(list, p).toFixed(list.some((v) => v > 20) ? 0 : 1);
}

async function plateShot(project: Project, name: string, size: string): Promise<Shot> {
  const file = join(folder.path, `${name}.mp4`);
  await ffmpeg(
    '-f',
    'lavfi',
    '-i',
    `testsrc2=s=${size}:r=25:d=9.6`,
    '-vf',
    'noise=alls=12:allf=t',
    '-c:v',
    'libx264',
    '-preset',
    'ultrafast',
    '-crf',
    '20',
    '-pix_fmt',
    'yuv420p',
    file,
  );
  const { media } = await api.bringIn(project.id, `${name}.mp4`, readFileSync(file));
  const shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name });
  await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: media.id });
  // The check works in the background as it does for a person; here it would take one of two cores.
  await api.until<Media>(`/media/${media.id}`, (m) => m.checked, 300);
  return shot;
}

/** Moves along the ledger: by hand from frame to frame, or in wild jumps; each is timed until the frame stands on the screen. */
async function scrub(page: Page, byHand: boolean): Promise<number[]> {
  return page.evaluate(
    async ({ jumps, byHand }) => {
      const strip = document.querySelector<HTMLElement>('[role=slider][aria-label=Frame]')!;
      const viewer = document.querySelector<HTMLElement>('.viewer')!;
      const box = strip.getBoundingClientRect();
      const frames = Number(strip.getAttribute('aria-valuemax')) + 1;
      const times: number[] = [];
      const at = (frame: number) => ({
        clientX: box.left + 84 + ((frame + 0.5) / frames) * (box.width - 100),
        clientY: box.top + 60,
        pointerId: 1,
        button: 0,
        bubbles: true,
      });
      strip.setPointerCapture = () => {};
      strip.dispatchEvent(new PointerEvent('pointerdown', at(0)));
      let state = 7;
      for (let i = 1; i <= jumps; i++) {
        state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
        const frame = byHand ? (i * 2) % frames : state % frames;
        const begun = performance.now();
        strip.dispatchEvent(new PointerEvent('pointermove', at(frame)));
        while (!viewer.dataset.painted?.startsWith(`${frame} `) && performance.now() - begun < 5000)
          await new Promise((go) => setTimeout(go, 0));
        times.push(performance.now() - begun);
        // A hand does about 25 moves a second.
        await new Promise((go) => setTimeout(go, Math.max(0, 40 - (performance.now() - begun))));
      }
      strip.dispatchEvent(new PointerEvent('pointerup', at(0)));
      return times;
    },
    { jumps: JUMPS, byHand },
  );
}

async function settles(page: Page): Promise<number[]> {
  const times: number[] = [];
  await page.getByRole('slider', { name: 'Frame' }).focus();
  await page.keyboard.press('Home');
  for (let i = 0; i < 20; i++) {
    times.push(
      await page.evaluate(async () => {
        const strip = document.querySelector<HTMLElement>('[role=slider][aria-label=Frame]')!;
        const viewer = document.querySelector<HTMLElement>('.viewer')!;
        const begun = performance.now();
        strip.dispatchEvent(new KeyboardEvent('keydown', { key: 'PageDown', bubbles: true }));
        const wanted = () => `${Number(strip.getAttribute('aria-valuenow'))} exact`;
        await new Promise((go) => setTimeout(go, 20));
        while (viewer.dataset.painted !== wanted() && performance.now() - begun < 5000)
          await new Promise((go) => setTimeout(go, 2));
        return performance.now() - begun;
      }),
    );
  }
  return times;
}

/** Different frames on the screen a second, playing at the plate's rate. */
async function plays(page: Page): Promise<number> {
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await page.waitForTimeout(2000);
  const seen = await page.evaluate(async () => {
    const viewer = document.querySelector<HTMLElement>('.viewer')!;
    const begun = performance.now();
    let count = 0;
    let last = '';
    while (performance.now() - begun < 8000) {
      const now = viewer.dataset.painted ?? '';
      if (now !== last) count++;
      last = now;
      await new Promise((go) => setTimeout(go, 4));
    }
    return count / 8;
  });
  await page.getByRole('button', { name: 'Stop playing' }).click();
  return seen;
}

/** Full frames as the jobs read them. */
async function reads(): Promise<number[]> {
  const frames = join(folder.path, 'data/frames');
  const store = readdirSync(frames)
    .map((n) => join(frames, n, 'raw'))
    .at(-1)!;
  const times: number[] = [];
  for (const name of readdirSync(store).slice(0, 100)) {
    const begun = performance.now();
    await readFile(join(store, name));
    times.push(performance.now() - begun);
  }
  return times;
}

/** Memory of the page's process while somebody scrubs on and on. */
async function memory(page: Page): Promise<string[]> {
  const session = await browser.newBrowserCDPSession();
  const resident = async () => {
    const { processInfo } = await session.send('SystemInfo.getProcessInfo');
    const sizes = processInfo
      .filter((p) => p.type === 'renderer')
      .map((p) => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${p.id}/status`, 'utf8'))?.[1] ?? 0) / 1024);
    return Math.max(...sizes);
  };
  const out: { minute: number; megabytes: number }[] = [];
  const begun = Date.now();
  while (Date.now() - begun < MINUTES * 60_000) {
    await scrub(page, out.length % 2 === 0);
    out.push({ minute: (Date.now() - begun) / 60_000, megabytes: await resident() });
  }
  const third = Math.max(1, Math.floor(out.length / 3));
  const first = mean(out.slice(0, third).map((o) => o.megabytes));
  const last = mean(out.slice(-third).map((o) => o.megabytes));
  const words = `Memory of the page over ${MINUTES} minutes of scrubbing at 1080p: ${first.toFixed(0)} MB on average in the first third, ${last.toFixed(0)} MB in the last, ${Math.max(...out.map((o) => o.megabytes)).toFixed(0)} MB at most.`;
  console.log(words);
  return [words];
}
