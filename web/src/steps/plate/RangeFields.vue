<script setup lang="ts">
import { computed } from 'vue';
import NumberField from '../../components/NumberField.vue';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { setRange } from './set-range.ts';

/** The part of the plate that the shot is, and how its frames are numbered. */
const shot = useShot();
const doc = useDocument();
const length = computed(() => shot.range[1] - shot.range[0] + 1);
const first = (value: number) =>
  doc.edit((d) => {
    if (value === shot.plate?.facts?.firstFrameNumber) delete d.firstFrameNumber;
    else d.firstFrameNumber = Math.round(value);
  });
</script>

<template>
  <section class="section">
    <header>
      <h2>The part that is used</h2>
      <span class="quiet">{{ length }} f</span>
    </header>
    <div class="rows">
      <NumberField
        label="In"
        unit="f"
        :digits="0"
        :value="shot.range[0] + shot.firstNumber"
        @commit="(v) => setRange(v - shot.firstNumber, shot.range[1])"
      />
      <NumberField
        label="Out"
        unit="f"
        :digits="0"
        :value="shot.range[1] + shot.firstNumber"
        @commit="(v) => setRange(shot.range[0], v - shot.firstNumber)"
      />
      <NumberField label="First frame is number" unit="f" :digits="0" :value="shot.firstNumber" @commit="first" />
    </div>
    <p class="quiet mt-2 mb-0"><kbd>I</kbd> and <kbd>U</kbd> set in and out to the frame on show.</p>
  </section>
</template>
