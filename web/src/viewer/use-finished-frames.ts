import { computed } from 'vue';
import type { Look } from '../../../core/base/schemas/types.ts';
import { finishedUrl } from '../api/urls.ts';
import { composePreview } from '../preview/preview.ts';
import { shotRequest } from '../preview/shot-request.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { useDocument } from '../stores/document.ts';
import { useOtherSurfaces } from '../stores/other-surfaces.ts';
import { useRenders } from '../stores/renders.ts';
import { useShot } from '../stores/shot.ts';
import { useViewing } from '../stores/viewing.ts';
import { AT_ONCE, FrameCache } from './frame-cache.ts';
import type { Viewport } from './viewport.ts';

/** Finished frames, where they are wanted: rendered ones as they are, others composed in the page. */
export function useFinishedFrames(viewport: Viewport) {
  const shot = useShot();
  const doc = useDocument();
  const workspace = useWorkspace();
  const others = useOtherSurfaces();
  const renders = useRenders();
  const viewing = useViewing();
  /** Rendered frames: these play. */
  const rendered = new FrameCache(256 << 20);

  const wantsCard = computed(() => workspace.step === 'seat' && (doc.document?.testCard ?? false));
  const wantsResult = computed(
    () =>
      wantsCard.value ||
      viewing.wipe !== null ||
      viewing.compare !== 'none' ||
      (workspace.showResult && ['content', 'front', 'blend', 'send'].includes(workspace.step)),
  );
  /** The kept look where it is looked at; null where it is not. */
  const keptLook = computed(() =>
    viewing.against === 'kept' && (viewing.wipe !== null || viewing.compare !== 'none') ? viewing.kept : null,
  );
  /** Pixels of the screen that the plate's width takes. */
  const onScreen = () =>
    shot.plate!.facts!.width * viewport.view.scale * viewport.view.aspect * (window.devicePixelRatio || 1);

  /** A frame by the document's look or another one; null where it is not wanted, or not known yet. */
  async function finished(frame: number, exact: boolean, look?: Look | null): Promise<ImageBitmap | null> {
    if (!wantsResult.value || look === null) return null;
    const made =
      exact || look || wantsCard.value || (workspace.step === 'front' && workspace.frontView !== 'finished')
        ? null
        : renders.keyAt(frame);
    // Should it have been cleared away meanwhile, the frame is composed as any other.
    if (made) {
      const bitmap = await rendered.at(finishedUrl(made)).catch(() => null);
      if (bitmap) return bitmap;
    }
    const request = shotRequest({
      frame,
      others: others.loaded,
      card: wantsCard.value,
      exact,
      onScreen: onScreen(),
      view: workspace.step === 'front' ? workspace.frontView : 'finished',
      look,
    });
    const composed = request && (await composePreview(request, look ? 'kept' : 'shown'));
    if (composed && !look) workspace.unfilled = { frame, fixes: composed.unfilled };
    return composed?.bitmap ?? null;
  }
  /** Fetches rendered frames that are shown next. */
  function fetchAhead(frames: readonly number[]): void {
    for (const next of frames)
      if (renders.keyAt(next) && rendered.busy < AT_ONCE)
        void rendered.at(finishedUrl(renders.keyAt(next)!)).catch(() => {});
  }
  return { wantsCard, wantsResult, keptLook, finished, fetchAhead };
}
