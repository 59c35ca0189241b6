import { useIntervalFn } from '@vueuse/core';
import { LRUCache } from 'lru-cache';
import { computed, ref, watch, type Ref } from 'vue';
import type { ReviewVersion } from '../../../core/base/schemas/types.ts';

const AHEAD = 12;

/** The frame on show of some versions, stepped and played within what all of them have. */
export function useVersionFrames(
  shown: Ref<readonly ReviewVersion[]>,
  address: (jobId: number, frame: number) => string,
  rate: () => number,
) {
  const frame = ref(shown.value[0]!.frames[0]);
  /** Frames that all versions on show have. */
  const span = computed<[number, number]>(() => [
    Math.max(...shown.value.map((one) => one.frames[0])),
    Math.min(...shown.value.map((one) => one.frames[1])),
  ]);
  watch(span, ([from, to]) => (frame.value = Math.min(Math.max(frame.value, from), Math.max(from, to))), {
    immediate: true,
  });
  const step = (by: number) => (frame.value = Math.min(span.value[1], Math.max(span.value[0], frame.value + by)));

  // The next pictures are fetched ahead, so that playing does not wait for each.
  const ahead = new LRUCache<string, HTMLImageElement>({ max: 400 });
  watch(
    [frame, shown, span],
    () => {
      for (let f = frame.value; f <= Math.min(span.value[1], frame.value + AHEAD); f++)
        for (const { jobId } of shown.value) {
          const url = address(jobId, f);
          if (ahead.has(url)) continue;
          const image = new Image();
          image.src = url;
          ahead.set(url, image);
        }
    },
    { immediate: true },
  );
  const {
    isActive: playing,
    pause,
    resume,
  } = useIntervalFn(
    () => {
      const next = frame.value >= span.value[1] ? span.value[0] : frame.value + 1;
      // Late pictures are waited for: each frame is seen.
      if (shown.value.every(({ jobId }) => ahead.get(address(jobId, next))?.complete ?? true)) frame.value = next;
    },
    () => 1000 / rate(),
    { immediate: false },
  );
  return { frame, span, step, playing, pause, resume };
}
