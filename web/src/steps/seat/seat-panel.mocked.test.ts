// @vitest-environment happy-dom
import { beforeEach, expect, test, vi } from 'vitest';
import { useWorkspace } from '../../stores/workspace.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { mountPanel, settled } from '../../test/mount-panel.ts';
import { openShot, type Given } from '../../test/open-shot.ts';
import { row, SHOT } from '../../test/shot-parts.ts';
import SeatPanel from './SeatPanel.vue';

// What is computed beside the page is the worker's subject.
vi.mock('../../preview/seat-worker-client.ts', () => ({ seatWorker: () => ({ propose: async () => null }) }));

// A chart is painted on a canvas, which is the journeys' subject.
vi.mock('./SeatCharts.vue', () => ({ default: { render: () => null } }));

const id = SHOT.id;
const MEASURED = {
  [`GET /shots/${id}/seat`]: { measured: null, frames: [] },
};

async function seat(given: Given = {}, page: 'set' | 'drift' | 'check' = 'set') {
  const opened = await openShot({
    rows: [row(0), row(1), row(3)],
    ...given,
    answers: { ...MEASURED, ...given.answers },
  });
  usePlayhead().goTo(2);
  useWorkspace().seatPage = page;
  return { ...opened, panel: await mountPanel(SeatPanel), document: () => opened.doc.document! };
}
beforeEach(() => {
  vi.restoreAllMocks();
});

test('without corners they are placed by hand, or begun from a region of four points', async () => {
  const { panel, document } = await seat({ document: { corners: null } });
  await panel.press('Place the corners');
  expect(useWorkspace().tool).toBe('place-corners');
  await panel.press('start from the four points of the region');
  expect(document().corners).toEqual([
    [10, 10],
    [90, 10],
    [90, 70],
    [10, 70],
  ]);
});

test('a corner by numbers: on all frames, or as a fix on this one', async () => {
  const { panel, document, doc, placed } = await seat();
  await panel.type('top-right x', '85.5');
  expect(document().corners![1]).toEqual([85.5, 20]);
  await panel.goTo(3);
  await panel.press('a fix here');
  await panel.type('top-left y', '24');
  expect(document().corners![0]).toEqual([20, 20]);
  expect(document().corrections).toMatchObject([{ frame: 3, corner: 0, dx: 0, dy: 4 }]);
  expect(placed.cornersAt(3)![0][1]).toBeCloseTo(24, 6);
  doc.undo();
  doc.undo();
  expect(document().corners![1]).toEqual([80, 20]);
});

test('the content is turned and mirrored on its corners: four quarters are none', async () => {
  const { panel, document } = await seat();
  const before = document().corners;
  await panel.press('quarter turn');
  expect(document().corners).not.toEqual(before);
  for (let i = 0; i < 3; i++) await panel.press('quarter turn');
  expect(document().corners).toEqual(before);
  await panel.press('mirror');
  await panel.press('mirror');
  expect(document().corners).toEqual(before);
});

test('a frame that the track does not reach says so', async () => {
  const { panel } = await seat({ rows: [row(1), row(3, { homography: null, lost: 'covered: by a hand' })] });
  await panel.goTo(3);
  expect(panel.text).toContain('The track does not reach this frame. Follow it first, or go to the reference, frame 2');
});

const side = (bound: number, by: number) => ({
  from: [20 + by, 20 + by] as [number, number],
  to: [80 - by, 20 + by] as [number, number],
  bound,
  support: 0.9,
  contrast: 0.4,
  offset: by,
});
const SNAPPED = {
  corners: [
    [21, 21],
    [79, 21],
    [79, 59],
    [21, 59],
  ],
  bounds: [0.1, 0.1, 0.1, 0.1],
  sides: [
    { chosen: 0, borders: [side(0.12, 1), side(0.3, -3)] },
    { chosen: null, borders: [] },
    { chosen: null, borders: [] },
    { chosen: null, borders: [] },
  ],
  radius: 3.4,
};

