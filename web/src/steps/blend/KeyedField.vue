<script setup lang="ts">
import { computed } from 'vue';
import type { LookReason } from '../../../../core/schemas/types.ts';
import NumberField from '../../components/NumberField.vue';
import { usePlayhead } from '../../stores/playhead.ts';
import { keysOf, valueAt, withKeyToggled, withValue, type KeyedNumber } from './keyed-edits.ts';

/** A number that may be keyed: typed where the playhead stands, its key beside it, and what it was measured from. */
const props = withDefaults(defineProps<{ label: string; value: KeyedNumber | undefined; usual: number; unit?: string; min?: number; max?: number; step?: number; digits?: number; times?: number; why?: LookReason | undefined; stale?: boolean }>(), {
  unit: '', min: -Infinity, max: Infinity, step: 1, digits: 3, times: 1, why: undefined, stale: false,
});
const emit = defineEmits<{ commit: [value: KeyedNumber] }>();
const playhead = usePlayhead();
const keys = computed(() => keysOf(props.value));
const here = computed(() => keys.value.some((key) => key.frame === playhead.frame));
const says = computed(() => (here.value ? 'Take this key away' : keys.value.length > 0 ? `Key here; ${keys.value.length} on other frames` : 'Key here: the value then changes over time'));
</script>

<template>
  <div class="row-line keyed">
    <NumberField class="flex-fill" :label="label" :unit="unit" :value="times * valueAt(value, playhead.frame, usual)" :min="min" :max="max" :step="step" :digits="digits" @commit="emit('commit', withValue(value, playhead.frame, $event / times))" />
    <i v-if="why" class="bi bi-rulers why" :class="{ stale }" role="img" :aria-label="`Measured: ${why.says}`" :title="`${stale ? 'Out of date: the corners have changed since. ' : ''}${why.says} Sure to ${Math.round(100 * why.certainty)} %.`" />
    <button type="button" class="key" :class="{ here, some: keys.length > 0 }" :title="says" :aria-label="`Key: ${label}`" :aria-pressed="here" @click="emit('commit', withKeyToggled(value, playhead.frame, usual))"><span /></button>
  </div>
</template>

<style scoped>
.keyed { gap: 6px; }
.why { color: var(--ink-soft); font-size: 13px; cursor: help; }
.why.stale { color: var(--alarm); }
.key { width: 22px; height: 22px; border: 0; background: none; display: grid; place-items: center; }
.key span { width: 10px; height: 7px; border: 1.5px solid var(--ink-soft); border-radius: 2px; }
.key.some span { border-color: var(--accent); }
.key.here span { background: var(--accent); border-color: var(--accent); }
</style>
