import { onBeforeUnmount, ref, watch, type Ref } from 'vue';
import { useShot } from '../stores/shot.ts';
import { DIFFERENCE_GAIN, useViewing } from '../stores/viewing.ts';
import { paintPicture } from './paint-picture.ts';
import type { useFramePicture } from './use-frame-picture.ts';
import type { Viewport } from './viewport.ts';

/** Both in turns, slowly enough to look. */
const TURN_MS = 450;

/** Paints the picture of the frame on show into a viewer's canvas, beside or in turns with what it is held against. */
export function usePainting(
  box: Readonly<Ref<HTMLElement | null>>,
  canvas: Readonly<Ref<HTMLCanvasElement | null>>,
  viewport: Viewport,
  { picture, plain, shows, kept, baked, on }: ReturnType<typeof useFramePicture>,
): void {
  const shot = useShot();
  const viewing = useViewing();
  /** While both are shown in turns: whether it is the other one's. */
  const other = ref(false);
  let turns = 0;
  watch(
    () => viewing.compare,
    (compare) => {
      clearInterval(turns);
      other.value = false;
      if (compare === 'flicker') turns = window.setInterval(() => (other.value = !other.value), TURN_MS);
    },
    { immediate: true },
  );
  let due = 0;
  watch(
    [
      picture,
      plain,
      () => viewport.view,
      () => viewport.width,
      () => viewport.height,
      baked,
      () => viewing.exposure,
      () => viewing.gamma,
      () => viewing.channel,
      () => viewing.wipe,
      () => viewing.compare,
      () => viewing.against,
      other,
    ],
    () => {
      cancelAnimationFrame(due);
      due = requestAnimationFrame(paint);
    },
  );
  function paint(): void {
    const under = shows.value !== 'result' ? null : viewing.against === 'kept' ? kept.value : plain.value;
    const painted = picture.value && {
      picture: (other.value && under) || picture.value,
      under,
      wipe: viewing.compare === 'none' ? viewing.wipe : null,
      difference: viewing.compare === 'difference' ? DIFFERENCE_GAIN : 0,
      passing: !on.settled,
    };
    const look = { exposure: viewing.exposure - baked.value, gamma: viewing.gamma, channel: viewing.channel };
    if (!canvas.value || !box.value) return;
    paintPicture(canvas.value, viewport, painted, shot.plate?.facts ?? null, look);
    // For whoever measures from outside: which frame stands on the screen, whether in full, and which of both in turns.
    box.value.dataset.painted = `${on.frame}${painted ? (on.settled ? ' exact' : ' light') : ''}`;
    box.value.dataset.turn =
      viewing.compare !== 'flicker' ? '' : painted && painted.picture !== picture.value ? 'other' : 'now';
  }
  onBeforeUnmount(() => {
    clearInterval(turns);
    cancelAnimationFrame(due);
  });
}
