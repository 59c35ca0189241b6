<script setup lang="ts">
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import {
  LEVEL_BINS,
  type EdgeScope,
  type LevelScope,
  type NoiseScope,
  type Scopes,
} from '../../../core/picture/measure/scopes.ts';
import IconButton from '../components/IconButton.vue';
import { scopesInWorker } from '../preview/preview.ts';
import { shotRequest } from '../preview/shot-request.ts';
import { useDocument } from '../stores/document.ts';
import { useNotices } from '../stores/notices.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useTrack } from '../stores/track.ts';
import { useWorkspace } from '../stores/workspace.ts';
import ScopeChart, { type ScopePoint } from './ScopeChart.vue';
import { latestOnly } from './latest-only.ts';

/** By the picture: levels, borders and noise of the content as it comes out, beside the plate's by the same measures, on the frame on show. */
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const head = usePlayhead();
const workspace = useWorkspace();
const notices = useNotices();
const scopes = shallowRef<Scopes | null>(null);
/** The frame that they are of; −1 before any. */
const frame = ref(-1);
const busy = ref(false);
/** Waits until the hand rests, so that a drag of a value is not measured on its way. */
const REST_MS = 350;
let timer = 0;
const look = latestOnly(
  async () => {
    const now = head.frame;
    const request = shotRequest({ frame: now, exact: true, onScreen: Infinity });
    const found = request ? await notices.guard(() => scopesInWorker(request)) : null;
    scopes.value = found ?? null;
    frame.value = now;
  },
  () => (busy.value = false),
);
watch(
  [
    () => head.frame,
    () => head.playing,
    () => doc.document,
    () => shot.content?.state,
    () => track.byFrame.get(head.frame),
  ],
  () => {
    clearTimeout(timer);
    if (head.playing) return;
    busy.value = true;
    timer = window.setTimeout(() => void look(), REST_MS);
  },
  { immediate: true },
);
onBeforeUnmount(() => clearTimeout(timer));

const bars = (level: LevelScope | null | undefined): ScopePoint[] =>
  level?.shares.map((share, k) => ({ x: (k + 0.5) / LEVEL_BINS, y: Math.sqrt(share) })) ?? [];
const curve = (edge: EdgeScope | null | undefined): ScopePoint[] =>
  edge?.places.map((x, i) => ({ x, y: edge.values[i]! })).filter((p) => Math.abs(p.x) <= 6) ?? [];
const noise = (levels: readonly NoiseScope[] | undefined): ScopePoint[] =>
  levels?.map(({ level, sigma }) => ({ x: level, y: sigma })) ?? [];
const middle = (levels: readonly NoiseScope[] | undefined) => levels?.[Math.floor(levels.length / 2)]?.sigma;
const ends = (level: LevelScope | null | undefined) =>
  level ? level.ends.map((v) => v.toFixed(2)).join(' to ') : 'not seen';
const px = (edge: EdgeScope | null | undefined) =>
  edge ? `${edge.sigma.toFixed(2)} px (${edge.width.toFixed(1)})` : 'not seen';
const codes = (levels: readonly NoiseScope[] | undefined) =>
  middle(levels) === undefined ? 'nothing flat' : middle(levels)!.toFixed(2);
const state = computed(() =>
  busy.value ? 'measuring …' : frame.value < 0 ? '' : `frame ${frame.value + shot.firstNumber}`,
);
</script>

<template>
  <aside class="scopes" data-scopes :data-scoped="busy ? '' : frame">
    <header>
      <h2>Scopes</h2>
      <span class="quiet">{{ state }}</span
      ><IconButton icon="x-lg" label="Close the scopes" @click="workspace.showScopes = false" />
    </header>
    <p class="keys"><span class="content" /> content <span class="plate" /> plate</p>
    <p v-if="!busy && !scopes" class="quiet">No content is shown on this frame.</p>
    <template v-else-if="scopes">
      <ScopeChart
        name="Levels"
        unit="0 to 1, as displayed"
        :content="bars(scopes.levels.content)"
        :plate="bars(scopes.levels.around)"
        :range="[0, 1]"
        :from="0"
      >
        <dl>
          <dt>content</dt>
          <dd data-scope="content-levels">{{ ends(scopes.levels.content) }}</dd>
          <dt>around it</dt>
          <dd data-scope="around-levels">{{ ends(scopes.levels.around) }}</dd>
        </dl>
      </ScopeChart>
      <ScopeChart
        name="Borders"
        unit="px across"
        :content="curve(scopes.edges.content)"
        :plate="curve(scopes.edges.device)"
        :range="[-6, 6]"
        :from="-0.1"
        :to="1.2"
      >
        <dl
          title="Spread σ, the pixel’s own and the motion’s taken off; in brackets from a tenth to nine tenths of the step, as recorded"
        >
          <dt>content</dt>
          <dd data-scope="content-edge">{{ px(scopes.edges.content) }}</dd>
          <dt>device</dt>
          <dd data-scope="device-edge">{{ px(scopes.edges.device) }}</dd>
        </dl>
      </ScopeChart>
      <ScopeChart
        name="Noise"
        unit="σ by level, of 255"
        :content="noise(scopes.noise.content)"
        :plate="noise(scopes.noise.plate)"
        :range="[0, 1]"
        :from="0"
      >
        <dl title="At middle level, mean of the channels">
          <dt>content</dt>
          <dd data-scope="content-noise">{{ codes(scopes.noise.content) }}</dd>
          <dt>plate</dt>
          <dd data-scope="plate-noise">{{ codes(scopes.noise.plate) }}</dd>
        </dl>
      </ScopeChart>
    </template>
  </aside>
</template>

<style scoped>
.scopes {
  flex: none;
  width: 236px;
  overflow-y: auto;
  background: var(--paper);
  border-left: 1px solid var(--line);
  padding: 8px 10px;
  font-size: 13px;
}
header {
  display: flex;
  align-items: center;
  gap: 8px;
}
header h2 {
  font-size: 14px;
  margin: 0;
  flex: 1;
}
.keys {
  display: flex;
  align-items: center;
  gap: 6px;
  margin: 2px 0 4px;
}
.keys span {
  display: inline-block;
  width: 16px;
  height: 3px;
  background: var(--accent);
}
.keys .plate {
  height: 8px;
  background: var(--line);
  border-top: 1.5px solid var(--ink-soft);
  margin-left: 8px;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  margin: 0 0 8px;
  column-gap: 8px;
}
dt {
  font-weight: 400;
  color: var(--ink-soft);
}
dd {
  margin: 0;
  text-align: right;
  font-variant-numeric: tabular-nums;
}
</style>
