// @vitest-environment happy-dom
import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { ShotDocument } from '../../../core/base/schemas/types.ts';
import { job, openShot } from '../test/open-shot.ts';
import { row, SHOT } from '../test/shot-parts.ts';
import { AWAY, Refusal } from '../test/table-api.ts';
import { keepDraft, readDraft } from './draft-keeper.ts';
import { useJobs } from './jobs.ts';
import { useNotices } from './notices.ts';

const SAVE = `/shots/${SHOT.id}/document`;

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
});
afterEach(() => {
  vi.useRealTimers();
});

/** Until the autosave has come and what it began has ended. */
async function soon(milliseconds = 400): Promise<void> {
  await vi.advanceTimersByTimeAsync(milliseconds);
  await flushPromises();
}

describe('edits', () => {
  test('each is one step of undo, saved a moment later, and kept until it is', async () => {
    const { doc, saving, api, kept } = await openShot();
    doc.edit((draft) => {
      draft.look.soften = 2;
    });
    doc.edit((draft) => {
      draft.look.opacity = 0.5;
    });
    expect(saving.state).toBe('unsaved');
    expect(readDraft(SHOT.id)?.document.look).toMatchObject({ soften: 2, opacity: 0.5 });
    await soon();
    expect(saving.state).toBe('saved');
    expect(api.asked('PUT', SAVE)).toHaveLength(1);
    expect(kept.document.look).toMatchObject({ soften: 2, opacity: 0.5 });
    expect(readDraft(SHOT.id)).toBeNull();
    doc.undo();
    expect(doc.document!.look).toMatchObject({ soften: 2 });
    expect(doc.document!.look.opacity).toBeUndefined();
    doc.undo();
    expect(doc.undoable).toEqual({ undo: false, redo: true });
    doc.redo();
    doc.redo();
    await soon();
    expect(kept.document.look).toMatchObject({ soften: 2, opacity: 0.5 });
  });

  test('what a recipe happens to return is not the document', async () => {
    const { doc } = await openShot();
    doc.edit((draft) => (draft.look.soften = 2) as never);
    expect(doc.document!.look.soften).toBe(2);
    expect(doc.document!.regions).toHaveLength(1);
  });

  test('a drag is one step and one save, however many moves it has', async () => {
    const { doc, api, kept } = await openShot();
    const before = doc.document!.corners![1];
    for (let i = 1; i <= 20; i++)
      doc.drag((draft) => {
        draft.corners![1] = [before[0] + i, before[1] - i];
      });
    expect(doc.document!.corners![1]).toEqual([100, 0]);
    await soon();
    expect(api.asked('PUT', SAVE)).toHaveLength(0);
    doc.settle();
    await soon();
    expect(api.asked('PUT', SAVE)).toHaveLength(1);
    expect(kept.document.corners![1]).toEqual([100, 0]);
    doc.undo();
    expect(doc.document!.corners![1]).toEqual(before);
  });

  test('an edit while a save is under way is saved after it', async () => {
    const { doc, saving, api, kept } = await openShot();
    let answered!: () => void;
    const first = new Promise<void>((done) => (answered = done));
    api.on(`PUT ${SAVE}`, async (body: { base: number; document: ShotDocument }) => {
      if (api.asked('PUT', SAVE).length === 1) await first;
      return kept.save(body);
    });
    doc.edit((draft) => {
      draft.look.soften = 1;
    });
    await soon();
    expect(saving.state).toBe('saving');
    doc.edit((draft) => {
      draft.look.soften = 3;
    });
    answered();
    await soon(2000);
    expect(saving.state).toBe('saved');
    expect(kept.document.look.soften).toBe(3);
    expect(kept.revision).toBe(3);
  });
});

describe('a save that somebody else was before', () => {
  async function stale() {
    const opened = await openShot();
    opened.kept.save({ base: 1, document: { ...opened.kept.document, look: { soften: 7 } } });
    opened.doc.edit((draft) => {
      draft.look.soften = 5;
    });
    await soon();
    expect(opened.saving.state).toBe('conflict');
    return opened;
  }
  test('is said, nothing more is sent, and mine can be put over it', async () => {
    const { doc, saving, api, kept } = await stale();
    doc.edit((draft) => {
      draft.look.opacity = 0.9;
    });
    await soon(5000);
    expect(api.asked('PUT', SAVE)).toHaveLength(1);
    expect(kept.document.look).toEqual({ soften: 7 });
    await saving.keepMine();
    expect(saving.state).toBe('saved');
    expect(kept.document.look).toMatchObject({ soften: 5, opacity: 0.9 });
    expect(kept.revision).toBe(3);
  });
  test('or theirs be taken', async () => {
    const { shot, doc, saving, kept } = await stale();
    await shot.takeTheirs();
    expect(doc.document!.look).toEqual({ soften: 7 });
    expect(saving.state).toBe('saved');
    expect(readDraft(SHOT.id)).toBeNull();
    expect(kept.revision).toBe(2);
  });
});

