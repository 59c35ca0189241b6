// @vitest-environment happy-dom
import { expect, test } from 'vitest';
import type { Shot } from '../../../../core/base/schemas/types.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useJobs } from '../../stores/jobs.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { mountPanel, settled } from '../../test/mount-panel.ts';
import { job, openShot, type Given } from '../../test/open-shot.ts';
import { DOCUMENT, row, SHOT } from '../../test/shot-parts.ts';
import FollowPanel from './FollowPanel.vue';

const id = SHOT.id;
const BOX: [number, number][] = [
  [30, 30],
  [50, 30],
  [50, 45],
];

async function follow(given: Given = {}) {
  const opened = await openShot({
    ...given,
    answers: {
      [`GET /shots/${id}/ridable`]: [],
      [`GET /shots/${id}/points`]: { rows: [] },
      [`GET /shots/${id}/pull`]: { rows: [] },
      [`POST /shots/${id}/follow`]: () => job({ id: 11, state: 'queued' }),
      [`POST /shots/${id}/track/clear`]: { rows: [], after: 9 },
      ...given.answers,
    },
  });
  usePlayhead().goTo(2);
  const panel = await mountPanel(FollowPanel);
  const asked = () => opened.api.last('POST', `/shots/${id}/follow`);
  return { ...opened, panel, asked, document: () => opened.doc.document! };
}

test('without a region one is asked for, and nothing can be run', async () => {
  const { panel } = await follow({ document: { regions: [] } });
  expect(panel.text).toContain('Draw roughly around something that moves with the screen');
  expect(panel.button('Both ways').attributes('disabled')).toBeDefined();
  await panel.press('Region');
  expect(useWorkspace().tool).toBe('draw-region');
});

test('both ways from the reference; on and back from the frame on show; a single frame, which is then shown', async () => {
  const { panel, asked } = await follow();
  await panel.press('Both ways');
  expect(asked()).toEqual({ direction: 'both' });
  useJobs().take(job({ id: 11, state: 'done' }));
  await settled();
  await panel.press('On');
  expect(asked()).toEqual({ direction: 'forward', frames: [2, 3] });
  useJobs().take(job({ id: 11, state: 'done' }));
  await settled();
  await panel.press('Follow one frame back');
  expect(asked()).toEqual({ direction: 'backward', frames: [1, 2] });
  await expect.poll(() => usePlayhead().frame).toBe(1);
});

test('while it runs nothing else is begun; at the end of the shot there is no frame to follow to', async () => {
  const { panel } = await follow();
  useJobs().take(job());
  await settled();
  expect(panel.button('Both ways').attributes('disabled')).toBeDefined();
  const last = await follow({ rows: [row(3)] });
  await last.panel.goTo(3);
  await last.panel.press('Follow one frame on');
  expect(useNotices().notices.at(-1)!.text).toBe('There is no frame after this one in the shot.');
});

test('motion, the reference and the last pass are edits that undo', async () => {
  const { panel, document, doc } = await follow();
  await panel.press('affine');
  await panel.goTo(1);
  await panel.press('use frame 1');
  await panel.tick(/^Look at every frame once more/);
  expect(document()).toMatchObject({ motion: 'affine', referenceFrame: 1, lastPass: true });
  doc.undo();
  doc.undo();
  doc.undo();
  expect(document()).toEqual({ ...DOCUMENT });
});

test('outlines are picked, left unused, fixed in the picture and removed', async () => {
  const { panel, document } = await follow({ document: { keepOut: [{ points: BOX }] } });
  await panel.press('Fix Keep out 1 in the picture');
  expect(document().keepOut[0]!.fixed).toBe(true);
  expect(panel.text).toContain('stays in the picture');
  await panel.press('Use Keep out 1');
  expect(document().keepOut[0]!.off).toBe(true);
  await panel.press('Use Keep out 1');
  expect(document().keepOut[0]!.off).toBeUndefined();
  await panel.press('Remove Keep out 1');
  await panel.press('Use Region 1');
  expect(document()).toMatchObject({ keepOut: [], regions: [{ off: true }] });
  expect(panel.button('Both ways').attributes('disabled')).toBeDefined();
});

const LOST = row(3, { homography: null, lost: 'covered: by a hand', error: null });

test('where hold was lost it is said why; looked at again from there, or by another region alone', async () => {
  const { panel, document, asked } = await follow({
    rows: [row(1), row(2), LOST],
    document: { regions: [...DOCUMENT.regions, { points: BOX, off: true }] },
  });
  expect(panel.text).toContain('lost once');
  await panel.press('3');
  expect(usePlayhead().frame).toBe(3);
  expect(panel.text).toContain('Lost: covered: by a hand.');
  // Reshaping helps on the frame beside the loss.
  await panel.press('frame 2');
  expect(usePlayhead().frame).toBe(2);
  await panel.goTo(3);
  await panel.press('look again from frame 3');
  expect(asked()).toEqual({ direction: 'forward', from: 2, frames: [3, 3] });
  useJobs().take(job({ id: 11, state: 'done' }));
  await settled();
  await panel.press('by region 2 alone');
  await settled();
  expect(document().regions.map((one) => one.off === true)).toEqual([true, false]);
});

test('a good stretch is protected and released; any is cleared', async () => {
  const { panel, document, api } = await follow({ rows: [row(0), row(1), row(3)] });
  await panel.goTo(1);
  await panel.press('protect');
  expect(document().protect).toHaveLength(1);
  await panel.press('release');
  expect(document().protect).toBeUndefined();
  await panel.press('clear');
  await expect.poll(() => api.asked('POST', `/shots/${id}/track/clear`).length).toBe(1);
});

test('the reading of a frame: how far off, how sure, what is wrong; the worst is one press away', async () => {
  const note = 'the right part of the region disagrees';
  const { panel } = await follow({
    rows: [row(0), row(1, { confidence: 0.2, note, bounds: [0.1, 0.2, 1.4, 0.3] }), row(3)],
  });
  await panel.press('worst 1');
  expect(panel.text).toContain('± 1.40 px');
  expect(panel.text).toContain('The right part of the region disagrees.');
  expect(panel.text).toContain('Little agrees here.');
});

test('a track of another reference is out of date', async () => {
  const { panel } = await follow({ rows: [row(1, { runKey: 'older' })] });
  expect(panel.text).toContain('was changed after this track was made. Run again.');
});

test('how many points are looked at is chosen after a trial', async () => {
  const trial = (points: number, bound: number | null) => ({ points, cost: points / 100, bound, off: bound });
  const { panel, document } = await follow({
    answers: { [`POST /shots/${id}/sampling`]: [trial(500, null), trial(4000, 0.2)] },
  });
  await panel.press('try on three frames');
  expect(panel.text).toContain('± 0.20 px');
  expect(panel.text).toContain('lost');
  await panel.press(/^4.000$/);
  expect(document().points).toBe(4000);
  await panel.press('by itself');
  expect(document().points).toBeUndefined();
});

test('a surface rides on the track of another shot; a shot that is gone is said to be', async () => {
  const other: Shot = { ...SHOT, id: 9, name: 'Wide take' };
  const { panel, document } = await follow({ answers: { [`GET /shots/${id}/ridable`]: [other] } });
  await panel.choose('What moves it', '9');
  await settled();
  expect(document().rides).toBe(9);
  expect(panel.text).toContain('Wide take has not been followed on frame 2');
  expect(panel.has('Both ways')).toBe(false);
  const gone = await follow({ document: { rides: 44 } });
  expect(gone.panel.text).toContain('What it rode on is gone.');
});