test('corners are snapped to the borders as the frame shows them; a side that is blind says so', async () => {
  const { panel, document, api } = await seat({ answers: { [`POST /shots/${id}/snap`]: SNAPPED } });
  await panel.press('edge of the device');
  expect(document().border).toBe('outer');
  await panel.press('Snap');
  expect(api.last('POST', `/shots/${id}/snap`)).toMatchObject({ frame: 2 });
  expect(document().corners![0]).toEqual([21, 21]);
  expect(panel.text).toContain('± 0.12 px');
  expect(panel.text).toContain('no border seen');
  await panel.press('use 3.4 px, measured at the corners');
  expect(document().cornerRadius).toBe(3.4);
});

test('how far content reaches over the sides, in pixels or shares; nothing over is no setting', async () => {
  const { panel, document } = await seat();
  await panel.type('over top', '1.5');
  expect(document().outset).toEqual({ unit: 'px', sides: [1.5, 0, 0, 0] });
  await panel.press('%');
  expect(document().outset!.unit).toBe('%');
  await panel.press('px');
  await panel.type('over top', '0');
  expect(document().outset).toBeUndefined();
  await panel.type('corner radius', '8');
  await panel.type('across', '12');
  expect(document()).toMatchObject({ cornerRadius: 8, grid: [12, 8] });
});

test('matching to the reference keys what is found and leaves alone what is not', async () => {
  const answer = (corner: number, dx: number, refused: string | null = null) => ({
    corner,
    dx,
    dy: 0,
    score: refused ? 0.3 : 0.9,
    bound: refused ? null : 0.1,
    refused,
  });
  const { panel, document } = await seat(
    {
      answers: {
        [`POST /shots/${id}/match`]: {
          corners: [answer(0, 0.6), answer(1, 0.2), answer(2, 0, 'looks-different'), answer(3, 90)],
        },
      },
    },
    'drift',
  );
  expect(panel.button('match all four').attributes('disabled')).toBeDefined();
  await panel.goTo(3);
  await panel.press('match all four');
  // What would be moved further than anything could have slipped is another place.
  expect(document().corrections!.map((fix) => [fix.corner, fix.dx])).toEqual([
    [0, 0.6],
    [1, 0.2],
  ]);
  expect(panel.text).toContain('moved 0.60 px, ± 0.10 (0.90)');
  expect(panel.text).toContain('left alone: looks different here');
});

test('a fix is muted, moved, copied, made weaker and removed', async () => {
  const fix = { frame: 3, corner: 0, dx: 1, dy: 0 };
  const { panel, document } = await seat({ document: { corrections: [fix] } }, 'drift');
  await panel.press('Mute the fix of frame 3');
  expect(document().corrections![0]!.muted).toBe(true);
  await panel.press('Mute the fix of frame 3');
  await panel.goTo(1);
  await panel.press('Copy the fix of frame 3 here');
  expect(
    document()
      .corrections!.map((one) => one.frame)
      .sort((a, b) => a - b),
  ).toEqual([1, 3]);
  await panel.press('Remove the fix of frame 3');
  await panel.type('strength', '50');
  await panel.press('here only');
  expect(document().corrections).toMatchObject([{ frame: 1, strength: 0.5, ease: 'single' }]);
  await panel.press('frame 1');
  await panel.press('show without');
  expect(useWorkspace().withoutFixes).toBe(true);
});

test('the test card is laid on, another chosen, and looked through', async () => {
  const { panel, document } = await seat({}, 'check');
  await panel.tick(/^Test card on the surface/);
  expect(document().testCard).toBe(true);
  await panel.tick(/^Half of the plate shines through/);
  expect(document().cardClear).toBe(true);
  await panel.tick(/^Half of the plate shines through/, false);
  expect(document().cardClear).toBeUndefined();
  await settled();
});
