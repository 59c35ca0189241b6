import { useDebounceFn } from '@vueuse/core';
import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { ShotDetail, ShotDocument } from '../../../core/base/schemas/types.ts';
import { ApiProblem, call } from '../api/client.ts';
import { useDocument } from './document.ts';
import { dropDraft, keepDraft, readDraft } from './draft-keeper.ts';
import { useNotices } from './notices.ts';
import { useTrack } from './track.ts';

export type SaveState = 'saved' | 'unsaved' | 'saving' | 'offline' | 'conflict';

const AUTOSAVE_MS = 350;
const AGAIN_MS = 3000;

/** What a motion that is spliced is made from, besides what is followed; a save that changes it changes every row. */
function madeByHand(document: ShotDocument | null): string {
  return document?.spans
    ? JSON.stringify([
        document.spans,
        document.fade,
        document.focal,
        document.handKeys,
        document.cornerPoints,
        document.corners,
      ])
    : '';
}

/** Whether the document of the open shot is on the server: saved by itself a moment after each edit, kept in the browser until then. */
export const useSaving = defineStore('saving', () => {
  const doc = useDocument();
  const track = useTrack();
  const notices = useNotices();
  const state = ref<SaveState>('saved');
  /** What the track is held against: where a row has another key, something that moves it has changed since. */
  const runKey = ref('');
  let shotId: number | null = null;
  let revision = 0;
  let stored: ShotDocument | null = null;
  let theirRevision: number | null = null;
  let underWay: Promise<void> | null = null;

  /** Begins with a shot as the server has it, and with edits of it that the browser kept. */
  function begin(detail: ShotDetail): void {
    shotId = detail.shot.id;
    revision = detail.shot.revision;
    runKey.value = detail.runKey;
    stored = detail.document;
    theirRevision = null;
    state.value = 'saved';
    doc.begin(detail.document);
    takeUpDraft(shotId, detail.document);
  }
  /** Edits that an earlier page could not hand over: saved now, or put to the person when somebody else saved meanwhile. */
  function takeUpDraft(id: number, document: ShotDocument): void {
    const draft = readDraft(id);
    if (!draft || JSON.stringify(draft.document) === JSON.stringify(document)) return dropDraft(id);
    if (draft.base !== revision) {
      theirRevision = revision;
      revision = draft.base;
      state.value = 'conflict';
    }
    doc.replace(draft.document);
  }
  function end(): void {
    flush();
    shotId = null;
    doc.begin(null);
  }
  doc.onEdited((document) => {
    if (shotId === null) return;
    if (state.value !== 'conflict') state.value = 'unsaved';
    keepDraft(shotId, { base: revision, document });
    void saveSoon();
  });

  const saveSoon = useDebounceFn(() => save(), AUTOSAVE_MS);
  async function save(keepalive = false): Promise<void> {
    if (underWay) await underWay;
    if (!doc.document || shotId === null || state.value === 'conflict') return;
    if (doc.document === stored) return acknowledge(shotId);
    underWay = put(shotId, doc.document, keepalive).finally(() => (underWay = null));
    await underWay;
  }
  function acknowledge(id: number): void {
    state.value = 'saved';
    dropDraft(id);
  }
  async function put(id: number, sent: ShotDocument, keepalive: boolean): Promise<void> {
    state.value = 'saving';
    try {
      const saved = await call(
        'PUT',
        `/shots/${id}/document`,
        'saved',
        { base: revision, document: sent },
        { keepalive },
      );
      revision = saved.revision;
      runKey.value = saved.runKey;
      const movedByAnother = stored?.rides !== sent.rides || madeByHand(stored) !== madeByHand(sent);
      stored = sent;
      if (movedByAnother && shotId === id) await track.reload();
      if (shotId !== id || doc.document === sent) acknowledge(id);
      else {
        state.value = 'unsaved';
        if (doc.document) keepDraft(id, { base: revision, document: doc.document });
        void saveSoon();
      }
    } catch (error) {
      notSaved(error as Error);
    }
  }
  function notSaved(error: Error): void {
    if (error instanceof ApiProblem && error.reply.code === 'stale-save') {
      theirRevision = error.reply.current ?? null;
      state.value = 'conflict';
      return;
    }
    state.value = 'offline';
    notices.add(error.message);
    setTimeout(() => state.value === 'offline' && void save(), AGAIN_MS);
  }
  /** Forgets the edits that the browser keeps. */
  function dropMine(): void {
    if (shotId !== null) dropDraft(shotId);
  }
  /** Sends what is not saved yet, even while the page goes away. */
  function flush(): void {
    if (state.value === 'unsaved') void save(true);
  }
  /** Everything typed or dragged so far is on the server when this resolves with true. */
  async function saved(): Promise<boolean> {
    doc.settle();
    await save();
    return state.value === 'saved';
  }
  /** Puts the document over what somebody else has saved. */
  async function keepMine(): Promise<void> {
    if (theirRevision !== null) revision = theirRevision;
    theirRevision = null;
    state.value = 'unsaved';
    await save();
  }
  return { state, runKey, begin, end, flush, saved, keepMine, dropMine, revision: () => revision };
});
