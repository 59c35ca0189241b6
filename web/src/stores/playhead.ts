import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { useShot } from './shot.ts';

/** The frame on show, and playing. */
export const usePlayhead = defineStore('playhead', () => {
  const shot = useShot();
  const frame = ref(0);
  const playing = ref(false);
  /** Frames a second that are really shown while playing. */
  const shownRate = ref(0);
  const last = computed(() => Math.max(0, shot.frames - 1));
  /** The viewer says when the frame on show has been painted; playing waits for it. */
  let painted = true;
  let timer = 0;

  /** When a person last chose a frame: a running follow does not pull the picture away from under them. */
  let chosenAt = -Infinity;
  const LEAVE_ALONE_MS = 4000;

  function goTo(target: number): void {
    chosenAt = performance.now();
    show(target);
  }
  /** Goes along with work that is running, unless a person is looking elsewhere. */
  function ride(target: number): void {
    if (!playing.value && performance.now() - chosenAt > LEAVE_ALONE_MS) show(target);
  }
  function show(target: number): void {
    const next = Math.min(last.value, Math.max(0, Math.round(target)));
    if (next !== frame.value) {
      painted = false;
      frame.value = next;
    }
  }
  function step(by: number): void {
    playing.value = false;
    goTo(frame.value + by);
  }
  function markPainted(): void {
    painted = true;
  }
  function toggle(): void {
    playing.value = !playing.value && shot.frames > 1;
  }

  watch(playing, (on) => {
    cancelAnimationFrame(timer);
    if (on) run();
  });
  function run(): void {
    const [n, d] = shot.plate?.facts?.rate ?? [25, 1];
    const interval = (1000 * d) / n;
    let due = performance.now() + interval;
    let shown = 0, since = performance.now();
    const tick = (now: number) => {
      if (!playing.value) return;
      if (now >= due && painted) {
        show(frame.value >= last.value ? 0 : frame.value + 1);
        shown++;
        due = Math.max(due + interval, now - interval);
        if (now - since > 500) {
          shownRate.value = Math.round((1000 * shown) / (now - since));
          shown = 0;
          since = now;
        }
      }
      timer = requestAnimationFrame(tick);
    };
    timer = requestAnimationFrame(tick);
  }
  return { frame, playing, shownRate, last, goTo, ride, step, toggle, markPainted };
});
