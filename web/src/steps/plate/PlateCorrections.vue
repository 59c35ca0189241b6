<script setup lang="ts">
import { computed, ref } from 'vue';
import { PRIMARIES, PRIMARIES_NAMES } from '../../../../core/base/image/primaries.ts';
import { TRANSFER_NAMES, TRANSFERS } from '../../../../core/base/image/transfer-curves.ts';
import type { Media, MediaCorrections } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import AppSelect from '../../components/AppSelect.vue';
import FilePick from '../../components/FilePick.vue';
import { correctPlate } from './correct-plate.ts';
import { useNotices } from '../../stores/notices.ts';
import { useShot } from '../../stores/shot.ts';

/** Puts right what the file says wrongly or not at all. "as the file says" takes a correction back. */
const props = defineProps<{ medium: Media }>();
const shot = useShot();
const notices = useNotices();
const facts = computed(() => props.medium.facts!);
const given = computed(() => props.medium.corrections);
const changed = computed(() => Object.keys(given.value).filter((k) => k !== 'gaps').length);
const rate = ref(facts.value.rate.join('/'));
const aspect = ref(facts.value.pixelAspect.join(':'));
const set = (change: MediaCorrections) => notices.guard(() => correctPlate(props.medium, change));

function setRate(): void {
  const match = /^\s*(\d+)(?:\s*\/\s*(\d+))?\s*$/.exec(rate.value);
  const value: [number, number] = [Number(match?.[1] ?? 0), Number(match?.[2] ?? 1)];
  if (value[0] < 1 || value[1] < 1) {
    notices.add('A rate is a whole number or a fraction, such as 25 or 30000/1001.');
    rate.value = facts.value.rate.join('/');
  } else if (value[0] * facts.value.rate[1] !== value[1] * facts.value.rate[0]) void set({ rate: value });
}
function setAspect(): void {
  const match = /^\s*(\d+)\s*[:/]\s*(\d+)\s*$/.exec(aspect.value);
  const value: [number, number] = [Number(match?.[1] ?? 0), Number(match?.[2] ?? 0)];
  if (value[0] < 1 || value[1] < 1) {
    notices.add('The shape of a pixel is width:height, such as 1:1 or 64:45.');
    aspect.value = facts.value.pixelAspect.join(':');
  } else void set({ pixelAspect: value });
}
const AS_FILE = { value: '', text: 'as the file says' } as const;
const TURNS = [AS_FILE, ...([0, 90, 180, 270] as const).map((value) => ({ value, text: `${value}°` }))];

async function takeTable(file: File): Promise<void> {
  await notices.guard(async () => {
    await call('PUT', `/media/${props.medium.id}/lut`, 'media', { name: file.name, text: await file.text() });
    await shot.refreshShot();
  });
}
const dropTable = () =>
  notices.guard(async () => {
    await call('DELETE', `/media/${props.medium.id}/lut`, 'media');
    await shot.refreshShot();
  });
</script>

<template>
  <section class="section">
    <details :open="changed > 0" data-corrections>
      <summary>
        <h2>Where the file is wrong</h2>
        <span class="quiet">{{ changed === 0 ? 'nothing changed' : `${changed} changed` }}</span>
      </summary>
      <div class="rows mt-2">
        <label class="row-line"
          >Rate <BFormInput v-model="rate" class="short" aria-label="Rate" @change="setRate"
        /></label>
        <label class="row-line"
          >Pixel shape <BFormInput v-model="aspect" class="short" aria-label="Pixel shape" @change="setAspect"
        /></label>
        <label class="row-line"
          >Turned
          <AppSelect
            label="Turned"
            :value="given.rotation ?? ''"
            :options="TURNS"
            @choose="(r) => set({ rotation: r === '' ? undefined : r })"
        /></label>
        <label class="row-line"
          >Fields
          <AppSelect
            label="Fields"
            :value="given.deinterlace ? 'yes' : 'no'"
            :options="[
              { value: 'no', text: 'left as they are' },
              { value: 'yes', text: 'made progressive' },
            ]"
            @choose="(made) => set({ deinterlace: made === 'yes' || undefined })"
        /></label>
        <label class="row-line"
          >Transfer
          <AppSelect
            label="Transfer"
            :value="given.transfer ?? ''"
            :options="[AS_FILE, ...TRANSFER_NAMES.map((value) => ({ value, text: TRANSFERS[value].label }))]"
            @choose="(transfer) => set({ transfer: transfer || undefined })"
        /></label>
        <label class="row-line"
          >Primaries
          <AppSelect
            label="Primaries"
            :value="given.primaries ?? ''"
            :options="[AS_FILE, ...PRIMARIES_NAMES.map((value) => ({ value, text: PRIMARIES[value].label }))]"
            @choose="(primaries) => set({ primaries: primaries || undefined })"
        /></label>
        <template v-if="facts.matrix !== 'rgb'">
          <label class="row-line"
            >Matrix
            <AppSelect
              label="Matrix"
              :value="given.matrix ?? ''"
              :options="[
                AS_FILE,
                { value: 'bt709', text: 'BT.709' },
                { value: 'bt601', text: 'BT.601' },
                { value: 'bt2020', text: 'BT.2020' },
              ]"
              @choose="(matrix) => set({ matrix: matrix || undefined })"
          /></label>
          <label class="row-line"
            >Range
            <AppSelect
              label="Range"
              :value="given.range ?? ''"
              :options="[AS_FILE, 'limited', 'full']"
              @choose="(range) => set({ range: range || undefined })"
          /></label>
        </template>
        <label v-if="facts.missing.length > 0" class="row-line"
          >Gaps
          <AppSelect
            label="Gaps"
            :value="given.gaps ?? 'hold'"
            :options="[
              { value: 'hold', text: 'last picture held' },
              { value: 'stop', text: 'stopped there' },
            ]"
            @choose="(gaps) => set({ gaps })"
        /></label>
        <div class="row-line">
          Colour table, for viewing
          <span class="d-flex gap-1"
            ><button v-if="medium.lut" class="use-button" type="button" @click="dropTable">
              without {{ medium.lut }}</button
            ><FilePick label="Colour table" accept=".cube" :variant="null" class="use-button" @pick="takeTable"
              >choose .cube</FilePick
            ></span
          >
        </div>
      </div>
    </details>
  </section>
</template>

<style scoped>
summary {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  list-style: none;
  cursor: pointer;
}
summary h2::before {
  content: '+';
  display: inline-block;
  width: 15px;
  color: var(--accent);
}
details[open] summary h2::before {
  content: '−';
}
.short {
  width: 108px;
  text-align: right;
}
.form-select {
  width: 170px;
}
</style>
