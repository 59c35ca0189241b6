import { useDebounceFn } from '@vueuse/core';
import { produce } from 'immer';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { SeatedCorners } from '../../../core/surface/seat/seated-corners.ts';
import { cornerBound, unpackCertainty } from '../../../core/motion/follow/certainty.ts';
import { IDENTITY, type Homography } from '../../../core/base/geometry/homography.ts';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import type {
  FollowRequest,
  Job,
  Media,
  PlateCheck,
  Project,
  Shot,
  ShotDocument,
  TrackRow,
} from '../../../core/base/schemas/types.ts';
import { ApiProblem, call } from '../api/client.ts';
import { EditHistory } from '../history/edit-history.ts';
import { dropDraft, keepDraft, readDraft } from './draft-keeper.ts';
import { isOpen, useJobs } from './jobs.ts';
import { useNotices } from './notices.ts';

export type SaveState = 'saved' | 'unsaved' | 'saving' | 'offline' | 'conflict';

const AUTOSAVE_MS = 350;

/** The document after a recipe; what the recipe happens to return (an assignment's value) is not a document. */
function changed(document: ShotDocument, recipe: (draft: ShotDocument) => void): ShotDocument {
  return produce(document, (draft) => {
    recipe(draft);
  });
}

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

/** The shot on the bench: its document with undo, autosave, track, media and jobs. */
export const useShot = defineStore('shot', () => {
  const jobs = useJobs();
  const notices = useNotices();
  const shot = shallowRef<Shot | null>(null);
  const project = shallowRef<Project | null>(null);
  const document = shallowRef<ShotDocument | null>(null);
  const runKey = ref('');
  const saveState = ref<SaveState>('saved');
  const media = shallowRef<Media[]>([]);
  const track = shallowRef(new Map<number, TrackRow>());
  /** The frame whose track row came last: where a running follow is. */
  const newestFrame = ref<number | null>(null);
  /** What the plate check found; null until it has. */
  const check = shallowRef<PlateCheck | null>(null);
  const undoable = ref({ undo: false, redo: false });
  let history: EditHistory<ShotDocument> | null = null;
  let revision = 0;
  let savedDocument: ShotDocument | null = null;
  let theirRevision: number | null = null;
  let trackAfter = 0;
  /** How often the track was begun anew. */
  let trackBegun = 0;
  let stopListening: (() => void) | null = null;

  /** `opened` is called as soon as the document is there: what a person does from then on must not be taken back. */
  async function open(id: number, opened?: () => void): Promise<void> {
    close();
    await reload(id);
    opened?.();
    forgetTrack();
    await Promise.all([refreshMedia(), refreshTrack(), refreshCheck(), jobs.loadForShot(id)]);
    stopListening = jobs.onJob((job) => void onJob(job));
  }
  async function reload(id: number): Promise<void> {
    const detail = await call('GET', `/shots/${id}`, 'shotDetail');
    shot.value = detail.shot;
    project.value = detail.project;
    runKey.value = detail.runKey;
    revision = detail.shot.revision;
    savedDocument = detail.document;
    theirRevision = null;
    history = new EditHistory(detail.document);
    show('saved');
    takeUpDraft(id, detail.document);
  }
  /** Edits that an earlier page could not hand over: saved now, or put to the person when somebody else saved meanwhile. */
  function takeUpDraft(id: number, stored: ShotDocument): void {
    const draft = readDraft(id);
    if (!draft || !history || JSON.stringify(draft.document) === JSON.stringify(stored)) return dropDraft(id);
    history.commit(draft.document);
    if (draft.base === revision) return edited();
    theirRevision = revision;
    show('conflict');
  }
  function close(): void {
    flush();
    stopListening?.();
    stopListening = null;
    shot.value = null;
    document.value = null;
    history = null;
  }

  function show(state?: SaveState): void {
    document.value = history?.present ?? null;
    undoable.value = { undo: history?.canUndo ?? false, redo: history?.canRedo ?? false };
    if (state) saveState.value = state;
  }
  function edited(): void {
    show(saveState.value === 'conflict' ? 'conflict' : 'unsaved');
    if (shot.value && history) keepDraft(shot.value.id, { base: revision, document: history.present });
    void saveSoon();
  }
  /** One edit, one step of undo. */
  function edit(recipe: (draft: ShotDocument) => void): void {
    if (!history) return;
    history.commit(changed(history.present, recipe));
    edited();
  }
  /** A change while something is dragged; `settle` makes it one step of undo and saves it. */
  function drag(recipe: (draft: ShotDocument) => void): void {
    history?.change(changed(history.present, recipe));
    show();
  }
  function settle(): void {
    if (history?.settle()) edited();
  }
  function undo(): void {
    if (history?.undo()) edited();
  }
  function redo(): void {
    if (history?.redo()) edited();
  }

  const saveSoon = useDebounceFn(() => save(), AUTOSAVE_MS);
  let saving: Promise<void> | null = null;
  async function save(keepalive = false): Promise<void> {
    if (saving) await saving;
    if (!history || !shot.value || saveState.value === 'conflict') return;
    if (history.present === savedDocument) return acknowledge(shot.value.id);
    saving = put(shot.value.id, history.present, keepalive).finally(() => (saving = null));
    await saving;
  }
  function acknowledge(id: number): void {
    saveState.value = 'saved';
    dropDraft(id);
  }
  async function put(id: number, sent: ShotDocument, keepalive: boolean): Promise<void> {
    saveState.value = 'saving';
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
      const movedByAnother = savedDocument?.rides !== sent.rides || madeByHand(savedDocument) !== madeByHand(sent);
      savedDocument = sent;
      if (movedByAnother && shot.value?.id === id) await reloadTrack();
      if (shot.value?.id !== id || history?.present === sent) acknowledge(id);
      else {
        saveState.value = 'unsaved';
        if (history) keepDraft(id, { base: revision, document: history.present });
        void saveSoon();
      }
    } catch (error) {
      if (error instanceof ApiProblem && error.reply.code === 'stale-save') {
        theirRevision = error.reply.current ?? null;
        saveState.value = 'conflict';
      } else {
        saveState.value = 'offline';
        notices.add((error as Error).message);
        setTimeout(() => saveState.value === 'offline' && void save(), 3000);
      }
    }
  }
  function flush(): void {
    if (saveState.value === 'unsaved') void save(true);
  }
  /** Everything typed or dragged so far is on the server when this resolves. */
  async function saved(): Promise<boolean> {
    settle();
    await save();
    return saveState.value === 'saved';
  }
  async function takeTheirs(): Promise<void> {
    if (!shot.value) return;
    dropDraft(shot.value.id);
    await reload(shot.value.id);
  }
  async function keepMine(): Promise<void> {
    if (theirRevision !== null) revision = theirRevision;
    theirRevision = null;
    saveState.value = 'unsaved';
    await save();
  }

  async function refreshMedia(): Promise<void> {
    if (shot.value) media.value = await call('GET', `/projects/${shot.value.projectId}/media`, 'mediaList');
  }
  /** What changed meanwhile is asked for when the answer under way has come. */
  let asking: Promise<void> | null = null;
  let askAgain = false;
  function refreshTrack(): Promise<void> {
    askAgain = asking !== null;
    asking ??= takeChanges().finally(() => {
      asking = null;
      if (askAgain) void notices.guard(refreshTrack);
    });
    return asking;
  }
  async function takeChanges(): Promise<void> {
    if (!shot.value) return;
    const beginning = trackBegun;
    const changes = await call('GET', `/shots/${shot.value.id}/track?after=${trackAfter}`, 'trackRows');
    // Meanwhile another shot may have been opened, or all rows asked for anew.
    if (changes.rows.length === 0 || trackBegun !== beginning) return;
    trackAfter = changes.after;
    const next = new Map(track.value);
    for (const row of changes.rows) next.set(row.frame, row);
    newestFrame.value = changes.rows.at(-1)?.frame ?? null;
    track.value = next;
  }
  async function refreshCheck(): Promise<void> {
    const plate = shot.value?.plate;
    const found =
      plate?.state === 'ready' && plate.checked ? await call('GET', `/media/${plate.id}/check`, 'checkReply') : null;
    if (shot.value?.plate?.id === plate?.id) check.value = found;
  }
  async function refreshShot(): Promise<void> {
    if (!shot.value) return;
    const detail = await call('GET', `/shots/${shot.value.id}`, 'shotDetail');
    shot.value = detail.shot;
    runKey.value = detail.runKey;
  }
  async function onJob(job: Job): Promise<void> {
    const mine = job.shotId === null || job.shotId === shot.value?.id;
    const ridden = job.kind === 'follow' && job.shotId === document.value?.rides;
    if (!shot.value || !(mine || ridden) || job.projectId !== shot.value.projectId) return;
    await notices.guard(async () => {
      if (job.kind === 'follow' || job.kind === 'points' || job.kind === 'pull') await refreshTrack();
      if ((job.kind === 'bring-in' || job.kind === 'check') && !isOpen(job)) {
        await Promise.all([refreshMedia(), refreshShot()]);
        await refreshCheck();
      }
    });
    // A gap in a sequence is put to the person where it can be decided.
    if (
      job.state === 'failed' &&
      job.problem &&
      !media.value.some((m) => m.id === job.mediaId && m.problemCode === 'sequence-gap')
    )
      notices.add(job.problem);
  }

  async function restore(revisionNumber: number): Promise<void> {
    if (!shot.value || !(await saved())) return;
    await call('POST', `/shots/${shot.value.id}/revisions/${revisionNumber}/restore`, 'shotDetail');
    await reload(shot.value.id);
  }
  async function choosePlate(mediaId: number): Promise<void> {
    if (!shot.value) return;
    shot.value = await call('PUT', `/shots/${shot.value.id}/plate`, 'shot', { mediaId });
    await refreshShot();
    await refreshCheck();
  }
  /** Takes another version of the plate under the work done; what does not fit was said before. */
  async function replacePlate(mediaId: number, offset: number): Promise<void> {
    if (!shot.value || !(await saved())) return;
    await call('PUT', `/shots/${shot.value.id}/plate/replace`, 'shot', { mediaId, offset, base: revision });
    await open(shot.value.id);
  }
  async function follow(request: FollowRequest): Promise<void> {
    if (!shot.value || !(await saved())) return;
    jobs.take(await call('POST', `/shots/${shot.value.id}/follow`, 'apiJob', request));
    await reloadTrack();
  }
  /** Forgets what was followed in a span; protected frames stay. */
  async function clearSpan(frames: [number, number]): Promise<void> {
    if (!shot.value || !(await saved())) return;
    await call('POST', `/shots/${shot.value.id}/track/clear`, 'trackRows', { frames });
    await reloadTrack();
  }
  /** Lets the shot be moved by another one's track, or by its own regions again. */
  async function ride(on: number | null): Promise<void> {
    edit((draft) => {
      if (on === null) delete draft.rides;
      else draft.rides = on;
    });
    // Refused, it must not stand in the way of the next save.
    if (!(await saved()) && saveState.value !== 'conflict') undo();
  }
  /** Rows that were cleared are not among the changes: all are asked for. */
  async function reloadTrack(): Promise<void> {
    forgetTrack();
    await refreshTrack();
  }
  function forgetTrack(): void {
    track.value = new Map();
    trackAfter = 0;
    trackBegun++;
  }

  const plate = computed(() => (shot.value?.plate?.state === 'ready' ? shot.value.plate : null));
  const frames = computed(() => plate.value?.facts?.frames ?? 0);
  const firstNumber = computed(() => document.value?.firstFrameNumber ?? plate.value?.facts?.firstFrameNumber ?? 0);
  /** In and out: all frames unless the person chose some. */
  const range = computed<[number, number]>(() => {
    const last = Math.max(0, frames.value - 1);
    const chosen = document.value?.range;
    return chosen ? [Math.min(last, chosen[0]), Math.min(last, chosen[1])] : [0, last];
  });
  const rows = computed(() => [...track.value.values()].sort((a, b) => a.frame - b.frame));
  const content = computed(() => media.value.find((m) => m.id === document.value?.contentId) ?? null);
  /** Work that is done one at a time on a shot; renders stand beside it. */
  const running = computed(
    () => jobs.open.find((job) => job.shotId === shot.value?.id && job.kind !== 'render') ?? null,
  );

  /** Reference pixels to a frame's; the identity on the reference, null where nothing is known. */
  function homographyAt(frame: number): Homography | null {
    if (frame === document.value?.referenceFrame) return IDENTITY;
    return track.value.get(frame)?.homography ?? null;
  }
  /** The map of a frame, or of the followed frame next to it. */
  function nearestMap(frame: number): Homography | null {
    const here = homographyAt(frame);
    if (here) return here;
    let nearest = document.value?.referenceFrame ?? frame;
    for (const row of track.value.values())
      if (row.homography && Math.abs(row.frame - frame) < Math.abs(nearest - frame)) nearest = row.frame;
    return homographyAt(nearest);
  }
  /** The frame that most wants a look: lost ones first, then the one with the widest bound. */
  function worstFrame(): number | null {
    const want = (row: TrackRow) =>
      row.homography ? Math.max(0, ...(boundsAt(row.frame) ?? [1 - row.confidence])) : Infinity;
    return (
      rows.value.reduce<{ frame: number; want: number } | null>((worst, row) => {
        const wanted = want(row);
        return worst && worst.want >= wanted ? worst : { frame: row.frame, want: wanted };
      }, null)?.frame ?? null
    );
  }
  /** What the edge lock adds on each frame, where the seat was measured; see stores/seat.ts. */
  const lock = shallowRef<ReadonlyMap<number, ArrayLike<number>> | null>(null);
  /** Looks at the seat without fixes, lock and smoothing. */
  const plainSeat = ref(false);
  const seated = computed(() => {
    const d = document.value;
    if (!d?.corners) return null;
    const plain = plainSeat.value;
    return new SeatedCorners({
      corners: d.corners,
      referenceFrame: d.referenceFrame,
      outset: d.outset,
      corrections: plain ? [] : d.corrections,
      lock: d.lock === true && !plain ? lock.value : null,
      smooth: plain ? 0 : d.smooth,
    });
  });
  /** The reference's corners with their outset. */
  const seatedBase = computed(() => seated.value?.quad ?? null);
  /** All frames together, where paths are smoothed. */
  const smoothed = computed(() =>
    seated.value && document.value?.smooth && !plainSeat.value ? seated.value.all(heldMaps.value, boundsAt) : null,
  );
  const heldMaps = computed(() => {
    const maps = new Map<number, Homography>();
    for (const row of track.value.values()) if (row.homography) maps.set(row.frame, row.homography);
    if (document.value) maps.set(document.value.referenceFrame, IDENTITY);
    return maps;
  });
  function cornersAt(frame: number): Quad | null {
    const h = homographyAt(frame);
    if (!h || !seated.value) return null;
    return smoothed.value ? (smoothed.value.get(frame) ?? null) : seated.value.at(frame, h);
  }

  /** How far off the four corners may be on a frame (95 %), px; null where nothing is known. */
  function boundsAt(frame: number): number[] | null {
    if (track.value.get(frame)?.bounds) return [...track.value.get(frame)!.bounds!];
    const row = track.value.get(frame);
    const certainty = row?.certainty && unpackCertainty(row.certainty);
    const corners = document.value?.corners ?? document.value?.regions[0]?.points;
    return row?.homography && certainty && corners
      ? corners.map((c) => cornerBound(certainty, row.homography!, c))
      : null;
  }

  return {
    lock,
    plainSeat,
    seated,
    seatedBase,
    heldMaps,
    shot,
    project,
    document,
    runKey,
    saveState,
    media,
    track,
    rows,
    newestFrame,
    undoable,
    check,
    plate,
    frames,
    firstNumber,
    range,
    content,
    running,
    open,
    close,
    edit,
    drag,
    settle,
    undo,
    redo,
    saved,
    flush,
    takeTheirs,
    keepMine,
    restore,
    worstFrame,
    refreshMedia,
    refreshShot,
    refreshCheck,
    choosePlate,
    replacePlate,
    follow,
    clearSpan,
    ride,
    homographyAt,
    nearestMap,
    cornersAt,
    boundsAt,
  };
});
