<script setup lang="ts">
import { computed } from 'vue';
import { invert } from '../../../core/base/geometry/homography.ts';
import { loopFrame, loopTimes } from '../../../core/picture/loop/loop-times.ts';
import { mapByNumbers, USUAL_FADE } from '../../../core/picture/loop/shot-loop.ts';
import type { Media } from '../../../core/base/schemas/types.ts';
import { frameUrl } from '../api/urls.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { useViewport } from './viewport.ts';

/** While two pictures are laid on each other by numbers: the other one, half through, over the frame on show, where it comes to lie. */
const viewport = useViewport();
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
/** The other picture of the frame on show; null where only one is. */
const other = computed((): { medium: Media; frame: number } | null => {
  const loop = doc.document?.loop;
  const { plate } = shot;
  if (!loop?.byHand || !plate?.facts) return null;
  if (loop.second) {
    const medium = shot.media.find((m) => m.id === loop.second!.mediaId);
    const frame = head.frame + (loop.second.offset ?? 0);
    return medium?.facts && frame >= 0 && frame < medium.facts.frames ? { medium, frame } : null;
  }
  const times = loopTimes(...shot.range, loop.fade ?? USUAL_FADE);
  const index = head.frame - times.first - times.fade;
  const at = index >= 0 && index < times.length ? loopFrame(times, index) : null;
  return at?.partner === null || at?.partner === undefined ? null : { medium: plate, frame: at.partner };
});
const placed = computed(() => {
  const { loop } = doc.document ?? {};
  const facts = shot.plate?.facts;
  if (!loop?.byHand || !facts) return null;
  // The numbers lead from the frame on show to the other one.
  const h = invert(mapByNumbers(loop.byHand, facts.width, facts.height));
  const { scale, aspect, x, y } = viewport.view;
  const sx = scale * aspect;
  return (
    h && {
      width: facts.width,
      height: facts.height,
      matrix: `matrix(${[sx * h[0]!, scale * h[3]!, sx * h[1]!, scale * h[4]!, sx * h[2]! + x, scale * h[5]! + y].join(' ')})`,
    }
  );
});
</script>

<template>
  <image
    v-if="other && placed"
    :href="frameUrl(other.medium, other.frame, 'jpg')"
    :width="placed.width"
    :height="placed.height"
    preserveAspectRatio="none"
    :transform="placed.matrix"
    class="ghost"
    :data-ghost="other.frame"
  />
</template>

<style scoped>
.ghost {
  opacity: 0.5;
  pointer-events: none;
}
</style>
