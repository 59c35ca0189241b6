// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, test } from 'vitest';
import type { ShotCard } from '../../../core/base/schemas/types.ts';
import { useNotices } from '../stores/notices.ts';
import { mountPanel, settled } from '../test/mount-panel.ts';
import { PROJECT } from '../test/open-shot.ts';
import { DOCUMENT, PLATE, SHOT } from '../test/shot-parts.ts';
import { TableApi } from '../test/table-api.ts';
import ProjectPage from './ProjectPage.vue';

function card(id: number, name: string, change: Partial<ShotCard> = {}): ShotCard {
  return {
    shot: { ...SHOT, id, name },
    document: DOCUMENT,
    runKey: 'k',
    track: { held: 0, lost: 0, doubtful: 0, outdated: 0, error: null },
    seatOff: null,
    contentName: null,
    render: null,
    changedAt: '2026-01-02T00:00:00.000Z',
    picture: null,
    ...change,
  };
}

let cards: ShotCard[];
beforeEach(() => {
  setActivePinia(createPinia());
  cards = [
    card(3, 'Glove and phone'),
    card(4, 'Wall screen', { shot: { ...SHOT, id: 4, name: 'Wall screen', plate: null } }),
  ];
});

async function page() {
  const api = new TableApi({
    'GET /projects/1': PROJECT,
    'GET /projects/1/cards': () => cards,
    'GET /projects/1/storage': { media: [], total: 0 },
    'GET /projects/1/media': [PLATE],
    'PATCH /shots/4': ({ name }: { name: string }) => {
      cards = cards.map((one) => (one.shot.id === 4 ? { ...one, shot: { ...one.shot, name } } : one));
      return cards[1]!.shot;
    },
    'POST /shots/3/duplicate': ({ name }: { name: string }) => {
      cards = [...cards, card(5, name)];
      return cards[2]!.shot;
    },
    'PUT /shots/3/archived': ({ archived }: { archived: boolean }) => {
      cards = cards.map((one) => (one.shot.id === 3 ? { ...one, shot: { ...one.shot, archived } } : one));
      return cards[0]!.shot;
    },
    'DELETE /shots/4': () => {
      cards = cards.filter((one) => one.shot.id !== 4);
      return cards.map((one) => one.shot);
    },
    'POST /shots/4/restore': () => {
      cards = [...cards, card(4, 'Wall screen')];
      return cards.at(-1)!.shot;
    },
  });
  return { api, panel: await mountPanel(ProjectPage, {}, '/projects/1') };
}

test('shots are found by words of their name; what each step has come to is read', async () => {
  const { panel } = await page();
  expect(panel.text).toContain('1280×720, 4 f at 25');
  expect(panel.text).toContain('no plate yet');
  await panel.choose('Find a shot', 'phone glove');
  expect(panel.text).toContain('1 of 2');
  expect(panel.has('Rename Wall screen')).toBe(false);
  await panel.choose('Find a shot', 'kettle');
  expect(panel.text).toContain('No name fits.');
});

test('renamed, duplicated, archived and brought back', async () => {
  const { panel, api } = await page();
  await panel.press('Rename Wall screen');
  await panel.dialog('Rename shot', 'Watering plan');
  expect(api.last('PATCH', '/shots/4')).toEqual({ name: 'Watering plan' });
  expect(panel.has('Rename Watering plan')).toBe(true);
  await panel.press('Duplicate Glove and phone');
  await panel.dialog('Duplicate shot', 'Glove again');
  expect(panel.has('Rename Glove again')).toBe(true);
  await panel.press('Archive Glove and phone');
  expect(panel.has('Rename Glove and phone')).toBe(false);
  await panel.press('1 archived');
  await panel.press('Bring back Glove and phone');
  expect(panel.text).toContain('Nothing is archived.');
  await panel.press('back');
  expect(panel.has('Rename Glove and phone')).toBe(true);
});

test('what is deleted can be brought back for a while', async () => {
  const { panel } = await page();
  await panel.press('Delete Wall screen');
  expect(panel.has('Rename Wall screen')).toBe(false);
  useNotices()
    .notices.find((one) => one.action)!
    .action!.run();
  await settled();
  expect(panel.has('Rename Wall screen')).toBe(true);
});

test('an empty project says what a shot is for; one that cannot be read says why', async () => {
  cards = [];
  expect((await page()).panel.text).toContain('There is no shot yet.');
  const away = new TableApi({});
  await mountPanel(ProjectPage, {}, '/projects/1');
  expect(away.calls.length).toBeGreaterThan(0);
  expect(useNotices().notices.length).toBeGreaterThan(0);
});
