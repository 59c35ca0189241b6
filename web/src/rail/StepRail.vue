<script setup lang="ts">
import { computed } from 'vue';
import { useWorkspace } from '../stores/workspace.ts';
import { isOpen } from '../stores/jobs.ts';
import { useRenders } from '../stores/renders.ts';
import { useSeat } from '../stores/seat.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { useSaving } from '../stores/saving.ts';
import { useTrack } from '../stores/track.ts';
import { readings, trackSummary } from './readings.ts';
import { STEPS } from './steps.ts';

/** The steps of the work as marks on a measuring rule, each with a live reading. */
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const track = useTrack();
const seat = useSeat();
const workspace = useWorkspace();
const renders = useRenders();
/** What there is of the range; a render under way says so. */
const rendered = computed(() => {
  const { done, stale, total } = renders.counts;
  const open = renders.own.find(isOpen);
  return done + stale === 0 && !open
    ? null
    : { frames: done, total, state: open ? open.state : done === total ? ('done' as const) : ('stopped' as const) };
});
const all = computed(
  () =>
    shot.shot &&
    doc.document &&
    readings({
      shot: shot.shot,
      document: doc.document,
      track: trackSummary(track.rows, saving.runKey),
      seatOff: seat.off,
      contentName: shot.content?.name ?? null,
      render: rendered.value,
      stale: renders.counts.stale,
    }),
);
</script>

<template>
  <nav class="rail" aria-label="Steps">
    <RouterLink
      v-for="step in STEPS"
      :key="step.name"
      :to="`/shots/${shot.shot?.id}/${step.name}`"
      class="stop"
      :class="[all?.[step.name].state, { here: workspace.step === step.name }]"
      :aria-current="workspace.step === step.name ? 'step' : undefined"
      :title="step.question"
    >
      <svg class="stop-mark" width="16" height="16" viewBox="-8 -8 16 16" aria-hidden="true">
        <circle r="5" />
        <path v-if="all?.[step.name].state === 'part'" d="M0 -5 A5 5 0 0 1 0 5 Z" class="half" />
        <path v-if="all?.[step.name].state === 'look'" d="M0 -3.2V0.8M0 2.4V3.4" class="call" />
      </svg>
      <span class="title">{{ step.title }}</span>
      <span class="reading" :data-reading="step.name"
        ><span v-for="(line, i) in all?.[step.name].lines ?? []" :key="i">{{ line }}</span></span
      >
    </RouterLink>
  </nav>
</template>

<style scoped>
.rail {
  width: var(--rail-width);
  background: var(--paper);
  border-right: 1px solid var(--line);
  position: relative;
  padding-top: 8px;
  overflow-y: auto;
}
.rail::before {
  content: '';
  position: absolute;
  left: 14px;
  top: 10px;
  bottom: 10px;
  width: 7px;
  border-left: 1px solid var(--ink-soft);
  background: repeating-linear-gradient(to bottom, var(--line) 0 1px, transparent 1px 9px);
}
.stop {
  position: relative;
  display: grid;
  padding: 9px 6px 9px 32px;
  min-height: 74px;
  color: var(--ink);
  text-decoration: none;
  align-content: start;
}
.stop:hover {
  background: var(--paper-sunk);
}
.here {
  background: var(--paper-sunk);
}
.stop-mark {
  position: absolute;
  left: 7px;
  top: 12px;
}
.stop-mark circle {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.done .stop-mark circle {
  fill: var(--ink);
}
.stop-mark .half {
  fill: var(--ink);
}
.look .stop-mark circle {
  fill: var(--paper);
  stroke: var(--alarm);
  stroke-width: 2;
}
.stop-mark .call {
  stroke: var(--alarm);
  stroke-width: 1.8;
}
.here .stop-mark circle {
  stroke: var(--accent);
  stroke-width: 2.4;
}
.title {
  font-weight: 660;
  font-size: 14.5px;
}
.here .title {
  color: var(--accent);
}
.reading {
  display: grid;
  font-size: 13px;
  color: var(--ink-soft);
  line-height: 1.28;
}
.reading span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
