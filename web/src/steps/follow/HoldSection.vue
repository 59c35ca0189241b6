<script setup lang="ts">
import { computed } from 'vue';
import { lostSpans } from '../../../../core/motion/follow/lost-spans.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { useTrack } from '../../stores/track.ts';
import { spanAt, withoutSpan, withSpan, type Span } from './spans.ts';
import { stretchAt } from './stretch.ts';
import { otherChoices, useAlone } from './use-outline.ts';

/** Where hold was lost, why, and what to do; a stretch that is good can be protected, any stretch cleared. */
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const head = usePlayhead();
const notices = useNotices();
const document = computed(() => doc.document!);
const named = ([a, b]: readonly [number, number]) =>
  a === b ? `${a + shot.firstNumber}` : `${a + shot.firstNumber}–${b + shot.firstNumber}`;
const lost = computed(() => lostSpans(track.rows, document.value.referenceFrame));
const here = computed(() => lost.value.find(({ frames: [a, b] }) => a <= head.frame && head.frame <= b) ?? null);
/** The frame beside the loss from which hold was lost: where reshaping helps. */
const edge = computed(
  () =>
    here.value &&
    (here.value.frames[0] > document.value.referenceFrame ? here.value.frames[0] - 1 : here.value.frames[1] + 1),
);
const protectedHere = computed(() => spanAt(document.value.protect ?? [], head.frame));
const stretch = computed<Span | null>(() => protectedHere.value ?? stretchAt(track.byFrame, head.frame));

function protect(span: Span): void {
  doc.edit((draft) => {
    draft.protect = withSpan(draft.protect ?? [], span);
  });
}
function release(span: Span): void {
  doc.edit((draft) => {
    draft.protect = withoutSpan(draft.protect ?? [], span);
    if (draft.protect.length === 0) delete draft.protect;
  });
}
/** Follows on from beside the loss, as far as the shot goes, looking anew at `first` and what lies beyond. */
function goOn(first: number): void {
  const onwards = head.frame > document.value.referenceFrame;
  const from = edge.value!;
  const frames: Span = onwards ? [first, shot.range[1]] : [shot.range[0], first];
  void notices.guard(() => shot.follow({ direction: onwards ? 'forward' : 'backward', from, frames }));
}
/** By one region alone, from the loss on; the others stay drawn. */
function goOnBy(region: number): void {
  doc.edit((draft) => useAlone(draft.regions, region));
  goOn(here.value!.frames[head.frame > document.value.referenceFrame ? 0 : 1]);
}
const others = computed(() => otherChoices(document.value.regions));
</script>

<template>
  <section v-if="track.rows.length > 0" class="section">
    <header>
      <h2>Hold</h2>
      <span class="quiet">{{
        lost.length === 0 ? 'never lost' : lost.length === 1 ? 'lost once' : `lost ${lost.length} times`
      }}</span>
    </header>
    <ul v-if="lost.length > 0" class="losses">
      <li v-for="span in lost" :key="span.frames[0]" data-loss>
        <button class="use-button" type="button" @click="head.goTo(span.frames[0])">{{ named(span.frames) }}</button>
        {{ span.why }}
      </li>
    </ul>
    <div v-if="here && !shot.running" class="notice mt-2">
      Reshape the region on
      <button class="use-button" type="button" @click="head.goTo(edge!)">frame {{ edge! + shot.firstNumber }}</button>,
      leave out what covers it, or try another region, then press
      {{ head.frame > document.referenceFrame ? 'On' : 'Back' }}.
      <button
        v-for="index in others"
        :key="index"
        class="use-button mt-1 me-1"
        type="button"
        :data-by-region="index"
        :title="`Follows on from frame ${edge! + shot.firstNumber} by region ${index + 1} alone; other regions stay drawn, but unused`"
        @click="goOnBy(index)"
      >
        by region {{ index + 1 }} alone
      </button>
      <button class="use-button mt-1" type="button" data-look-again @click="goOn(head.frame)">
        look again from frame {{ head.frame + shot.firstNumber }}
      </button>
    </div>
    <div v-if="stretch" class="row-line mt-1">
      <span>{{ protectedHere ? 'Protected' : 'Stretch' }} <b>{{ named(stretch) }}</b></span>
      <span class="d-flex gap-2">
        <button v-if="protectedHere" class="use-button" type="button" @click="release(protectedHere)">release</button>
        <template v-else>
          <button
            v-if="track.byFrame.get(head.frame)?.homography"
            class="use-button"
            type="button"
            title="Following and clearing leave it as it is"
            @click="protect(stretch)"
          >
            protect
          </button>
          <button
            class="use-button"
            type="button"
            title="Forget what was followed here"
            :disabled="!!shot.running"
            @click="notices.guard(() => shot.clearSpan(stretch!))"
          >
            clear
          </button>
        </template>
      </span>
    </div>
  </section>
</template>

<style scoped>
.losses {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 4px;
  max-height: 150px;
  overflow: auto;
}
</style>
