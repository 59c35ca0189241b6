<script setup lang="ts">
import { computed } from 'vue';
import type { LookReason } from '../../../../core/base/schemas/types.ts';
import NumberField from '../../components/NumberField.vue';
import { usePlayhead } from '../../stores/playhead.ts';
import { keysOf, valueAt, withKeyToggled, withValue, type KeyedNumber } from './keyed-edits.ts';
import ReasonMark from './ReasonMark.vue';

/** A number that may be keyed: typed where the playhead stands, its key beside it, what it was measured from, and a usual value to take. */
const props = withDefaults(
  defineProps<{
    label: string;
    value: KeyedNumber | undefined;
    usual: number;
    unit?: string;
    min?: number;
    max?: number;
    step?: number;
    digits?: number;
    times?: number;
    why?: LookReason | undefined;
    stale?: boolean;
    use?: number;
    useTitle?: string;
  }>(),
  {
    unit: '',
    min: -Infinity,
    max: Infinity,
    step: 1,
    digits: 3,
    times: 1,
    why: undefined,
    stale: false,
    use: undefined,
    useTitle: '',
  },
);
const emit = defineEmits<{ commit: [value: KeyedNumber] }>();
const playhead = usePlayhead();
const keys = computed(() => keysOf(props.value));
const now = computed(() => valueAt(props.value, playhead.frame, props.usual));
const here = computed(() => keys.value.some((key) => key.frame === playhead.frame));
const says = computed(() =>
  here.value
    ? 'Take this key away'
    : keys.value.length > 0
      ? `Key here; ${keys.value.length} on other frames`
      : 'Key here: the value then changes over time',
);
</script>

<template>
  <div class="row-line keyed">
    <span class="name">{{ label }}<ReasonMark v-if="why" :title="label" :why="why" :stale="stale" /></span>
    <button
      v-if="use !== undefined && use !== now"
      class="use-button"
      type="button"
      :title="useTitle"
      :aria-label="`Use ${times * use}${unit} for ${label}`"
      @click="emit('commit', withValue(value, playhead.frame, use))"
    >
      use {{ times * use }}{{ unit === '°' ? unit : '' }}
    </button>
    <NumberField
      hide-label
      :label="label"
      :unit="unit"
      :value="times * now"
      :min="min"
      :max="max"
      :step="step"
      :digits="digits"
      @commit="emit('commit', withValue(value, playhead.frame, $event / times))"
    />
    <button
      type="button"
      class="key"
      :class="{ here, some: keys.length > 0 }"
      :title="says"
      :aria-label="`Key: ${label}`"
      :aria-pressed="here"
      @click="emit('commit', withKeyToggled(value, playhead.frame, usual))"
    >
      <span />
    </button>
  </div>
</template>

<style scoped>
.keyed {
  gap: 6px;
  --unit-width: 42px;
  --field-width: 52px;
}
.keyed :deep(.field) {
  flex: none;
}
.name {
  flex: 1;
  min-width: 0;
}
.key {
  width: 22px;
  height: 22px;
  border: 0;
  background: none;
  display: grid;
  place-items: center;
}
.key span {
  width: 10px;
  height: 7px;
  border: 1.5px solid var(--ink-soft);
  border-radius: 2px;
}
.key.some span {
  border-color: var(--accent);
}
.key.here span {
  background: var(--accent);
  border-color: var(--accent);
}
</style>
