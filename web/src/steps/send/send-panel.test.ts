// @vitest-environment happy-dom
import { expect, test } from 'vitest';
import type { Job, RenderLedger, RenderOfJob } from '../../../../core/base/schemas/types.ts';
import { useJobs } from '../../stores/jobs.ts';
import { useNotices } from '../../stores/notices.ts';
import { useRenders } from '../../stores/renders.ts';
import { mountPanel, settled, type Panel } from '../../test/mount-panel.ts';
import { job, openShot, type Given } from '../../test/open-shot.ts';
import { row, SHOT } from '../../test/shot-parts.ts';
import SendPanel from './SendPanel.vue';

const id = SHOT.id;
const LEDGER: RenderLedger = {
  layer: 'full',
  impossible: null,
  frames: [
    { state: 'done', key: 'a'.repeat(64) },
    { state: 'stale', why: 'softness', key: 'b'.repeat(64) },
    { state: 'missing' },
    { state: 'failed', why: 'The picture of the content is gone.' },
  ],
};
const RENDER: RenderOfJob = {
  variant: null,
  output: 'h264',
  layers: ['full'],
  priority: 0,
  version: 2,
  workers: 2,
  failed: 0,
  files: [],
};

async function send(given: Given = {}) {
  const opened = await openShot({
    rows: [row(0), row(1), row(3)],
    ...given,
    answers: {
      [`GET /shots/${id}/ledger`]: LEDGER,
      [`GET /shots/${id}/loop`]: { loop: null, current: false },
      [`GET /shots/${id}/export/corners-csv`]: () => new Response('frame,top-left x\n0,20\n'),
      [`POST /shots/${id}/render`]: () => job({ id: 30, kind: 'render', render: RENDER }),
      ...given.answers,
    },
  });
  await useRenders().refresh();
  return { ...opened, panel: await mountPanel(SendPanel) };
}
const asked = async (panel: Panel, name: string | RegExp, api: Awaited<ReturnType<typeof openShot>>['api']) => {
  await panel.press(name);
  return api.last('POST', `/shots/${id}/render`);
};

test('what is there of the span is counted; only what is missing, stale, failed or chosen is asked for', async () => {
  const { panel, api } = await send();
  expect(panel.text).toContain('1 of 4');
  expect(await asked(panel, 'Render 1 missing', api)).toEqual({
    frames: [0, 3],
    output: 'frames',
    layers: ['full'],
    which: 'missing',
  });
  expect(await asked(panel, 'Render 1 out of date', api)).toMatchObject({ which: 'stale' });
  expect(await asked(panel, 'Try 1 that failed again', api)).toMatchObject({ which: 'failed' });
  await panel.type('Every', '2');
  expect(await asked(panel, 'Render 2', api)).toMatchObject({ every: 2 });
  await panel.type('to', '1');
  await panel.goTo(1);
  expect(panel.text).toContain('1 is out of date: softness changed');
  expect(await asked(panel, 'Render this frame', api)).toMatchObject({ frames: [1, 1] });
});

test('another layer is another ledger; where nothing can be rendered it is said why', async () => {
  const { panel, api } = await send();
  await panel.choose('Layer', 'matte');
  expect(api.asked('GET', `/shots/${id}/ledger?layer=matte`)).toHaveLength(1);
  api.on(`GET /shots/${id}/ledger`, { ...LEDGER, impossible: 'There is no content yet.', frames: [] });
  await panel.choose('Layer', 'insert');
  expect(panel.text).toContain('There is no content yet.');
  expect(panel.has(/^Render \d/)).toBe(false);
});

test('files: the format, several layers at once, handles and a name of one’s own; a bad name is reported before anything is written', async () => {
  const { panel, api } = await send();
  await panel.choose('Format', 'png');
  await panel.tick('matte');
  await panel.press('settings');
  await panel.type('Handles', '1');
  await panel.type('First number', '1001');
  await panel.choose('Pattern of file names', '{layer}-of-{shot}');
  expect(panel.text).toMatch(/full-of-bench\.1001\.png.*matte-of-bench\.1001\.png/);
  expect(await asked(panel, /^Write/, api)).toMatchObject({
    output: 'png',
    layers: ['full', 'matte'],
    settings: { handles: 1, firstNumber: 1001, pattern: '{layer}-of-{shot}' },
  });
  const before = api.asked('POST', `/shots/${id}/render`).length;
  await panel.choose('Pattern of file names', '{colour}');
  expect(panel.button(/^Write/).attributes('disabled')).toBeDefined();
  expect(api.asked('POST', `/shots/${id}/render`)).toHaveLength(before);
});

