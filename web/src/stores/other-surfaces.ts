import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import type { Shot, ShotDocument } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { useNotices } from './notices.ts';
import { useShot } from './shot.ts';
import { useDocument } from './document.ts';

/** Another surface of the plate: a shot of its own, and where its corners are. */
export interface OtherOnBench {
  readonly shot: number;
  readonly name: string;
  readonly document: ShotDocument;
  readonly corners: ReadonlyMap<number, Quad>;
}

/** Other surfaces of the plate on the bench: those there are, and those that are finished together with this shot. */
export const useOtherSurfaces = defineStore('other-surfaces', () => {
  const shot = useShot();
  const doc = useDocument();
  const notices = useNotices();
  const all = shallowRef<readonly Shot[]>([]);
  const loaded = shallowRef<readonly OtherOnBench[]>([]);
  const wanted = computed(() => (doc.document?.others ?? []).map((other) => other.shot));

  async function refresh(): Promise<void> {
    const id = shot.shot?.id;
    const plate = shot.plate?.id;
    if (id === undefined || plate === undefined || !shot.project) {
      all.value = loaded.value = [];
      return;
    }
    await notices.guard(async () => {
      const shots = await call('GET', `/projects/${shot.project!.id}/shots`, 'shots');
      if (shot.shot?.id !== id) return;
      all.value = shots.filter((s) => s.id !== id && s.plate?.id === plate);
      const there = wanted.value.filter((other) => all.value.some((s) => s.id === other));
      loaded.value = await Promise.all(
        there.map(async (other): Promise<OtherOnBench> => {
          const { shot: found, name, document, frames } = await call('GET', `/shots/${other}/surface`, 'surfaceReply');
          return {
            shot: found,
            name,
            document,
            corners: new Map(frames.map(({ frame, corners }) => [frame, corners as unknown as Quad])),
          };
        }),
      );
    });
  }
  watch([() => shot.shot?.id, () => shot.plate?.id, () => wanted.value.join()], () => void refresh(), {
    immediate: true,
  });
  return { all, loaded, refresh };
});
