// @vitest-environment happy-dom
import { expect, test } from 'vitest';
import type { Look, LookReason, SavedLook } from '../../../../core/base/schemas/types.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { mountPanel } from '../../test/mount-panel.ts';
import { openShot, type Given } from '../../test/open-shot.ts';
import { DOCUMENT, SHOT } from '../../test/shot-parts.ts';
import BlendPanel from './BlendPanel.vue';

const LISTS = { 'GET /projects/1/looks': [], 'GET /projects/1/shots': [] };

async function blend(look: Look = { fit: 'stretch' }, given: Given = {}) {
  const opened = await openShot({
    ...given,
    document: { look, ...given.document },
    answers: { ...LISTS, ...given.answers },
  });
  const panel = await mountPanel(BlendPanel);
  return { ...opened, panel, look: () => opened.doc.document!.look };
}

test('without corners the panel says what comes first', async () => {
  const { panel } = await blend(undefined, { document: { corners: null } });
  expect(panel.text).toContain('First seat the four corners');
});

test('numbers are typed, taken at their usual value, and undone one by one', async () => {
  const { panel, doc, look } = await blend();
  await panel.type('Soften', '2,5');
  await panel.press('Use 180° for Shutter');
  await panel.type('Opacity', '80');
  await panel.type('White', '0.9');
  await panel.type('Exposure', '-1');
  expect(look()).toMatchObject({
    soften: 2.5,
    motionBlur: { shutter: 180 },
    opacity: 0.8,
    levels: { white: 0.9 },
    exposure: -1,
  });
  for (let i = 0; i < 5; i++) doc.undo();
  expect(look()).toEqual({ fit: 'stretch' });
});

test('a key makes a value change over time: typed where the playhead stands, taken away where it is', async () => {
  const { panel, look } = await blend({ fit: 'stretch', soften: 1 });
  await panel.press('Key: Soften');
  await panel.goTo(3);
  await panel.type('Soften', '4');
  expect(look().soften).toEqual([
    { frame: 0, value: 1 },
    { frame: 3, value: 4 },
  ]);
  await panel.goTo(1);
  await panel.type('Soften', '2.5');
  expect(look().soften).toHaveLength(3);
  await panel.press('Key: Soften');
  await panel.goTo(3);
  await panel.press('Key: Soften');
  expect(look().soften).toEqual([{ frame: 0, value: 1 }]);
});

test('sides of feather and crop: one, all, and keyed ones only on this frame', async () => {
  const { panel, look } = await blend();
  await panel.type('Feather top', '3');
  expect(look().feather).toEqual([3, 0, 0, 0]);
  await panel.type('Crop all', '-2');
  expect(look().crop).toEqual([-2, -2, -2, -2]);
  const keyed = await blend({ fit: 'stretch', feather: [{ frame: 0, value: [1, 1, 1, 1] }] });
  await keyed.panel.goTo(2);
  await keyed.panel.type('Feather left', '5');
  expect(keyed.look().feather).toEqual([
    { frame: 0, value: [1, 1, 1, 1] },
    { frame: 2, value: [1, 1, 1, 5] },
  ]);
});

test('grain is begun, made stronger, put off and on again as it was', async () => {
  const { panel, look } = await blend();
  await panel.press('add grain');
  expect(look().grain!.levels).toHaveLength(2);
  await panel.type('Amount', '150');
  await panel.press('off');
  expect(look().grain).toMatchObject({ amount: 1.5, off: true });
  await panel.press('on again');
  expect(look().grain).toMatchObject({ amount: 1.5, off: false });
});

test('the way of mixing, and in what', async () => {
  const { panel, look } = await blend();
  expect(panel.has('Blend in')).toBe(false);
  await panel.choose('Way to blend', 'screen');
  await panel.choose('Blend in', 'display');
  expect(look()).toMatchObject({ blend: 'screen', blendIn: 'display' });
});

test('reflections from the dark screen or a shape; from a key only where there is one', async () => {
  const { panel, look } = await blend();
  const from = panel.field('Reflections from');
  expect(from.get('option[value=key]').attributes('disabled')).toBeDefined();
  await panel.choose('Reflections from', 'drawn');
  expect(look().reflections!.from).toBe('drawn');
  expect(look().reflections!.shape!.points.length).toBeGreaterThan(2);
  expect(useWorkspace().picked).toEqual({ list: 'reflection', index: 0 });
  await panel.choose('Colour of the reflection', '#ffffff');
  expect(look().reflections!.colour).toEqual([1, 1, 1]);
  await panel.choose('Rides on', 'mirror');
  await panel.choose('Reflections from', 'dark');
  expect(look().reflections).toEqual({ from: 'dark' });
  await panel.type('Strength', '0.5');
  expect(look().reflections!.gain).toBe(0.5);
  await panel.choose('Reflections from', 'none');
  expect(look().reflections).toBeUndefined();
});

test('light on the room: a band is added, its softness set, and removed', async () => {
  const { panel, look } = await blend();
  await panel.press('add a band around it');
  expect(look().cast!.areas[0]).toMatchObject({ name: 'around', strength: 0.3 });
  await panel.choose('Soft outward, px', '40');
  expect(look().cast!.areas[0]!.shape.soft![1]).toBe(40);
  await panel.press('draw an area');
  expect(useWorkspace().tool).toBe('draw-cast');
  await panel.press('Remove lit area 1');
  expect(look().cast?.areas ?? []).toEqual([]);
});

