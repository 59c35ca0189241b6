// @vitest-environment happy-dom
import { expect, test } from 'vitest';
import type { Look, Media } from '../../../../core/base/schemas/types.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useBoard } from '../../stores/board.ts';
import { leavePage, mountPanel } from '../../test/mount-panel.ts';
import { openShot, type Given } from '../../test/open-shot.ts';
import { PLATE, row, SHOT } from '../../test/shot-parts.ts';
import ContentPanel from './ContentPanel.vue';

const PAGE: Media = {
  ...PLATE,
  id: 20,
  name: 'orders.png',
  kind: 'still',
  facts: { ...PLATE.facts!, width: 900, height: 1600, frames: 1 },
};
const CLIP: Media = { ...PAGE, id: 21, name: 'scroll.mp4', kind: 'clip', facts: { ...PAGE.facts!, frames: 50 } };
const BROKEN: Media = { ...PAGE, id: 22, name: 'notes.png', state: 'failed', facts: null, problem: 'Not a picture.' };

async function content(look: Look = { fit: 'stretch' }, contentId: number | null = PAGE.id, given: Given = {}) {
  const opened = await openShot({
    media: [PLATE, PAGE, CLIP, BROKEN],
    ...given,
    document: { look, contentId },
    answers: { 'GET /projects/1/shots': [SHOT], 'GET /projects/1/boards': [], ...given.answers },
  });
  return { ...opened, panel: await mountPanel(ContentPanel), look: () => opened.doc.document!.look };
}

test('content is swapped as often as one likes: the track, the corners and the rest of the look stay', async () => {
  const rows = [row(1), row(3)];
  const { panel, doc, track, look } = await content({ fit: 'fill', soften: 2 }, null, { rows });
  const before = { ...doc.document };
  await panel.press(/^orders\.png/);
  await panel.press(/^scroll\.mp4/);
  expect(doc.document).toEqual({ ...before, contentId: CLIP.id });
  expect(look()).toEqual({ fit: 'fill', soften: 2 });
  expect(track.rows).toEqual(rows);
  expect(panel.button(/^notes\.png/).attributes('disabled')).toBeDefined();
  doc.undo();
  expect(doc.document!.contentId).toBe(PAGE.id);
  // The plate is no content of itself.
  expect(panel.has(/^bench\.mp4/)).toBe(false);
});

test('it is fitted, turned, mirrored, moved by numbers and cut; one press and it is as it was', async () => {
  const { panel, look } = await content();
  await panel.press('fill');
  await panel.press('A quarter turn to the right');
  await panel.press('A quarter turn to the right');
  await panel.press('A quarter turn to the left');
  await panel.press('Mirror left to right');
  await panel.type('Right', '12.5');
  await panel.type('High', '80');
  await panel.type('Lean', '3');
  await panel.type('Turn', '-5');
  await panel.type('top', '40');
  expect(look()).toEqual({
    fit: 'fill',
    place: {
      quarters: 1,
      mirror: [true, false],
      offset: [0.125, 0],
      scale: [1, 0.8],
      shear: [3, 0],
      turn: -5,
      crop: [0, 40, 0, 0],
    },
  });
  await panel.press('as it was');
  expect(look()).toEqual({ fit: 'fill' });
});

test('placing by hand shows its outline, flat only then, and both end with the panel', async () => {
  const { panel } = await content();
  const workspace = useWorkspace();
  expect(panel.button('flat').attributes('disabled')).toBeDefined();
  await panel.press('By hand');
  await panel.press('flat');
  expect([workspace.placeOpen, workspace.flat]).toEqual([true, true]);
  leavePage();
  expect([workspace.placeOpen, workspace.flat]).toEqual([false, false]);
});

test('a clip’s time: where it starts, which part, how fast, and what is before and after', async () => {
  const { panel, look, doc } = await content({ fit: 'stretch' }, CLIP.id);
  expect(panel.text).toContain('now frame 0 of 50');
  await panel.goTo(2);
  await panel.press('use frame 2');
  await panel.type('From', '10');
  await panel.type('to', '5');
  expect(look().time).toMatchObject({ start: 2, trim: [5, 5] });
  await panel.type('to', '30');
  await panel.tick('Backwards');
  await panel.press('blend');
  await panel.wrapper.get('[aria-label="After its last frame"]').findAll('button')[1]!.trigger('click');
  expect(look().time).toMatchObject({ trim: [5, 30], reverse: true, rate: 'blend', after: 'loop' });
  doc.undo();
  doc.undo();
  doc.undo();
  expect(look().time).toEqual({ start: 2, trim: [5, 30] });
});

test('a still has no time; the speed of a clip is keyed on a frame', async () => {
  const still = await content();
  expect(still.panel.has('Speed')).toBe(false);
  const { panel, look } = await content({ fit: 'stretch' }, CLIP.id);
  await panel.press('Key the speed here');
  await panel.goTo(3);
  await panel.type('Speed', '50');
  expect(look().time!.speed).toEqual([
    { frame: 0, value: 1 },
    { frame: 3, value: 0.5 },
  ]);
  await panel.press('Take away the key of the speed here');
  expect(look().time!.speed).toEqual([{ frame: 0, value: 1 }]);
});

test('curved glass: bowed, bent by points, keyed, and flat again', async () => {
  const { panel, look } = await content();
  await panel.type('Bow of the glass', '2');
  expect(look().mesh).toMatchObject({ bow: 0.02 });
  await panel.press('Bend it by points');
  await panel.choose('Patches across', '4');
  expect(look().mesh).toMatchObject({ columns: 4 });
  await panel.goTo(1);
  await panel.press('Key here');
  expect(look().mesh!.keys?.map((key) => key.frame)).toEqual([1]);
  await panel.press('Keyed here');
  await panel.type('Behind the surface', '5');
  await panel.press('flat again');
  expect(look()).toEqual({ fit: 'stretch', depth: 0.05 });
  expect(useWorkspace().meshOpen).toBe(false);
});

test('a board begins as the content that is there; layers are added, ordered, copied, hidden and removed', async () => {
  const { panel, look, doc } = await content();
  await panel.press('Make a board of this');
  const layers = () => look().board!.layers;
  expect(look().board).toMatchObject({ width: 900, layers: [{ kind: 'picture', media: PAGE.id, width: 900 }] });
  expect(useBoard().open).toBe(true);
  await panel.press('Add: Text');
  await panel.press('Add: Rounded box');
  await panel.choose('Add a picture or clip', String(CLIP.id));
  expect(layers().map((layer) => layer.kind)).toEqual(['picture', 'text', 'rounded', 'clip']);
  expect(new Set(layers().map((layer) => layer.id)).size).toBe(4);
  await panel.press('Text further in front');
  expect(layers().map((layer) => layer.kind)).toEqual(['picture', 'rounded', 'text', 'clip']);
  await panel.press('Copy Text');
  await panel.press('Show Box');
  expect(layers()).toHaveLength(5);
  expect(layers().find((layer) => layer.name === 'Box')!.off).toBe(true);
  await panel.press('Remove scroll.mp4');
  await panel.press(/^Remove Text/);
  expect(layers()).toHaveLength(3);
  await panel.press('Without the board');
  expect(look().board).toBeUndefined();
  doc.undo();
  expect(layers()).toHaveLength(3);
});
