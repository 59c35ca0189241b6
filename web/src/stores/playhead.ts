import { clamp } from '../../../core/base/geometry/clamp.ts';
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { frameDue } from './play-clock.ts';
import { useShot } from './shot.ts';

/** The frame on show, and playing. */
export const usePlayhead = defineStore('playhead', () => {
  const shot = useShot();
  const frame = ref(0);
  const playing = ref(false);
  /** Shows every frame, however long that takes; else keeps to the plate's rate and leaves frames out. */
  const everyFrame = ref(false);
  /** Frames a second that are really shown while playing. */
  const shownRate = ref(0);
  const last = computed(() => Math.max(0, shot.frames - 1));
  /** What is played over and over: the shot's in to out. */
  const loop = computed<[number, number]>(() => shot.range);
  /** Where the hand is going, for what is fetched ahead. */
  const heading = ref<1 | -1>(1);
  /** The viewer says when the frame on show has been painted; playing waits for it. */
  let painted = true;
  let timer = 0;
  /** Where the work had got to while the last frame was not painted yet. */
  let rideOn: number | null = null;

  /** When a person last chose a frame: a running follow does not pull the picture away from under them. */
  let chosenAt = -Infinity;
  const LEAVE_ALONE_MS = 4000;

  function goTo(target: number): void {
    chosenAt = performance.now();
    show(target);
  }
  /** Goes along with work that is running, unless a person is looking elsewhere. */
  function ride(target: number): void {
    if (playing.value || performance.now() - chosenAt <= LEAVE_ALONE_MS) return;
    if (painted) show(target);
    else rideOn = target;
  }
  function show(target: number): void {
    const next = clamp(Math.round(target), 0, last.value);
    if (next !== frame.value) {
      painted = false;
      heading.value = next > frame.value ? 1 : -1;
      frame.value = next;
    }
  }
  function step(by: number): void {
    playing.value = false;
    goTo(frame.value + by);
  }
  function markPainted(): void {
    painted = true;
    const target = rideOn;
    rideOn = null;
    if (target !== null) ride(target);
  }
  function toggle(): void {
    playing.value = !playing.value && shot.frames > 1;
  }

  watch([playing, everyFrame], ([on]) => {
    cancelAnimationFrame(timer);
    if (on) run();
  });
  function run(): void {
    const rate = shot.plate?.facts?.rate ?? [25, 1];
    const from = frame.value < loop.value[0] || frame.value >= loop.value[1] ? loop.value[0] : frame.value;
    if (from !== frame.value) show(from);
    let start = performance.now();
    let begun = from;
    let shown = 0;
    let since = start;
    let next = from;
    const tick = (now: number) => {
      if (!playing.value) return;
      const due = frameDue(begun, (now - start) / 1000, rate, loop.value);
      if (painted && due !== next) {
        next = everyFrame.value ? (next >= loop.value[1] ? loop.value[0] : next + 1) : due;
        if (everyFrame.value) {
          // Time stands still until the frame is there.
          start = now;
          begun = next;
        }
        show(next);
        heading.value = 1;
        shown++;
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
  return { frame, playing, everyFrame, shownRate, last, loop, heading, goTo, ride, step, toggle, markPainted };
});
