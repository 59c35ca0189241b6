<script setup lang="ts">
import { computed } from 'vue';
import type { ContentTiming } from '../../../../core/base/schemas/types.ts';
import { shownAt, type ContentTime } from '../../../../core/picture/content/content-time.ts';
import AppCheck from '../../components/AppCheck.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { mark } from '../../components/choice.ts';
import { setSpeed, speedAt, speedKeys, toggleSpeedKey } from './time-edits.ts';
import { useDocument } from '../../stores/document.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';

/** When the content's frames are shown. */
const BEYOND = ['hold', 'loop', 'ping-pong', 'nothing'] as const;
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const time = computed<ContentTiming>(() => doc.document!.look.time ?? {});
const frames = computed(() => shot.content?.facts?.frames ?? 1);
const rate = computed<readonly [number, number]>(() =>
  shot.content?.kind === 'clip' ? shot.content.facts!.rate : shot.plate!.facts!.rate,
);
const shown = computed(() =>
  shownAt(time.value as ContentTime, head.frame, shot.plate!.facts!.rate, rate.value, frames.value),
);
const keyHere = computed(() => speedKeys(time.value).some((key) => key.frame === head.frame));
const says = computed(() => {
  const s = shown.value;
  return s === null
    ? 'nothing'
    : s.share === 0
      ? `frame ${s.first}`
      : `frames ${s.first} and ${s.second}, ${Math.round(100 * s.share)} % of the second`;
});
function change(recipe: (time: ContentTiming) => void): void {
  doc.edit((draft) => recipe((draft.look.time ??= {})));
}
function setTrim(side: 0 | 1, value: number): void {
  change((t) => {
    const trim: [number, number] = [...(t.trim ?? [0, frames.value - 1])];
    trim[side] = Math.round(value);
    if (trim[0] > trim[1]) trim[side === 0 ? 1 : 0] = trim[side]!;
    t.trim = trim;
  });
}
</script>

<template>
  <section class="section">
    <header>
      <h2>When</h2>
      <span class="quiet" data-shown-frame>now {{ says }} of {{ frames }}</span>
    </header>
    <div class="pairs">
      <NumberField
        label="Start"
        unit="f"
        :value="time.start ?? 0"
        :step="1"
        :digits="0"
        @commit="(v) => change((t) => (t.start = Math.round(v)))"
      /><button class="use-button" type="button" @click="change((t) => (t.start = head.frame))">
        use frame {{ head.frame }}
      </button>
      <NumberField
        label="From"
        unit="f"
        :value="time.trim?.[0] ?? 0"
        :min="0"
        :max="frames - 1"
        :digits="0"
        @commit="setTrim(0, $event)"
      /><NumberField
        label="to"
        unit="f"
        :value="time.trim?.[1] ?? frames - 1"
        :min="0"
        :max="frames - 1"
        :digits="0"
        @commit="setTrim(1, $event)"
      />
      <NumberField
        label="Offset"
        unit="f"
        :value="time.offset ?? 0"
        :step="1"
        :digits="2"
        @commit="(v) => change((t) => (t.offset = v))"
      />
      <span class="speed"
        ><NumberField
          label="Speed"
          unit="%"
          :value="100 * speedAt(time, head.frame)"
          :step="5"
          :digits="1"
          @commit="(v) => change((t) => setSpeed(t, head.frame, v / 100))" /><button
          class="mark"
          type="button"
          :aria-pressed="keyHere"
          :aria-label="keyHere ? 'Take away the key of the speed here' : 'Key the speed here'"
          :title="keyHere ? 'Take this key away' : 'Key it: from here on it changes over time'"
          data-key-speed
          @click="change((t) => toggleSpeedKey(t, head.frame))"
        >
          <svg width="12" height="12" viewBox="-6 -6 12 12"><path d="M-4 -5L5 0L-4 5Z" /></svg></button
      ></span>
    </div>
    <AppCheck :model-value="time.reverse ?? false" @update:model-value="(on) => change((t) => mark(t, 'reverse', on))"
      >Backwards</AppCheck
    >
    <p class="quiet mt-1 mb-1">Before its first frame</p>
    <ChoiceRow
      label="Before its first frame"
      :options="BEYOND"
      :value="time.before ?? 'hold'"
      @choose="(v) => change((t) => (t.before = v))"
    />
    <p class="quiet mt-2 mb-1">After its last</p>
    <ChoiceRow
      label="After its last frame"
      :options="BEYOND"
      :value="time.after ?? 'hold'"
      @choose="(v) => change((t) => (t.after = v))"
    />
    <p class="quiet mt-2 mb-1">Between two of its frames</p>
    <ChoiceRow
      label="Between two of its frames"
      :options="['nearest', 'blend']"
      :value="time.rate ?? 'nearest'"
      @choose="(v) => change((t) => (t.rate = v))"
    />
  </section>
</template>

<style scoped>
.pairs {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 2px 14px;
  align-items: center;
  --field-width: 46px;
}
.speed {
  display: flex;
  align-items: center;
  gap: 4px;
  min-width: 0;
  --field-width: 28px;
}
.mark {
  border: 0;
  background: none;
  padding: 3px;
  line-height: 0;
}
.mark path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.3;
}
.mark[aria-pressed='true'] path {
  fill: var(--accent);
}
</style>
