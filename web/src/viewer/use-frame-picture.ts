import { storeToRefs } from 'pinia';
import { onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import type { PictureSource } from '../api/urls.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { useDocument } from '../stores/document.ts';
import { useNotices } from '../stores/notices.ts';
import { useOtherSurfaces } from '../stores/other-surfaces.ts';
import { usePictureOnShow } from '../stores/picture-on-show.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useTrack } from '../stores/track.ts';
import { useViewing } from '../stores/viewing.ts';
import { AT_ONCE, FrameCache } from './frame-cache.ts';
import { useFinishedFrames } from './use-finished-frames.ts';
import type { Viewport } from './viewport.ts';

/** Exact pixels are fetched when the picture has stood still this long. */
const SETTLE_MS = 160;
/** Frames fetched the way the hand is going, and the other way, since a hand that looks closely goes to and fro. */
const AHEAD = 8;
const BEHIND = 2;

/** The picture of the frame on show: of the plate or finished, in haste while it moves, exact once it stands still. */
export function useFramePicture(viewport: Viewport) {
  const shot = useShot();
  const doc = useDocument();
  const track = useTrack();
  const head = usePlayhead();
  const workspace = useWorkspace();
  const others = useOtherSurfaces();
  const viewing = useViewing();
  const notices = useNotices();
  const { picture, plain, shows } = storeToRefs(usePictureOnShow());
  /** The frame by the look that was kept, where the one of now is held against it. */
  const kept = shallowRef<ImageBitmap | null>(null);
  /** Stops that the picture on show was brightened by on the way here, from deeper codes than it has. */
  const baked = ref(0);
  /** The frame of the picture on show, and whether it is exact. */
  const on = { frame: -1, settled: false };
  /** Bytes of decoded pictures that are kept at hand, whatever the length of the shot. */
  const proxies = new FrameCache(256 << 20);
  const exacts = new FrameCache(128 << 20);

  const frames = useFinishedFrames(viewport);
  const { wantsCard, wantsResult, keptLook, finished } = frames;
  let settleTimer = 0;
  let ask = 0;

  async function load(): Promise<void> {
    const plate = shot.plate;
    if (!plate) {
      picture.value = null;
      return;
    }
    const mine = ++ask;
    const frame = head.frame;
    clearTimeout(settleTimer);
    await notices.guard(async () => {
      const [composed, proxy, before] = await Promise.all([
        finished(frame, false),
        proxies.get(plate, frame, 'jpg'),
        finished(frame, false, keptLook.value),
      ]);
      if (mine === ask) {
        [on.frame, on.settled] = [frame, false];
        picture.value = composed ?? proxy;
        plain.value = proxy;
        kept.value = before;
        baked.value = 0;
        shows.value = composed ? 'result' : 'plate';
      }
    });
    // Of a frame that was replaced meanwhile the newer one tells: playing would run ahead of what is painted.
    if (mine === ask) head.markPainted();
    if (wantsResult.value) frames.fetchAhead(neighbours(frame).slice(0, head.playing ? AHEAD : AT_ONCE));
    else fetchAhead(mine, plate, neighbours(frame));
    if (mine === ask && !head.playing) settleTimer = window.setTimeout(() => void settle(mine, frame), SETTLE_MS);
  }
  /** The same frame from exact pixels and at final quality, once nothing moves. */
  async function settle(mine: number, frame: number): Promise<void> {
    const plate = shot.plate;
    if (!plate) return;
    await notices.guard(async () => {
      const stops = shows.value === 'plate' && plate.facts!.bits > 8 ? viewing.exposure : 0;
      const [composed, exact, before] = await Promise.all([
        finished(frame, true),
        exacts.get(plate, frame, 'png', stops),
        finished(frame, true, keptLook.value),
      ]);
      if (mine !== ask) return;
      kept.value = before;
      if (stops === 0) plain.value = exact;
      on.settled = true;
      if (composed || shows.value === 'plate') picture.value = composed ?? exact;
      baked.value = composed ? 0 : stops;
    });
  }
  /** The neighbours are fetched before they are asked for, nearest first, each once, for as long as this frame is the one on show. */
  function fetchAhead(mine: number, plate: PictureSource, waiting: number[]): void {
    while (mine === ask && waiting.length > 0 && proxies.busy < AT_ONCE)
      void proxies
        .get(plate, waiting.shift()!, 'jpg')
        .catch(() => {})
        .then(() => fetchAhead(mine, plate, waiting));
  }
  function neighbours(frame: number): number[] {
    const steps = Array.from({ length: AHEAD }, (_, i) => (i < BEHIND ? [i + 1, -i - 1] : [i + 1])).flat();
    return steps.map((step) => frame + step * head.heading).filter((next) => next >= 0 && next <= head.last);
  }
  watch(
    [
      () => head.frame,
      () => shot.plate?.id,
      () => shot.plate?.view,
      wantsResult,
      wantsCard,
      () => doc.document,
      () => shot.content?.id,
      () => shot.content?.state,
      () => workspace.step,
      () => workspace.frontView,
      () => others.loaded,
      keptLook,
    ],
    () => void load(),
    { immediate: true },
  );
  watch(
    () => head.playing,
    (playing) => !playing && void load(),
  );
  // Rows of a running follow arrive many times a second; only those of the frame on show change its picture.
  watch(
    [() => head.frame, () => track.byFrame.get(head.frame)],
    ([frame, row], [before, old]) => wantsResult.value && frame === before && row !== old && void load(),
  );
  watch(
    () => viewing.exposure,
    () => {
      if ((shot.plate?.facts?.bits ?? 8) > 8) void load();
    },
  );
  onBeforeUnmount(() => clearTimeout(settleTimer));
  return { picture, plain, shows, kept, baked, on };
}
