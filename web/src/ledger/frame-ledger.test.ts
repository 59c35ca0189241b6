// @vitest-environment happy-dom
import { defineComponent, h } from 'vue';
import { expect, test } from 'vitest';
import { useWorkspaceKeys } from '../pages/workspace-keys.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useViewing } from '../stores/viewing.ts';
import { mountPanel, settled } from '../test/mount-panel.ts';
import { openShot, type Given } from '../test/open-shot.ts';
import { PLATE, row } from '../test/shot-parts.ts';
import FrameLedger from './FrameLedger.vue';

const LONG = { ...PLATE, facts: { ...PLATE.facts!, frames: 80, firstFrameNumber: 1001 } };
const Page = defineComponent({
  setup() {
    useWorkspaceKeys(() => {});
    return () => h(FrameLedger);
  },
});

async function ledger(given: Given = {}) {
  const opened = await openShot({
    plate: LONG,
    ...given,
    answers: { 'GET /shots/3/ledger': { layer: 'full', impossible: null, frames: [] }, ...given.answers },
  });
  const panel = await mountPanel(Page);
  const strip = panel.wrapper.get('[role=slider]');
  const press = async (key: string, more: object = {}) => {
    await strip.trigger('keydown', { key, ...more });
    await settled();
  };
  /** A key of the bench, pressed anywhere. */
  const key = async (pressed: string, more: KeyboardEventInit = {}) => {
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: pressed, bubbles: true, ...more }));
    await settled();
  };
  return { ...opened, panel, strip, press, key, frame: () => usePlayhead().frame };
}

test('frames by keyboard: one, ten, the ends; named by the plate’s numbers', async () => {
  const { press, frame, strip } = await ledger();
  for (const [key, shift, wanted] of [
    ['ArrowRight', false, 1],
    ['ArrowRight', true, 11],
    ['PageDown', false, 21],
    ['End', false, 79],
    ['PageUp', false, 69],
    ['Home', false, 0],
    ['ArrowLeft', false, 0],
  ] as const) {
    await press(key, { shiftKey: shift });
    expect(frame()).toBe(wanted);
  }
  expect(strip.attributes('aria-valuenow')).toBe('1001');
  expect(strip.attributes('aria-valuemax')).toBe('1080');
});

test('time is zoomed in and out about the playhead', async () => {
  const { press, strip } = await ledger();
  await press('PageDown');
  for (let i = 0; i < 6; i++) await press('+');
  expect(Number(strip.attributes('data-across'))).toBeLessThan(40);
  for (let i = 0; i < 12; i++) await press('-');
  expect(strip.attributes('data-across')).toBe('80.00');
});

test('in and out are set to the frame on show; the next frame that wants a look is one key away', async () => {
  const { doc, key, press } = await ledger({
    rows: [row(5), row(30, { homography: null, lost: 'covered: by a hand', error: null }), row(40)],
  });
  await key('n');
  expect(usePlayhead().frame).toBe(30);
  await key('i');
  await press('PageDown');
  await key('u');
  expect(doc.document!.range).toEqual([30, 40]);
  await key('z', { ctrlKey: true });
  expect(doc.document!.range).toEqual([30, 79]);
  await key('z', { ctrlKey: true, shiftKey: true });
  expect(doc.document!.range).toEqual([30, 40]);
});

test('the bench’s keys do what they say, and nothing while somebody types', async () => {
  const { doc, key, frame } = await ledger();
  const workspace = useWorkspace();
  await key('.');
  await key('>', { shiftKey: true });
  expect(frame()).toBe(11);
  await key('r');
  expect(frame()).toBe(2);
  workspace.enter('follow');
  await key('k');
  expect(workspace.tool).toBe('draw-keep-out');
  workspace.enter('seat');
  await key('c');
  expect(workspace.part).toBe(1);
  await key('ArrowRight');
  expect(doc.document!.corners![1]).toEqual([81, 20]);
  await key('ArrowRight', { altKey: true });
  expect(doc.document!.corners![1][0]).toBeCloseTo(81.1, 6);
  await key('t');
  expect(doc.document!.testCard).toBe(true);
  await key('x');
  expect(workspace.seatMode).toBe('here');
  await key(']');
  await key('h');
  expect(useViewing().exposure).toBe(0.5);
  await key('0');
  expect(useViewing().exposure).toBe(0);
  const field = document.createElement('input');
  document.body.append(field);
  field.dispatchEvent(new KeyboardEvent('keydown', { key: 't', bubbles: true }));
  expect(doc.document!.testCard).toBe(true);
});
