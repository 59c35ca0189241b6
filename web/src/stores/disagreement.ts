import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Disagreement } from '../../../core/motion/follow/disagreement.ts';
import type { TrackRow } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { useWorkspace } from './workspace.ts';
import { useNotices } from './notices.ts';
import { usePlayhead } from './playhead.ts';
import { useShot } from './shot.ts';
import { useTrack } from './track.ts';

export const DISAGREEMENT_VIEWS = ['off', 'this frame', 'in to out'] as const;
export type DisagreementView = (typeof DISAGREEMENT_VIEWS)[number];

/** What of the region goes its own way: on the frame on show, or on the mean of all frames from in to out. */
export const useDisagreement = defineStore('disagreement', () => {
  const shot = useShot();
  const track = useTrack();
  const head = usePlayhead();
  const workspace = useWorkspace();
  const notices = useNotices();
  const view = ref<DisagreementView>('off');
  const seen = shallowRef<Disagreement | null>(null);
  /** A frame's squares belong to the row that it has; another run makes another row. */
  const known = new WeakMap<TrackRow, Disagreement | null>();
  const wanted = computed(() => view.value !== 'off' && workspace.step === 'follow' && shot.shot !== null);
  let ask = 0;

  async function fetchSpan(from: number, to: number): Promise<Disagreement | null> {
    return (await call('GET', `/shots/${shot.shot!.id}/disagreement?frames=${from}-${to}`, 'disagreementReply')).mean;
  }
  async function look(): Promise<void> {
    const mine = ++ask;
    const row = track.byFrame.get(head.frame);
    if (!wanted.value) {
      seen.value = null;
      return;
    }
    await notices.guard(async () => {
      let found: Disagreement | null = null;
      if (view.value === 'in to out') found = await fetchSpan(...shot.range);
      else if (row) {
        found = known.has(row) ? known.get(row)! : await fetchSpan(head.frame, head.frame);
        known.set(row, found);
      }
      if (mine === ask) seen.value = found;
    });
  }
  watch(
    [
      wanted,
      view,
      () =>
        view.value === 'this frame' ? track.byFrame.get(head.frame) : [shot.range.join('-'), shot.running?.id].join(),
    ],
    () => void look(),
  );
  return { view, seen };
});
