/**
 * How smoothly the outline rides in the real browser while a follow runs: frames that were painted a second, on the demo
 * plate, both ways. `npm run bench:riding`; writes into docs/performance.md.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { launchBrowser } from '../e2e/support/browser.ts';
import { median } from '../core/base/image/statistics.ts';
import type { Media, Project, Shot, ShotDetail } from '../core/base/schemas/types.ts';
import { launch } from '../server/test/launched.ts';
import { Api } from '../server/test/api.ts';
import { clipPath, ROOT, temporaryFolder } from '../server/test/folders.ts';
import { truthOfClip } from '../server/test/prepared-shot.ts';
import { writeSection } from './document-section.ts';

const RUNS = 3;
const folder = temporaryFolder();
const service = await launch(join(folder.path, 'data'));
const browser = await launchBrowser();
try {
  const api = new Api(service.address);
  const shot = await tablet(api);
  const rates: number[] = [];
  const seconds: number[] = [];
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript('globalThis.__name = (f) => f');
  for (let run = 0; run < RUNS; run++) {
    await api.call('POST', `/shots/${shot.id}/track/clear`, { frames: [0, 95] });
    await page.goto(`${service.address}/shots/${shot.id}/follow`);
    await page.locator('.viewer[data-painted$=exact]').waitFor();
    await page.evaluate(() => {
      const seen: [number, string][] = ((globalThis as { seen?: [number, string][] }).seen = []);
      const viewer = document.querySelector('.viewer')!;
      new MutationObserver(() =>
        seen.push([performance.now(), viewer.getAttribute('data-painted')!.split(' ')[0]!]),
      ).observe(viewer, { attributes: true, attributeFilter: ['data-painted'] });
    });
    await page.getByRole('button', { name: /Both ways/ }).click();
    await page.locator('[data-job="follow"]').waitFor();
    await page.locator('[data-job="follow"]').waitFor({ state: 'detached', timeout: 120_000 });
    const seen = await page.evaluate(() => (globalThis as unknown as { seen: [number, string][] }).seen);
    const changes = seen.filter(([, frame], i) => i === 0 || frame !== seen[i - 1]![1]);
    const lasted = (changes.at(-1)![0] - changes[0]![0]) / 1000;
    rates.push((changes.length - 1) / lasted);
    seconds.push(lasted);
    console.log(`${changes.length} frames painted in ${lasted.toFixed(1)} s`);
  }
  writeSection(
    join(ROOT, 'docs/performance.md'),
    'riding',
    `## The outline while it runs

By \`npm run bench:riding\`: the demo's tablet, 96 frames of 1280×720, in headless Chromium that draws by software on the same two cores
as the follow. The viewer shows **${median(rates).toFixed(1)} frames a second** of those followed (median of ${RUNS} runs: ${rates.map((r) => r.toFixed(1)).join(', ')}); the whole run takes ${median(seconds).toFixed(1)} s.
`,
  );
} finally {
  await browser.close();
  await service.stop();
  folder.remove();
}

/** The demo's tablet, checked, with its region and corners on the reference. */
async function tablet(api: Api): Promise<Shot> {
  const project = await api.call<Project>('POST', '/projects', { name: 'Bench' });
  const truth = await truthOfClip('bench-tablet');
  const { media } = await api.bringIn(project.id, 'bench-tablet.mp4', readFileSync(clipPath('bench-tablet.mp4')));
  const shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Bench tablet' });
  await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: media.id });
  await api.until<Media>(`/media/${media.id}`, (m) => m.checked, 300);
  const {
    document,
    shot: { revision },
  } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await api.call('PUT', `/shots/${shot.id}/document`, {
    base: revision,
    document: {
      ...document,
      referenceFrame: truth.referenceFrame,
      regions: [{ points: truth.region }],
      corners: truth.frames[truth.referenceFrame]!.corners,
    },
  });
  return shot;
}
