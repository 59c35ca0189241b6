<script setup lang="ts">
import { computed } from 'vue';
import { useWorkspace } from '../stores/workspace.ts';
import { ROWS } from './draw-parts.ts';
import { frameMiddle, type LedgerScale } from './ledger-scale.ts';

/** The frames on which the value that is pointed at was measured. */
const props = defineProps<{ scale: LedgerScale }>();
const workspace = useWorkspace();
const ticks = computed(() =>
  (workspace.reason?.why.frames ?? [])
    .map((frame) => frameMiddle(props.scale, frame))
    .filter((x) => x >= props.scale.left && x <= props.scale.left + props.scale.width),
);
</script>

<template>
  <svg
    v-if="workspace.reason"
    class="measured"
    :style="{ top: `${ROWS.second.top}px`, height: `${ROWS.second.height}px` }"
    :data-measured-frames="ticks.length"
    aria-hidden="true"
  >
    <rect class="row" :x="scale.left" y="0" :width="scale.width" :height="ROWS.second.height" />
    <path
      v-for="(x, i) in ticks"
      :key="i"
      :d="`M${x} 4v${ROWS.second.height - 8}M${x - 3} 4h6M${x - 3} ${ROWS.second.height - 4}h6`"
    />
  </svg>
</template>

<style scoped>
.measured {
  position: absolute;
  left: 0;
  width: 100%;
  pointer-events: none;
}
.row {
  fill: var(--paper);
}
path {
  stroke: var(--ink);
  stroke-width: 1.6;
  fill: none;
}
</style>
