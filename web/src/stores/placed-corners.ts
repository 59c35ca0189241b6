import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import { SeatedCorners } from '../../../core/surface/seat/seated-corners.ts';
import { useDocument } from './document.ts';
import { useTrack } from './track.ts';

/** Where the four corners lie on each frame: the track with outset, fixes, edge lock and smoothing. */
export const usePlacedCorners = defineStore('placed-corners', () => {
  const doc = useDocument();
  const track = useTrack();
  /** What the edge lock adds on each frame, where the seat was measured; see stores/seat.ts. */
  const lock = shallowRef<ReadonlyMap<number, ArrayLike<number>> | null>(null);
  /** Looks at the seat without fixes, lock and smoothing. */
  const plainSeat = ref(false);
  const seated = computed(() => {
    const d = doc.document;
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
    seated.value && doc.document?.smooth && !plainSeat.value ? seated.value.all(track.heldMaps, track.boundsAt) : null,
  );
  /** The corners on a frame; null where the surface is not known. */
  function cornersAt(frame: number): Quad | null {
    const map = track.homographyAt(frame);
    if (!map || !seated.value) return null;
    return smoothed.value ? (smoothed.value.get(frame) ?? null) : seated.value.at(frame, map);
  }
  return { lock, plainSeat, seated, seatedBase, cornersAt };
});
