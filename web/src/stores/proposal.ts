import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { lookBasis } from '../../../core/picture/measure/look-basis.ts';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import type { Look, LookReason } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { useNotices } from './notices.ts';
import { useShot } from './shot.ts';
import { useSaving } from './saving.ts';
import { usePlacedCorners } from './placed-corners.ts';

/** A look that was measured and waits to be taken. It is not part of the document: nothing is changed by measuring. */
export const useProposal = defineStore('proposal', () => {
  const shot = useShot();
  const saving = useSaving();
  const placed = usePlacedCorners();
  const notices = useNotices();
  const look = shallowRef<Look | null>(null);
  const measuring = ref(false);
  /** Names of what was taken or left since it was measured. */
  const settled = ref<ReadonlySet<string>>(new Set());
  let ofShot = 0;

  /** What the corners are now, to tell whether a measured value is out of date. */
  const basis = computed(() => {
    const quads = new Map<number, Quad>();
    for (let frame = 0; frame < shot.frames; frame++) {
      const quad = placed.cornersAt(frame);
      if (
        quad &&
        quad.some(([x, y]) => x > 0 && y > 0 && x < shot.plate!.facts!.width && y < shot.plate!.facts!.height)
      )
        quads.set(frame, quad);
    }
    return quads.size > 0 ? lookBasis(quads) : '';
  });
  const isStale = (why: LookReason | undefined): boolean =>
    why?.basis !== undefined && basis.value !== '' && why.basis !== basis.value;

  watch(
    () => shot.shot?.id,
    (id) => {
      if (id === ofShot) return;
      ofShot = id ?? 0;
      look.value = null;
    },
  );

  async function measure(): Promise<void> {
    if (measuring.value) return;
    measuring.value = true;
    await notices.guard(async () => {
      const id = shot.shot!.id;
      if (!(await saving.saved())) return;
      const found = await call('POST', `/shots/${id}/look`, 'lookReply');
      if (shot.shot?.id !== id) return;
      look.value = found.look;
      settled.value = new Set();
    });
    measuring.value = false;
  }

  function settle(names: readonly string[]): void {
    settled.value = new Set([...settled.value, ...names]);
  }
  function close(): void {
    look.value = null;
  }
  return { look, measuring, settled, basis, isStale, measure, settle, close };
});
