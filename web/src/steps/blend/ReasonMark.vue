<script setup lang="ts">
import { computed, onBeforeUnmount } from 'vue';
import type { LookReason } from '../../../../core/base/schemas/types.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { usePlayhead } from '../../stores/playhead.ts';

/** Says that a value was measured, and from what; pointed at, its frames and places are marked; pressed, it goes to the next of them. */
const props = defineProps<{ title: string; why: LookReason; stale?: boolean }>();
const workspace = useWorkspace();
const playhead = usePlayhead();
const says = computed(
  () =>
    `${props.stale ? 'Out of date: the corners have changed since. ' : ''}${props.why.says} Sure to ${Math.round(100 * props.why.certainty)} %.`,
);

function point(): void {
  workspace.reason = { title: props.title, why: props.why };
}
function leave(): void {
  if (workspace.reason?.why === props.why) workspace.reason = null;
}
function go(): void {
  const frame = props.why.frames?.find((f) => f > playhead.frame) ?? props.why.frames?.[0];
  if (frame !== undefined) playhead.goTo(frame);
}
onBeforeUnmount(leave);
</script>

<template>
  <button
    type="button"
    class="mark"
    :class="{ stale }"
    :aria-label="`Measured: ${title}. ${says}`"
    :title="says"
    @pointerenter="point"
    @pointerleave="leave"
    @focus="point"
    @blur="leave"
    @click="go"
  >
    <i class="bi bi-rulers" />
  </button>
</template>

<style scoped>
.mark {
  border: 0;
  background: none;
  padding: 0 3px;
  color: var(--ink-soft);
  font-size: 13px;
  line-height: 1;
}
.mark:hover {
  color: var(--accent);
}
.stale {
  color: var(--alarm);
}
</style>
