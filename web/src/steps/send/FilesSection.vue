<script setup lang="ts">
import { computed, ref } from 'vue';
import type { DeliveryFormat, DeliverySettings, RenderLayer } from '../../../../core/base/schemas/types.ts';
import {
  FILM_ENDINGS,
  fillPattern,
  isFilm as isFilmFormat,
  numberedPicture,
  PICTURE_ENDINGS,
  USUAL_PATTERN,
} from '../../../../core/handoff/send/file-pattern.ts';
import AppSelect from '../../components/AppSelect.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { FORMAT_NAMES, LAYER_NAMES } from './layer-names.ts';
import { useNotices } from '../../stores/notices.ts';
import { useRenders } from '../../stores/renders.ts';
import { useShot } from '../../stores/shot.ts';

/** Films and numbered pictures made from finished frames; what is missing of these is rendered first. */
const shot = useShot();
const renders = useRenders();
const notices = useNotices();
type Format = Exclude<DeliveryFormat, 'frames'>;
const format = ref<Format>('h264');
const FORMATS = (Object.keys(FORMAT_NAMES) as Format[]).map((value) => ({ value, text: FORMAT_NAMES[value].name }));
const layers = ref<RenderLayer[]>(['full']);
const more = ref(false);
const settings = ref<DeliverySettings>({});
const isFilm = computed(() => isFilmFormat(format.value));
const lossy = computed(() => isFilm.value && format.value !== 'ffv1');
const handles = computed(() => settings.value.handles ?? 0);
const count = computed(
  () => Math.min(shot.frames - 1, renders.span[1] + handles.value) - Math.max(0, renders.span[0] - handles.value) + 1,
);
const version = computed(
  () =>
    Math.max(
      0,
      ...renders.own.filter((job) => job.render && job.render.output !== 'frames').map((job) => job.render!.version),
    ) + 1,
);
/** Taken when it is typed to its end: what is half typed stands through a render's progress. */
const pattern = computed({
  get: () => settings.value.pattern ?? USUAL_PATTERN,
  set: (text: string) => set('pattern', text || undefined),
});
const names = computed(() => {
  try {
    return {
      names: layers.value.map((layer) => {
        const name = fillPattern(pattern.value, {
          project: shot.project?.name ?? 'project',
          shot: shot.shot?.name ?? 'shot',
          layer,
          version: version.value,
        });
        return isFilmFormat(format.value)
          ? `${name}${FILM_ENDINGS[format.value]}`
          : numberedPicture(
              name,
              settings.value.firstNumber ??
                renders.span[0] + shot.firstNumber - Math.min(handles.value, renders.span[0]),
              PICTURE_ENDINGS[format.value]!,
            );
      }),
      problem: null,
    };
  } catch (error) {
    return { names: [], problem: (error as Error).message };
  }
});
function set<K extends keyof DeliverySettings>(name: K, value: DeliverySettings[K] | undefined): void {
  const next = { ...settings.value };
  if (value === undefined) delete next[name];
  else next[name] = value;
  settings.value = next;
}
const toggleLayer = (layer: RenderLayer) =>
  (layers.value = (Object.keys(LAYER_NAMES) as RenderLayer[]).filter(
    (one) => (one === layer) !== layers.value.includes(one),
  ));
const burn = (part: 'frame' | 'name' | 'version') =>
  set('burnIn', { ...settings.value.burnIn, [part]: !settings.value.burnIn?.[part] });
const write = () =>
  notices.guard(() =>
    renders.start({ frames: renders.span, output: format.value, layers: layers.value, settings: settings.value }),
  );
</script>

<template>
  <section class="section">
    <header>
      <h2>Files</h2>
      <button class="use-button" type="button" :aria-expanded="more" @click="more = !more">
        {{ more ? 'fewer settings' : 'settings' }}
      </button>
    </header>
    <div class="rows">
      <label class="row-line"
        ><span>As</span><AppSelect label="Format" :value="format" :options="FORMATS" @choose="format = $event"
      /></label>
      <p class="quiet m-0">{{ FORMAT_NAMES[format].note }}</p>
      <div class="layers" role="group" aria-label="What is written">
        <BFormCheckbox
          v-for="(name, layer) in LAYER_NAMES"
          :key="layer"
          :model-value="layers.includes(layer)"
          :data-layer="layer"
          @update:model-value="toggleLayer(layer)"
          >{{ name }}</BFormCheckbox
        >
      </div>
      <template v-if="more">
        <div v-if="lossy" class="row-line">
          <span>Quality</span
          ><ChoiceRow
            label="Quality"
            :options="['small', 'good', 'best'] as const"
            :value="settings.quality ?? 'good'"
            @choose="set('quality', $event)"
          />
        </div>
        <NumberField
          label="Size"
          unit="%"
          :value="100 * (settings.scale ?? 1)"
          :min="5"
          :max="400"
          :digits="1"
          @commit="(v) => set('scale', v === 100 ? undefined : v / 100)"
        />
        <NumberField
          label="Handles"
          unit="frames"
          :value="handles"
          :min="0"
          :max="1000"
          :digits="0"
          @commit="(v) => set('handles', v > 0 ? Math.round(v) : undefined)"
        />
        <NumberField
          v-if="!isFilm"
          label="First number"
          :value="settings.firstNumber ?? renders.span[0] + shot.firstNumber"
          :min="0"
          :max="2e9"
          :digits="0"
          @commit="(v) => set('firstNumber', Math.round(v))"
        />
        <div class="row-line">
          <span>Burnt in</span>
          <div class="choice" role="group" aria-label="Burnt in">
            <button
              v-for="part in ['name', 'version', 'frame'] as const"
              :key="part"
              type="button"
              :aria-pressed="settings.burnIn?.[part] === true"
              @click="burn(part)"
            >
              {{ part }}
            </button>
          </div>
        </div>
        <div v-if="isFilm" class="row-line">
          <span>Plate’s sound</span
          ><ChoiceRow
            label="Plate’s sound"
            :options="['drop', 'keep'] as const"
            :value="settings.audio ?? 'drop'"
            @choose="set('audio', $event)"
          />
        </div>
        <label class="row-line"
          ><span>Names</span
          ><BFormInput
            v-model.lazy.trim="pattern"
            class="pattern"
            aria-label="Pattern of file names"
            spellcheck="false"
        /></label>
      </template>
      <p v-if="names.problem" class="notice m-0">{{ names.problem }}</p>
      <p v-else class="names m-0" data-file-names>
        <code v-for="name in names.names" :key="name">{{ name }}</code>
      </p>
      <BButton
        variant="primary"
        :disabled="renders.ledger?.impossible !== null || layers.length === 0 || names.problem !== null"
        data-write-files
        @click="write"
        >Write {{ isFilm ? (layers.length > 1 ? `${layers.length} films` : 'the film') : 'pictures' }} of
        {{ count }} frames</BButton
      >
    </div>
  </section>
</template>

<style scoped>
select {
  max-width: 170px;
}
.layers {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 8px;
  font-size: 13px;
}
.pattern {
  width: 190px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--white);
  color: var(--ink);
  font-size: 13px;
  padding: 2px 5px;
}
.names {
  display: grid;
  gap: 1px;
}
.names code {
  font-size: 13px;
  color: var(--ink-soft);
  overflow-wrap: anywhere;
}
</style>