describe('without the server', () => {
  test('edits are kept, and saved when it is back', async () => {
    const { doc, saving, api, kept } = await openShot();
    const save = api.table.get(`PUT ${SAVE}`);
    api.on(`PUT ${SAVE}`, AWAY);
    doc.edit((draft) => {
      draft.look.soften = 3;
    });
    await soon();
    expect(saving.state).toBe('offline');
    expect(useNotices().notices[0]!.text).toMatch(/server does not answer.*edits are kept/i);
    expect(readDraft(SHOT.id)!.document.look.soften).toBe(3);
    api.on(`PUT ${SAVE}`, save);
    await soon(3500);
    expect(saving.state).toBe('saved');
    expect(kept.document.look.soften).toBe(3);
  });
  test('what an earlier page could not hand over is taken up; of an older revision it is put to the person', async () => {
    const { kept } = await openShot();
    const mine = { ...kept.document, look: { ...kept.document.look, soften: 9 } };
    keepDraft(SHOT.id, { base: 1, document: mine });
    const again = await openShot({ keepDrafts: true });
    expect(again.doc.document!.look.soften).toBe(9);
    await soon();
    expect(again.kept.document.look.soften).toBe(9);
    keepDraft(SHOT.id, { base: 0, document: mine });
    const third = await openShot({ keepDrafts: true });
    expect(third.saving.state).toBe('conflict');
    // An edit meanwhile does not make it fit: what it began from stays known to a page that is opened next.
    third.doc.edit((draft) => {
      draft.look.opacity = 0.5;
    });
    await soon();
    expect(third.saving.state).toBe('conflict');
    expect(readDraft(SHOT.id)).toMatchObject({ base: 0, document: { look: { soften: 9, opacity: 0.5 } } });
    await third.saving.keepMine();
    expect(third.kept.document.look).toMatchObject({ soften: 9, opacity: 0.5 });
  });
  test('a save that is refused for another reason says why and is tried again', async () => {
    const { doc, api } = await openShot();
    api.on(`PUT ${SAVE}`, new Refusal(503, 'database-away', 'The database does not answer.'));
    doc.edit((draft) => {
      draft.look.soften = 3;
    });
    await soon();
    expect(useNotices().notices[0]!.text).toBe('The database does not answer. Do something else.');
    await soon(3500);
    expect(api.asked('PUT', SAVE).length).toBeGreaterThan(1);
  });
});

describe('the track', () => {
  test('comes in as it grows; its frames say where the surface is', async () => {
    let rows = [row(3)];
    const { shot, track, placed, api } = await openShot();
    api.on(`GET /shots/${SHOT.id}/track`, () => ({ rows, after: 5 }));
    useJobs().take(job({ done: 1 }));
    await flushPromises();
    expect(track.newestFrame).toBe(3);
    rows = [row(1, { confidence: 0.4 }), row(0, { homography: null, lost: 'covered: by a hand' })];
    useJobs().take(job({ done: 3 }));
    await flushPromises();
    expect(track.rows.map((one) => one.frame)).toEqual([0, 1, 3]);
    expect(track.homographyAt(2)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    expect(placed.cornersAt(3)![0]).toEqual([23, 20]);
    expect(placed.cornersAt(0)).toBeNull();
    // A frame without a map of its own is shown by its neighbour.
    expect(track.nearestMap(0)![2]).toBe(1);
    expect(track.worstFrame()).toBe(0);
    expect(shot.running?.kind).toBe('follow');
  });
  test('following saves first, then asks for all rows anew', async () => {
    const { shot, doc, api, kept } = await openShot({ rows: [row(1)] });
    api.on(`POST /shots/${SHOT.id}/follow`, () => {
      expect(kept.document.motion).toBe('affine');
      return job();
    });
    doc.edit((draft) => {
      draft.motion = 'affine';
    });
    await shot.follow({ direction: 'both' });
    expect(api.last('POST', `/shots/${SHOT.id}/follow`)).toEqual({ direction: 'both' });
    expect(api.asked('GET', /track\?after=0/)).toHaveLength(2);
  });
  test('clearing a span drops its rows here too', async () => {
    const { shot, track, api } = await openShot({ rows: [row(1), row(3)] });
    api.on(`POST /shots/${SHOT.id}/track/clear`, { rows: [], after: 2 });
    api.on(`GET /shots/${SHOT.id}/track`, { rows: [row(1)], after: 3 });
    await shot.clearSpan([2, 3]);
    expect(api.last('POST', `/shots/${SHOT.id}/track/clear`)).toEqual({ frames: [2, 3] });
    expect(track.rows.map((one) => one.frame)).toEqual([1]);
  });
  test('riding on another shot that is refused is taken back', async () => {
    const { shot, doc, api } = await openShot();
    api.on(`PUT ${SAVE}`, new Refusal(400, 'rides', 'That shot rides itself.'));
    await shot.ride(9);
    expect(doc.document!.rides).toBeUndefined();
  });
});

test('a job that failed says why; one of another project does not', async () => {
  await openShot();
  useJobs().take(job({ state: 'failed', problem: 'There is nothing to hold on to here.' }));
  useJobs().take(job({ id: 2, projectId: 5, shotId: 8, state: 'failed', problem: 'Elsewhere.' }));
  await flushPromises();
  expect(useNotices().notices.map((one) => one.text)).toEqual(['There is nothing to hold on to here.']);
});

test('in and out are those chosen, within the plate', async () => {
  const { shot, doc } = await openShot();
  expect(shot.range).toEqual([0, 3]);
  doc.edit((draft) => {
    draft.range = [1, 99];
  });
  expect(shot.range).toEqual([1, 3]);
});

test('an earlier revision comes back as the newest', async () => {
  const { shot, doc, api, kept } = await openShot();
  api.on(`POST /shots/${SHOT.id}/revisions/1/restore`, () => {
    kept.document = { ...kept.document, look: { fit: 'fill' } };
    kept.revision = 5;
    return kept.detail();
  });
  await shot.restore(1);
  expect(doc.document!.look).toEqual({ fit: 'fill' });
  expect(doc.undoable.undo).toBe(false);
});
