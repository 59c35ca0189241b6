import { useThrottleFn } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import type {
  FrameState,
  LedgerFrame,
  RenderLayer,
  RenderLedger,
  RenderRequest,
  ShotDocument,
} from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { useJobs } from './jobs.ts';
import { useNotices } from './notices.ts';
import { useShot } from './shot.ts';
import { useDocument } from './document.ts';
import { useSaving } from './saving.ts';
import { useTrack } from './track.ts';

/** How soon what is finished is asked for again while frames are being made or the shot is worked on. */
const AGAIN_MS = 500;

/** What there is of a shot's frames as it stands now, and asking for more. */
export const useRenders = defineStore('renders', () => {
  const shot = useShot();
  const doc = useDocument();
  const saving = useSaving();
  const track = useTrack();
  const jobs = useJobs();
  const notices = useNotices();
  const layer = shallowRef<RenderLayer>('full');
  const ledger = shallowRef<RenderLedger | null>(null);
  /** The newest question: answers to older ones are not taken. */
  let asked = 0;
  /** The document that what is known of the frames belongs to. */
  const knownFor = shallowRef<ShotDocument | null>(null);

  async function refresh(): Promise<void> {
    const id = shot.shot?.id;
    const mine = ++asked;
    const document = saving.state === 'saved' ? doc.document : null;
    if (id === undefined || !shot.plate) {
      ledger.value = null;
      return;
    }
    const reply = await call('GET', `/shots/${id}/ledger?layer=${layer.value}`, 'ledger');
    if (mine !== asked) return;
    ledger.value = reply;
    knownFor.value = document;
  }
  const soon = useThrottleFn(() => void notices.guard(refresh), AGAIN_MS, true);
  watch([() => shot.shot?.id, layer], ([id], [before]) => {
    if (id !== before) ledger.value = null;
    void notices.guard(refresh);
  });
  // What is saved, and what moves the shot, may put frames out of date.
  watch(
    [() => saving.state, () => track.byFrame, () => shot.plate?.id, () => shot.content?.state],
    () => saving.state === 'saved' && soon(),
  );
  jobs.onJob((job) => {
    if (job.kind === 'render' && job.shotId === shot.shot?.id) void soon();
  });

  const frames = computed<readonly LedgerFrame[]>(() => ledger.value?.frames ?? []);
  /** What is rendered and written: in to out, unless another span is chosen. */
  const chosen = shallowRef<[number, number] | null>(null);
  const span = computed<[number, number]>(() => chosen.value ?? shot.range);
  watch(
    () => shot.range.join(),
    () => (chosen.value = null),
  );
  const choose = (from: number, to: number) => (chosen.value = [Math.min(from, to), Math.max(from, to)]);
  const counts = computed(() => {
    const [from, to] = span.value;
    const of: Record<FrameState, number> = { done: 0, stale: 0, missing: 0, failed: 0 };
    for (const { state } of frames.value.slice(from, to + 1)) of[state]++;
    return { ...of, total: Math.max(0, Math.min(to, frames.value.length - 1) - from + 1) };
  });
  /** Name of the finished picture of a frame, where it shows what the shot is now. */
  const keyAt = (frame: number): string | null => {
    const now = layer.value === 'full' && knownFor.value === doc.document ? frames.value[frame] : undefined;
    return now?.state === 'done' ? (now.key ?? null) : null;
  };
  const own = computed(() =>
    [...jobs.jobs.values()]
      .filter((job) => job.kind === 'render' && job.shotId === shot.shot?.id)
      .sort((a, b) => b.id - a.id),
  );

  async function start(request: RenderRequest): Promise<void> {
    if (!shot.shot || !(await saving.saved())) return;
    jobs.take(await call('POST', `/shots/${shot.shot.id}/render`, 'apiJob', request));
    await refresh();
  }
  const pause = async (id: number) => jobs.take(await call('POST', `/jobs/${id}/pause`, 'apiJob'));
  const resume = async (id: number) => jobs.take(await call('POST', `/jobs/${id}/resume`, 'apiJob'));
  const hasten = async (id: number, priority: number) =>
    jobs.take(await call('PUT', `/jobs/${id}/priority`, 'apiJob', { priority }));
  return { layer, ledger, frames, span, choose, counts, own, keyAt, refresh, start, pause, resume, hasten };
});
