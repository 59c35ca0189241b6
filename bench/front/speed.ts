/**
 * Measures what finishing a frame with a board of ten layers, a key, spill and three shapes costs: a preview step at 720p in the browser, and a final frame at 1080p
 * beside the same steps by the reference library, in the same run; writes it into docs/performance.md. `npm run performance:front`.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { median, quantile } from '../../core/base/image/statistics.ts';
import { launchBrowser } from '../../e2e/support/browser.ts';
import { loadKernels } from '../../server/kernels/load-kernels.ts';
import { writeSection } from '../document-section.ts';
import { libraryComposite } from '../reference/library-composite.ts';
import { FRAMES, shotAt } from './shot-at.ts';
import { SpeedRun } from './speed-shot.ts';

const root = join(import.meta.dirname, '../..');
const ROUNDS = 4;

async function browserSteps(): Promise<number[]> {
  const shot = await shotAt(720);
  const { plates, page, font: _, ...told } = shot;
  const { status, stderr } = spawnSync(
    process.execPath,
    [join(root, 'node_modules/vite/bin/vite.js'), 'build', '--config', 'bench/front/browser-step.config.mjs'],
    { cwd: root, encoding: 'utf8' },
  );
  if (status !== 0) throw new Error(stderr);
  const browser = await launchBrowser();
  const tab = await browser.newPage();
  const files = new Map<string, () => Buffer | string>([
    ['shot.json', () => JSON.stringify(told)],
    ['plates', () => Buffer.concat(plates)],
    ['page', () => Buffer.from(page.data as Uint8Array)],
    ['page.json', () => JSON.stringify({ width: page.width, height: page.height })],
    ['composite.wasm', () => readFileSync(join(root, 'core/base/kernels/build/composite.wasm'))],
    ['steps.js', () => readFileSync(join(root, '.cache/browser-step/steps.js'))],
    ['', () => '<!doctype html><script type="module" src="steps.js"></script>'],
  ]);
  await tab.route('http://bench.localhost/**', (route) => {
    const name = new URL(route.request().url()).pathname.slice(1);
    const body = files.get(name)?.() ?? readFileSync(join(root, 'node_modules', name));
    return route.fulfill({
      body,
      contentType: name === '' ? 'text/html' : name.endsWith('.js') ? 'text/javascript' : 'application/octet-stream',
    });
  });
  await tab.goto('http://bench.localhost/');
  await tab.waitForFunction('globalThis.runSteps');
  const times = await tab.evaluate<number[]>(`runSteps(${ROUNDS})`);
  await browser.close();
  return times;
}

const steps = await browserSteps();
console.log('preview step, ms', median(steps).toFixed(1), quantile(steps, 0.95).toFixed(1));

const hd = new SpeedRun(await shotAt(1080));
const ours: number[] = [];
const plain: number[] = [];
const theirs: number[] = [];
const boards: number[] = [];
const timed = async (times: number[], run: () => unknown) => {
  const started = performance.now();
  await run();
  times.push(performance.now() - started);
};
// Without the compiled loops first, then with them; the library takes the same drawn board.
for (let frame = 0; frame < FRAMES; frame += 3) {
  const surface = await hd.surface(frame, 'final');
  await timed(plain, () => hd.compose(frame, surface, 'final'));
}
loadKernels();
for (let round = 0; round < 3; round++) {
  for (let frame = 0; frame < FRAMES; frame++) {
    await timed(boards, () => hd.surface(frame, 'final'));
    const surface = await hd.surface(frame, 'final');
    await timed(ours, () => hd.compose(frame, surface, 'final'));
    if (frame % 2 === 0) theirs.push((await libraryComposite(hd.plate(frame), surface)).milliseconds);
  }
}
const share = median(ours) / median(theirs);
const reached = (yes: boolean) => (yes ? 'reached' : 'not reached');
const ms = (v: number) => v.toFixed(0);
console.log(
  'final, ms',
  ms(median(ours)),
  'library',
  ms(median(theirs)),
  'share',
  share.toFixed(2),
  'plain loops',
  ms(median(plain)),
  'board',
  ms(median(boards)),
);

writeSection(
  join(root, 'docs/performance.md'),
  'front',
  `## Finishing a frame

\`npm run performance:front\`. The shipped held phone, with a board of ten layers (a page that scrolls, texts, boxes, a message that pops up), the measured key
and spill, three soft shapes with their motion blur, softness and motion blur of the content. One thread each, one run; median over ${FRAMES} frames.

| what | ms a frame | asked |
|---|---|---|
| preview step at 720p in the browser, board drawn and bitmap made; worst twentieth | ${ms(median(steps))}; ${ms(quantile(steps, 0.95))} | 50: ${reached(median(steps) <= 50)} |
| final frame at 1080p, board drawn before | ${ms(median(ours))} | |
| the same steps by OpenCV 4.12's JavaScript build | ${ms(median(theirs))} | |
| share | ${share.toFixed(2)} | 0.7: ${reached(share <= 0.7)} |
| final frame by the plain loops | ${ms(median(plain))} | |
| drawing the board for a final frame | ${ms(median(boards))} | |

The preview step draws the board anew (about 60 ms), finds the front, samples and lays: a page that scrolls changes the
whole board on every frame. While a frame's content is worked on its front is kept, and only the rest is done again.
`,
);
