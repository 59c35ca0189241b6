<script setup lang="ts">
import { computed } from 'vue';
import type { SceneFile } from '../../../../../core/base/schemas/types.ts';
import { usePlayhead } from '../../../stores/playhead.ts';
import { useShot } from '../../../stores/shot.ts';
import { frameMilliseconds } from './row-time.ts';

/** What a solved room comes to: the camera's lens, what is left over, and how much holds on the frame on show. */
const props = defineProps<{ file: SceneFile }>();
const shot = useShot();
const head = usePlayhead();
const frameTime = computed(() => frameMilliseconds(shot.plate?.facts?.rate));
const here = computed(() => props.file.frames.find((f) => f.frame === head.frame) ?? null);
const fewest = computed(() =>
  props.file.frames.length > 0 ? props.file.frames.reduce((a, b) => (b.holds < a.holds ? b : a)) : null,
);
const focalText = computed(() => {
  const focals = props.file.frames.map((f) => f.focal);
  const [low, high] = [Math.min(...focals), Math.max(...focals)];
  return props.file.zooms ? `${low.toFixed(0)}–${high.toFixed(0)} px` : `${low.toFixed(1)} px`;
});
</script>

<template>
  <section class="section" data-scene>
    <header><h2>What came of it</h2></header>
    <div class="row-line">
      <span>Focal length</span
      ><span class="figure" data-focal>{{
        file.motion === 'still' && !file.focalKnown ? 'not known' : focalText
      }}</span>
    </div>
    <div v-if="file.k1 !== 0 || file.k2 !== 0" class="row-line">
      <span>Lens</span
      ><span class="figure" data-k1
        >k1 {{ file.k1.toFixed(4) }}{{ file.k2 !== 0 ? `, k2 ${file.k2.toFixed(4)}` : '' }}</span
      >
    </div>
    <div v-if="file.rows" class="row-line">
      <span>First row to last</span
      ><span class="figure" data-scene-rows>{{ (file.rows * frameTime).toFixed(1) }} ms</span>
    </div>
    <div class="row-line">
      <span>Left over</span><span class="figure" data-scene-rms>{{ file.rms.toFixed(2) }} px rms</span>
    </div>
    <div class="row-line">
      <span>Points</span
      ><span class="figure"
        >{{ file.points.length
        }}<span class="quiet"> · {{ Math.round(100 * file.share) }} % of what was followed</span></span
      >
    </div>
    <div class="row-line">
      <span>On this frame</span
      ><span class="figure" data-holds>{{
        here ? `${here.holds} hold, ${here.rms.toFixed(2)} px` : 'fewer than eight hold'
      }}</span>
    </div>
    <div v-if="fewest" class="row-line">
      <span>Fewest</span
      ><button class="use-button" type="button" @click="head.goTo(fewest.frame)">
        {{ fewest.holds }} on frame {{ fewest.frame + shot.firstNumber }}
      </button>
    </div>
    <p v-for="note in file.notes" :key="note" class="notice mt-2 mb-0" data-scene-note>{{ note }}</p>
  </section>
</template>
