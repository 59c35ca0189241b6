<script setup lang="ts">
import { computed } from 'vue';
import { useBench } from '../stores/bench.ts';
import { usePictureOnShow } from '../stores/picture-on-show.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';

/** Under the picture: transport, what is laid over it, how it is viewed, and the pixel under the pointer. */
const shot = useShot();
const head = usePlayhead();
const bench = useBench();
const onShow = usePictureOnShow();
const hasResult = computed(() => ['content', 'blend', 'send'].includes(bench.step));
const hasOutlines = computed(() => ['follow', 'seat'].includes(bench.step));
const pixel = computed(() => {
  const facts = shot.plate?.facts;
  const at = bench.pointer;
  // Named so that the readout follows the picture, not only the pointer.
  void onShow.picture;
  const codes = facts && at && onShow.codesAt(at.x, at.y, facts.width, facts.height);
  return codes && at ? { x: at.x.toFixed(1), y: at.y.toFixed(1), codes: codes.join(' '), values: codes.map((c) => (c / 255).toFixed(2)).join(' ') } : null;
});
const exposureText = computed(() => `${bench.exposure > 0 ? '+' : bench.exposure < 0 ? '−' : '±'}${Math.abs(bench.exposure).toFixed(1)} EV`);
</script>

<template>
  <div class="viewer-bar">
    <span class="cluster">
      <button class="icon-button" type="button" title="One frame back (,)" aria-label="One frame back" @click="head.step(-1)"><i class="bi bi-chevron-left" /></button>
      <button class="icon-button" type="button" title="Play (Space)" :aria-label="head.playing ? 'Stop playing' : 'Play'" @click="head.toggle()"><i class="bi" :class="head.playing ? 'bi-pause-fill' : 'bi-play-fill'" /></button>
      <button class="icon-button" type="button" title="One frame on (.)" aria-label="One frame on" @click="head.step(1)"><i class="bi bi-chevron-right" /></button>
      <span v-if="head.playing" class="quiet rate">{{ head.shownRate }} fps</span>
    </span>
    <button v-if="hasOutlines" class="toggle" type="button" :aria-pressed="bench.showOutlines" title="O" @click="bench.showOutlines = !bench.showOutlines"><i class="bi bi-bounding-box" /> Outline</button>
    <button v-if="bench.step === 'seat'" class="toggle" type="button" :aria-pressed="bench.showGrid" @click="bench.showGrid = !bench.showGrid"><i class="bi bi-grid-3x3" /> Grid</button>
    <button v-if="hasResult" class="toggle" type="button" :aria-pressed="bench.showResult" title="V" @click="bench.showResult = !bench.showResult"><i class="bi bi-layers" /> Finished</button>
    <span class="cluster" title="For viewing only">
      <button class="icon-button" type="button" aria-label="View darker" @click="bench.exposure = Math.max(-4, bench.exposure - 0.5)"><i class="bi bi-brightness-low" /></button>
      <button class="plain" type="button" title="Back to ±0" @click="bench.exposure = 0">{{ exposureText }}</button>
      <button class="icon-button" type="button" aria-label="View brighter" @click="bench.exposure = Math.min(6, bench.exposure + 0.5)"><i class="bi bi-brightness-high" /></button>
    </span>
    <span class="cluster">
      <button class="icon-button" type="button" title="Show all of it (F)" aria-label="Show all of it" @click="bench.viewRequest = { kind: 'fit' }"><i class="bi bi-aspect-ratio" /></button>
      <button class="plain" type="button" title="One screen pixel for a plate pixel (1)" data-zoom @click="bench.viewRequest = { kind: 'actual' }">{{ Math.round(100 * bench.scale) }} %</button>
    </span>
    <span class="spacer" />
    <span v-if="pixel" class="readout" data-readout><span class="quiet">x</span> {{ pixel.x }} <span class="quiet">y</span> {{ pixel.y }} <b>{{ pixel.codes }}</b> <span class="quiet">{{ pixel.values }}</span></span>
  </div>
</template>

<style scoped>
.viewer-bar { height: 36px; display: flex; align-items: center; gap: 10px; padding: 0 10px; border-top: 1px solid var(--line); background: var(--paper); font-size: 13px; white-space: nowrap; overflow: hidden; }
.cluster { display: flex; align-items: center; }
.toggle, .plain { border: 0; background: none; color: var(--ink); border-radius: 3px; padding: 3px 8px; font-size: 13px; }
.toggle:hover, .plain:hover { background: var(--paper-sunk); }
.toggle[aria-pressed='true'] { background: var(--accent-soft); }
.plain { min-width: 62px; text-align: center; padding: 3px 2px; }
.rate { min-width: 46px; }
.readout { font-variant-numeric: tabular-nums; display: flex; gap: 7px; }
</style>
