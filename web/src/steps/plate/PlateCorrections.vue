<script setup lang="ts">
import { computed, ref } from 'vue';
import { PRIMARIES, PRIMARIES_NAMES, type PrimariesName } from '../../../../core/base/image/primaries.ts';
import { TRANSFER_NAMES, TRANSFERS, type TransferName } from '../../../../core/base/image/transfer-curves.ts';
import type { Media, MediaCorrections } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import { useNotices } from '../../stores/notices.ts';
import { useShot } from '../../stores/shot.ts';
import { correctPlate } from './correct-plate.ts';

/** Puts right what the file says wrongly or not at all. "as the file says" takes a correction back. */
const props = defineProps<{ medium: Media }>();
const shot = useShot();
const notices = useNotices();
const facts = computed(() => props.medium.facts!);
const given = computed(() => props.medium.corrections);
const changed = computed(() => Object.keys(given.value).filter((k) => k !== 'gaps').length);
const rate = ref(facts.value.rate.join('/'));
const aspect = ref(facts.value.pixelAspect.join(':'));
const table = ref<HTMLInputElement | null>(null);
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
const value = <T extends string>(event: Event): T | undefined =>
  ((event.target as HTMLSelectElement).value || undefined) as T | undefined;

async function takeTable(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0];
  if (!file) return;
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
          >Rate <input v-model="rate" class="form-control short" aria-label="Rate" @change="setRate"
        /></label>
        <label class="row-line"
          >Pixel shape <input v-model="aspect" class="form-control short" aria-label="Pixel shape" @change="setAspect"
        /></label>
        <label class="row-line"
          >Turned
          <select
            class="form-select"
            aria-label="Turned"
            :value="given.rotation ?? ''"
            @change="set({ rotation: value($event) === undefined ? undefined : (Number(value($event)) as 0) })"
          >
            <option value="">as the file says</option>
            <option v-for="r in [0, 90, 180, 270]" :key="r" :value="r">{{ r }}°</option>
          </select></label
        >
        <label class="row-line"
          >Fields
          <select
            class="form-select"
            aria-label="Fields"
            :value="given.deinterlace ? 'yes' : ''"
            @change="set({ deinterlace: value($event) === 'yes' || undefined })"
          >
            <option value="">left as they are</option>
            <option value="yes">made progressive</option>
          </select></label
        >
        <label class="row-line"
          >Transfer
          <select
            class="form-select"
            aria-label="Transfer"
            :value="given.transfer ?? ''"
            @change="set({ transfer: value<TransferName>($event) })"
          >
            <option value="">as the file says</option>
            <option v-for="t in TRANSFER_NAMES" :key="t" :value="t">{{ TRANSFERS[t].label }}</option>
          </select></label
        >
        <label class="row-line"
          >Primaries
          <select
            class="form-select"
            aria-label="Primaries"
            :value="given.primaries ?? ''"
            @change="set({ primaries: value<PrimariesName>($event) })"
          >
            <option value="">as the file says</option>
            <option v-for="p in PRIMARIES_NAMES" :key="p" :value="p">{{ PRIMARIES[p].label }}</option>
          </select></label
        >
        <template v-if="facts.matrix !== 'rgb'">
          <label class="row-line"
            >Matrix
            <select
              class="form-select"
              aria-label="Matrix"
              :value="given.matrix ?? ''"
              @change="set({ matrix: value<'bt709'>($event) })"
            >
              <option value="">as the file says</option>
              <option value="bt709">BT.709</option>
              <option value="bt601">BT.601</option>
              <option value="bt2020">BT.2020</option>
            </select></label
          >
          <label class="row-line"
            >Range
            <select
              class="form-select"
              aria-label="Range"
              :value="given.range ?? ''"
              @change="set({ range: value<'full'>($event) })"
            >
              <option value="">as the file says</option>
              <option value="limited">limited</option>
              <option value="full">full</option>
            </select></label
          >
        </template>
        <label v-if="facts.missing.length > 0" class="row-line"
          >Gaps
          <select
            class="form-select"
            aria-label="Gaps"
            :value="given.gaps"
            @change="set({ gaps: value<'hold'>($event) })"
          >
            <option value="hold">last picture held</option>
            <option value="stop">stopped there</option>
          </select></label
        >
        <div class="row-line">
          Colour table, for viewing
          <span class="d-flex gap-1"
            ><button v-if="medium.lut" class="use-button" type="button" @click="dropTable">
              without {{ medium.lut }}</button
            ><button class="use-button" type="button" @click="table?.click()">choose .cube</button></span
          >
          <input ref="table" type="file" accept=".cube" hidden data-lut-input @change="takeTable" />
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
  font-size: 13px;
}
</style>
