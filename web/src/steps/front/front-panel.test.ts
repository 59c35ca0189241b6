// @vitest-environment happy-dom
import { expect, test } from 'vitest';
import type { CleanFixFile, ColourKey, FrontShape, Look } from '../../../../core/base/schemas/types.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useNotices } from '../../stores/notices.ts';
import { mountPanel } from '../../test/mount-panel.ts';
import { openShot, type Given } from '../../test/open-shot.ts';
import { row, SHOT } from '../../test/shot-parts.ts';
import { Refusal } from '../../test/table-api.ts';
import FrontPanel from './FrontPanel.vue';

const GREEN: ColourKey = { colour: [0.05, 0.6, 0.1] };
const BOX: [number, number][] = [
  [30, 30],
  [50, 30],
  [50, 45],
];
const shape = (name: string): FrontShape => ({ name, points: structuredClone(BOX) });

async function front(look: Look = { fit: 'stretch' }, given: Given = {}) {
  const opened = await openShot({ rows: [row(0), row(1), row(3)], ...given, document: { look, ...given.document } });
  return { ...opened, panel: await mountPanel(FrontPanel), look: () => opened.doc.document!.look };
}

test('without corners the panel says what comes first', async () => {
  const { panel } = await front(undefined, { document: { corners: null } });
  expect(panel.text).toContain('First seat the four corners');
});

test('a proposed key comes with its spill and markers as one step of undo', async () => {
  const why = { says: 'The screen is green on all frames.', certainty: 0.9 };
  const { panel, look, doc } = await front(undefined, {
    answers: {
      [`POST /shots/${SHOT.id}/front`]: {
        keys: [GREEN],
        markers: [],
        spill: { limit: 'mean' },
        why: { keys: why },
      },
    },
  });
  expect(panel.text).toContain('It needs a key, which tells the colour.');
  await panel.press('Propose a key');
  expect(look()).toMatchObject({ keys: [GREEN], spill: { limit: 'mean' }, why: { keys: { certainty: 0.9 } } });
  expect(panel.text).toContain('Measure again');
  doc.undo();
  expect(look()).toEqual({ fit: 'stretch' });
});

test('where nothing can be keyed it is said, and nothing is changed; nor where the service refuses', async () => {
  const { panel, look, api } = await front(undefined, {
    answers: { [`POST /shots/${SHOT.id}/front`]: { keys: [], markers: [], spill: null, why: {} } },
  });
  await panel.press('Propose a key');
  expect(useNotices().notices[0]!.text).toContain('Draw shapes, or pick a colour.');
  api.on(`POST /shots/${SHOT.id}/front`, new Refusal(409, 'no-corners', 'There are no corners.'));
  await panel.press('Propose a key');
  expect(useNotices().notices.at(-1)!.text).toBe('There are no corners. Do something else.');
  expect(look()).toEqual({ fit: 'stretch' });
});

test('a key’s numbers, switched off and on, removed; changed by hand it is no longer the measured one', async () => {
  const why = { keys: { says: 'Measured.', certainty: 0.9 } };
  const { panel, look } = await front({ fit: 'stretch', keys: [GREEN], why });
  await panel.type('Floor: clear up to', '12');
  await panel.type('Grow what is in front', '0.5');
  await panel.type('Denoise for the key', '1');
  expect(look().keys).toEqual([{ ...GREEN, floor: 0.12, grow: 0.5, denoise: 1 }]);
  expect(look().why).toBeUndefined();
  await panel.press('Use key 1');
  expect(look().keys).toMatchObject([{ off: true }]);
  await panel.press('Use key 1');
  await panel.type('Denoise for the key', '0');
  expect(look().keys).toEqual([{ ...GREEN, floor: 0.12, grow: 0.5 }]);
  await panel.press('Remove key 1');
  expect(look().keys).toBeUndefined();
});

test('picking a colour asks for a drag in the picture', async () => {
  const { panel } = await front();
  await panel.press('Pick');
  expect(useWorkspace().tool).toBe('pick-colour');
});

test('shapes are picked, ordered, switched off, softened and removed', async () => {
  const { panel, look, doc } = await front({ fit: 'stretch', shapes: [shape('Hand'), shape('Glove')] });
  await panel.press('Glove earlier');
  expect(look().shapes!.map((one) => one.name)).toEqual(['Glove', 'Hand']);
  expect(useWorkspace().picked).toEqual({ list: 'shapes', index: 0 });
  await panel.press('remove');
  expect(look().shapes![0]!.does).toBe('remove');
  await panel.press(/^(Use|Show) Glove/);
  expect(look().shapes![0]!.off).toBe(true);
  await panel.press(/^Remove Hand/);
  expect(look().shapes).toHaveLength(1);
  doc.undo();
  expect(look().shapes).toHaveLength(2);
  await panel.press('Draw a shape (D)');
  expect(useWorkspace().tool).toBe('draw-shape');
});

test('outlines of an SVG of the plate’s size become shapes; what it holds besides is reported by line', async () => {
  const { panel, look } = await front();
  const input = panel.field('Shapes from an SVG').element as HTMLInputElement;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="1280" height="720">
<path id="hand" d="M10 10L60 10L60 50Z"/>
<text>no outline</text>
</svg>`;
  Object.defineProperty(input, 'files', {
    value: [Object.assign(new File([svg], 'a.svg'), { text: async () => svg })],
  });
  input.dispatchEvent(new Event('change'));
  await expect.poll(() => look().shapes?.length).toBe(1);
  expect(look().shapes![0]!.points).toHaveLength(3);
  expect(useNotices().notices[0]!.text).toMatch(/^1 shape taken from a\.svg\. Line 3: /);
});

test('spill: its limit, what comes in its place, and hues of their own', async () => {
  const { panel, look } = await front({ fit: 'stretch', keys: [GREEN] });
  await panel.tick(/Replace it by the content’s light/);
  await panel.press('weighted');
  await panel.type('Share of the larger', '30');
  await panel.type('Amount', '70');
  await panel.type('Works past the outline', '20');
  expect(look().spill).toMatchObject({ limit: 'weighted', weight: 0.3, amount: 0.7, window: 0.2 });
  await panel.press(/hue/i);
  expect(look().spill).toMatchObject({ hues: [{ hue: expect.any(Number) as number }] });
  await panel.press('Draw an area');
  expect(useWorkspace().tool).toBe('draw-area');
  await panel.tick(/Replace it by the content’s light/, false);
  expect(look().spill).toMatchObject({ off: true });
});

const FIX: CleanFixFile = { name: 'Sticker', method: 'smooth', shape: { points: structuredClone(BOX) } };

test('marks that are found become fixes beside those drawn; none found says why', async () => {
  const { panel, look, api } = await front(
    { fit: 'stretch', clean: { fixes: [FIX] } },
    { answers: { [`POST /shots/${SHOT.id}/marks`]: { fixes: [{ ...FIX, name: 'Mark 1' }] } } },
  );
  await panel.press(/^Find/);
  expect(look().clean).toMatchObject({ fixes: [{ name: 'Sticker' }, { name: 'Mark 1' }] });
  expect(useWorkspace().frontView).toBe('cleaned');
  api.on(`POST /shots/${SHOT.id}/marks`, { fixes: [] });
  await panel.press(/^Find/);
  await expect.poll(() => useNotices().notices.length).toBe(1);
  expect(useNotices().notices[0]!.text).toContain('No marks were found that ride with the screen');
});

test('ways to look at what is in front', async () => {
  const { panel } = await front();
  await panel.press('matte');
  expect(useWorkspace().frontView).toBe('matte');
  expect(panel.text).toContain('White is where content is seen.');
});