test('a render is held, gone on with, put first and stopped; a finished one gives its files', async () => {
  const running = job({ id: 30, kind: 'render', done: 2, render: RENDER });
  const reply = (change: Partial<Job>) => () => ({ ...running, ...change });
  const { panel, api } = await send({
    jobs: [running],
    answers: {
      'POST /jobs/30/pause': reply({ state: 'paused' }),
      'POST /jobs/30/resume': reply({ state: 'queued' }),
      'POST /jobs/30/stop': reply({ state: 'stopped' }),
      'PUT /jobs/30/priority': ({ priority }: { priority: 1 }) => ({ ...running, render: { ...RENDER, priority } }),
    },
  });
  expect(panel.text).toContain('rendering 2 of 4 · 2 at it');
  await panel.press('first');
  expect(api.last('PUT', '/jobs/30/priority')).toEqual({ priority: 1 });
  await panel.press('Hold on');
  expect(panel.text).toContain('paused 2 of 4');
  await panel.press('Go on');
  await panel.press('Stop');
  expect(panel.text).toContain('stopped at 2 of 4');
  const files = [{ name: 'bench-v002.mp4', layer: 'full' as const, bytes: 2_000_000 }];
  useJobs().take({ ...running, state: 'done', done: 4, render: { ...RENDER, files } });
  await settled();
  const link = panel.wrapper.get('[data-download]');
  expect(link.attributes('href')).toBe('/api/v1/jobs/30/files/bench-v002.mp4');
  expect(link.text()).toContain('2');
});

/** Gives the import a file as a person chooses one. */
async function give(panel: Panel, name: string, text: string): Promise<void> {
  const input = panel.field('Corners or homographies').element as HTMLInputElement;
  const file = Object.assign(new File([text], name), { text: async () => text });
  Object.defineProperty(input, 'files', { value: [file], configurable: true });
  input.dispatchEvent(new Event('change'));
  await settled();
}

test('corners of somebody else: columns are guessed and chosen, faults told by line, brought in as a second shot', async () => {
  const { panel, api } = await send({
    answers: { [`POST /shots/${id}/import`]: { frames: 3, shotId: 9, faults: [] } },
  });
  const line = (frame: number, at: number) => [frame, at, 20, 80, 20, 80, 60, 20, 60].join(',');
  await give(panel, 'theirs.csv', ['f,a,b,c,d,e,g,h,i', line(1, 20), line(2, 21), 'three,1,2', line(3, 22)].join('\n'));
  expect(panel.text).toContain('3 frames can be used.');
  expect(panel.text).toContain('line 4:');
  await panel.choose('Column of frame', '0');
  await panel.press('up');
  await panel.type('First frame is', '0');
  await panel.press('0');
  await panel.press(/second shot|as another|new shot/i);
  expect(api.last('POST', `/shots/${id}/import`)).toMatchObject({
    copy: true,
    mapping: { frame: 0, y: 'up', pixelCentre: 'integer' },
  });
  await settled();
  expect(useNotices().notices.map((one) => one.text)).toContain('3 frames were brought in from theirs.csv.');
});

test('a file without the reference frame cannot take the track’s place; one that is no table says why', async () => {
  const { panel } = await send();
  await give(panel, 'theirs.csv', 'frame,a,b,c,d,e,f,g,h\n9,20,20,80,20,80,60,20,60\n');
  expect(panel.text).toContain('The reference frame is not among them');
  await panel.press('Leave it');
  await give(panel, 'theirs.json', '{"format":"else"}');
  expect(panel.wrapper.get('.import .notice').text().length).toBeGreaterThan(20);
});

test('the first lines of the data are shown as they will be written', async () => {
  const { panel, api } = await send();
  await expect.poll(() => panel.text).toContain('frame,top-left x');
  expect(api.asked('GET', `/shots/${id}/export/corners-csv`).length).toBeGreaterThan(0);
});