test('what makes a picture a screen’s comes and goes by its number', async () => {
  const { panel, look } = await blend();
  await panel.press('Use 2% for Glow');
  await panel.type('Flicker', '3');
  await panel.type('Panel, columns', '1920');
  await panel.tick('Red, green and blue stripes');
  await panel.type('Scan lines', '480');
  await panel.type('Falloff to the side', '1.5');
  expect(look().texture).toEqual({
    glow: { amount: 0.02 },
    flicker: { rate: 7, amount: 0.03 },
    grid: { columns: 1920, stripes: true },
    lines: { rows: 480 },
    falloff: { power: 1.5 },
  });
  await panel.type('Flicker', '0');
  await panel.type('Panel, columns', '3');
  expect(look().texture).toEqual({ glow: { amount: 0.02 }, lines: { rows: 480 }, falloff: { power: 1.5 } });
});

const why = (change: Partial<LookReason> = {}): LookReason => ({
  says: 'Read along the borders.',
  certainty: 0.8,
  frames: [1, 3],
  ...change,
});
const MEASURED: Look = {
  fit: 'stretch',
  soften: 1.4,
  exposure: 0.3,
  why: { soften: why(), exposure: why({ certainty: 0.4 }) },
};

test('the look is measured: nothing changes until a value is taken; a value set by hand loses its reason', async () => {
  const { panel, look, api } = await blend(undefined, {
    answers: { [`POST /shots/${SHOT.id}/look`]: { look: MEASURED } },
  });
  await panel.press('Measure the look');
  expect(api.asked('POST', `/shots/${SHOT.id}/look`)).toHaveLength(1);
  expect(look()).toEqual({ fit: 'stretch' });
  expect(panel.text).toContain('Sure to 80 %. Read along the borders.');
  await panel.press('Take all (2)');
  expect(look()).toMatchObject({ soften: 1.4, exposure: 0.3, why: { soften: { certainty: 0.8 } } });
  await panel.type('Soften', '2');
  expect(look().why).toEqual({ exposure: why({ certainty: 0.4 }) });
  await panel.press('Sure to 80 %.');
  expect(usePlayhead().frame).toBe(1);
});

test('one value is taken, another left; measured along other corners it is called old', async () => {
  const { panel, look } = await blend(undefined, {
    answers: {
      [`POST /shots/${SHOT.id}/look`]: {
        look: { ...MEASURED, why: { ...MEASURED.why, soften: why({ basis: 'other corners' }) } },
      },
    },
  });
  await panel.press('Measure the look');
  await panel.press(/^Take (Soft|Sharp)/);
  await panel.press(/^Leave Exposure/);
  expect(look()).toMatchObject({ soften: 1.4 });
  expect(look().exposure).toBeUndefined();
  expect(panel.text).toContain('1 value was measured along other corners.');
  expect(panel.button('Take all (0)').attributes('disabled')).toBeDefined();
});

test('looks: kept under a name, used, deleted and brought back', async () => {
  let kept: SavedLook[] = [];
  const list = `/projects/1/looks`;
  const { panel, look, api } = await blend(
    { fit: 'fit', soften: 3, levels: { black: 0.11 } },
    {
      answers: {
        [`POST ${list}`]: ({ name, look }: { name: string; look: Look }) =>
          (kept = [...kept, { id: 4, name, look, createdAt: '2026-01-01T00:00:00.000Z' }]),
        'DELETE /looks/4': () => (kept = []),
      },
    },
  );
  await panel.press('keep this one');
  await panel.dialog('Keep this look', 'Potting shed');
  await expect.poll(() => panel.has('Use Potting shed')).toBe(true);
  expect(api.last('POST', list)).toMatchObject({ name: 'Potting shed', frame: 0, look: { soften: 3 } });
  await panel.press('Use Indoor phone');
  expect(look()).toMatchObject({ fit: 'fit', soften: 1.2, levels: { black: 0.07, white: 0.85 } });
  await panel.press('Use Potting shed');
  expect(look()).toMatchObject({ fit: 'fit', soften: 3, levels: { black: 0.11 } });
  await panel.press('Delete Potting shed');
  expect(panel.has('Use Potting shed')).toBe(false);
  useNotices().notices[0]!.action!.run();
  await expect.poll(() => panel.has('Use Potting shed')).toBe(true);
});

test('a look goes to other shots: what places the content there stays, what was measured here is measured there', async () => {
  const there = {
    shot: { ...SHOT, id: 9, name: 'Second take' },
    document: DOCUMENT,
    project: {
      id: 1,
      name: 'Seed house',
      shots: 2,
      createdAt: '2026-01-01T00:00:00.000Z',
      archived: false,
      picture: null,
    },
    runKey: 'k',
  };
  const { panel, api } = await blend(
    { ...MEASURED, fit: 'fill' },
    {
      answers: {
        'GET /projects/1/shots': [SHOT, there.shot, { ...SHOT, id: 10, name: 'No plate', plate: null }],
        'GET /shots/9': there,
        'PUT /shots/9/document': { revision: 2, runKey: 'k' },
        'POST /shots/9/look': { look: { ...MEASURED, soften: 5 } },
      },
    },
  );
  expect(panel.has('No plate')).toBe(false);
  expect(panel.button(/^Copy to 0/).attributes('disabled')).toBeDefined();
  await panel.tick(/Second take/);
  await panel.press('Copy to 1 shot');
  await expect.poll(() => api.asked('PUT', '/shots/9/document').length).toBe(2);
  const last = api.last('PUT', '/shots/9/document') as { document: { look: Look } };
  expect(last.document.look.fit).toBe('stretch');
  expect(last.document.look.soften).toBe(5);
  await expect.poll(() => panel.text).toContain('done');
});
