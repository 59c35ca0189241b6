<script setup lang="ts">
import { computed } from 'vue';
import { inUse } from '../../../../core/base/geometry/outline.ts';
import type { FollowRequest } from '../../../../core/base/schemas/types.ts';
import IconButton from '../../components/IconButton.vue';
import { startFrom } from './stretch.ts';
import { useDocument } from '../../stores/document.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';
import { useTrack } from '../../stores/track.ts';

/** Running: both ways from the reference, or on and back from the frame on show, a whole way or one frame. */
const props = defineProps<{ complete: boolean; held: number }>();
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const head = usePlayhead();
const notices = useNotices();
const reference = computed(() => doc.document!.referenceFrame);
const ready = computed(() => !shot.running && inUse(doc.document!.regions).length > 0);
const start = (direction: 1 | -1) => startFrom(track.byFrame, head.frame, direction, reference.value, shot.frames);
const run = (request: FollowRequest) => notices.guard(() => shot.follow(request));

/** From a frame on, or back from it, to the end of the shot or so many frames far. */
function go(direction: 1 | -1, count = Infinity): void {
  const from = start(direction);
  const end = from + direction * count;
  const frames: [number, number] =
    direction === 1 ? [from + 1, Math.min(shot.range[1], end)] : [Math.max(shot.range[0], end), from - 1];
  if (frames[0] > frames[1])
    return notices.add(
      direction === 1
        ? 'There is no frame after this one in the shot.'
        : 'There is no frame before this one in the shot.',
    );
  // From the reference, its own frame belongs to the span.
  if (from === reference.value) frames[direction === 1 ? 0 : 1] = from;
  void run({
    direction: direction === 1 ? 'forward' : 'backward',
    frames,
    ...(from === reference.value ? {} : { from }),
  }).then(() => count === 1 && head.goTo(frames[direction === 1 ? 1 : 0]));
}
const lastPass = computed({
  get: () => doc.document!.lastPass ?? false,
  set: (on) =>
    doc.edit((draft) => {
      if (on) draft.lastPass = true;
      else delete draft.lastPass;
    }),
});
const from = computed(() => ({ on: start(1) + shot.firstNumber, back: start(-1) + shot.firstNumber }));
</script>

<template>
  <section class="section">
    <header>
      <h2>Run</h2>
      <span v-if="props.held > 0" class="quiet">{{ props.held }} of {{ shot.frames }} held</span>
    </header>
    <div class="d-flex gap-2">
      <BButton
        variant="outline-secondary"
        :disabled="!ready"
        :title="`Follow back from frame ${from.back}; what lies before it is done again`"
        @click="go(-1)"
        ><i class="bi bi-arrow-left" /> Back</BButton
      >
      <BButton
        :variant="props.complete || !ready ? 'outline-secondary' : 'primary'"
        class="flex-fill"
        :disabled="!ready"
        title="Follow from the reference to both ends"
        @click="run({ direction: 'both' })"
        >Both ways</BButton
      >
      <BButton
        variant="outline-secondary"
        :disabled="!ready"
        :title="`Follow on from frame ${from.on}; what lies after it is done again`"
        @click="go(1)"
        >On <i class="bi bi-arrow-right"
      /></BButton>
    </div>
    <div class="row-line mt-1">
      <span class="quiet">One frame, from {{ head.frame + shot.firstNumber }}</span>
      <span
        ><IconButton
          icon="chevron-left"
          label="Follow one frame back"
          title="Follow one frame back"
          :disabled="!ready"
          @click="go(-1, 1)" /><IconButton
          icon="chevron-right"
          label="Follow one frame on"
          title="Follow one frame on"
          :disabled="!ready"
          @click="go(1, 1)"
      /></span>
    </div>
    <BFormCheckbox v-model="lastPass" switch class="mt-1"
      ><span
        title="When all frames are known, each is looked at once more between both its neighbours: best where the picture is smeared or dark. Takes about as long again."
        >Look at every frame once more</span
      ></BFormCheckbox
    >
  </section>
</template>
