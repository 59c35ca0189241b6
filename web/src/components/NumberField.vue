<script setup lang="ts">
import { ref, watch } from 'vue';

/** A number with its unit: typed, or stepped by arrow keys. Emits only whole edits. */
const props = withDefaults(
  defineProps<{
    label: string;
    value: number;
    unit?: string;
    min?: number;
    max?: number;
    step?: number;
    digits?: number;
    hideLabel?: boolean;
  }>(),
  {
    unit: '',
    min: -Infinity,
    max: Infinity,
    step: 1,
    digits: 3,
    hideLabel: false,
  },
);
const emit = defineEmits<{ commit: [value: number] }>();
const text = ref('');
const shown = (v: number) => String(Number(v.toFixed(props.digits)));
watch(
  () => props.value,
  (v) => (text.value = shown(v)),
  { immediate: true },
);

function commit(): void {
  // Text that stands there as it was shown is no edit, though the number behind it has more digits.
  if (text.value === shown(props.value)) return;
  const number = Number(text.value.replace(',', '.'));
  const kept =
    Number.isFinite(number) && text.value.trim() !== ''
      ? Math.min(props.max, Math.max(props.min, number))
      : props.value;
  text.value = shown(kept);
  if (kept !== props.value) emit('commit', kept);
}
function onKey(event: KeyboardEvent): void {
  event.stopPropagation();
  if (event.key === 'Enter') commit();
  if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
  event.preventDefault();
  const by = props.step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1) * (event.key === 'ArrowUp' ? 1 : -1);
  text.value = String((Number(text.value.replace(',', '.')) || 0) + by);
  commit();
}
</script>

<template>
  <label class="field">
    <span v-if="!hideLabel" class="name">{{ label }}</span>
    <span class="box"
      ><input
        v-model="text"
        inputmode="decimal"
        :aria-label="unit ? `${label}, ${unit}` : label"
        @change="commit"
        @keydown="onKey"
      /><span class="unit">{{ unit }}</span></span
    >
  </label>
</template>

<style scoped>
.field {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
  min-height: 28px;
}
.box {
  display: flex;
  align-items: center;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--white);
}
.box:focus-within {
  border-color: var(--accent);
  box-shadow: 0 0 0 1px var(--accent);
}
input {
  width: var(--field-width, 66px);
  border: 0;
  background: none;
  text-align: right;
  padding: 2px 3px;
  color: var(--ink);
  font-variant-numeric: tabular-nums;
  outline: none;
}
.unit {
  min-width: var(--unit-width, 26px);
  padding-right: 6px;
  color: var(--ink-soft);
  font-size: 13px;
}
</style>
