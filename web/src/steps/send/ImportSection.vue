<script setup lang="ts">
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { CORNER_NAMES } from '../../../../core/base/geometry/quad.ts';
import type { ImportMapping } from '../../../../core/base/schemas/types.ts';
import { columnsOf, guessMapping, importData, type Imported } from '../../../../core/handoff/exchange/import-data.ts';
import { readTable } from '../../../../core/handoff/exchange/read-table.ts';
import { call } from '../../api/client.ts';
import AppSelect from '../../components/AppSelect.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import FilePick from '../../components/FilePick.vue';
import NumberField from '../../components/NumberField.vue';
import { useDocument } from '../../stores/document.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSaving } from '../../stores/saving.ts';
import { useShot } from '../../stores/shot.ts';
import { useTrack } from '../../stores/track.ts';

/** Corners or homographies that somebody else has made, looked at before they take the place of the track. */
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const track = useTrack();
const notices = useNotices();
const file = ref<{ name: string; text: string } | null>(null);
const mapping = ref<ImportMapping | null>(null);
const columns = computed(() => (file.value ? columnsOf(file.value.text) : null));
const columnChoices = computed(() => (columns.value ?? []).map((text, value) => ({ value, text })));
const sample = computed(() => (file.value && columns.value ? readTable(file.value.text).rows.slice(0, 4) : []));
/** The columns that are asked for, in rows: corners with x and y, or a homography's rows. */
const rows = computed(() =>
  mapping.value?.homography
    ? [0, 1, 2].map((r) => ({ name: `row ${r + 1}`, parts: ['1', '2', '3'], columns: [3 * r, 3 * r + 1, 3 * r + 2] }))
    : CORNER_NAMES.map((name, i) => ({ name, parts: ['x', 'y'], columns: [2 * i, 2 * i + 1] })),
);
const read = computed<{ imported: Imported | null; problem: string | null }>(() => {
  const facts = shot.plate?.facts;
  if (!file.value || !facts || (columns.value && !mapping.value)) return { imported: null, problem: null };
  try {
    return {
      imported: importData(
        file.value.text,
        { width: facts.width, height: facts.height, corners: doc.document?.corners ?? null },
        mapping.value,
      ),
      problem: null,
    };
  } catch (error) {
    return { imported: null, problem: (error as Error).message };
  }
});
const onReference = computed(
  () => read.value.imported?.frames.some(({ frame }) => frame === doc.document?.referenceFrame) ?? false,
);
const usable = computed(() => (read.value.imported?.frames.length ?? 0) > 0 && onReference.value);
const take = (one: File) =>
  notices.guard(async () => {
    const text = await one.text();
    file.value = { name: one.name, text };
    mapping.value = columnsOf(text) ? (guessMapping(text) ?? { frame: 0, corners: [1, 2, 3, 4, 5, 6, 7, 8] }) : null;
  });
function set(change: Partial<ImportMapping>): void {
  mapping.value = { ...mapping.value!, ...change };
}
/** The same columns in their order, as the other kind of numbers. */
function hold(kind: 'corners' | 'homographies'): void {
  const { corners: _corners, homography: _homography, ...kept } = mapping.value!;
  const others = (columns.value ?? []).map((_, i) => i).filter((i) => i !== kept.frame);
  const of = (count: number) => Array.from({ length: count }, (_, i) => others[i] ?? 0);
  mapping.value = kind === 'corners' ? { ...kept, corners: of(8) } : { ...kept, homography: of(9) };
}
function column(k: number, to: number): void {
  const { corners, homography } = mapping.value!;
  const next = [...(corners ?? homography)!];
  next[k] = to;
  set(homography ? { homography: next } : { corners: next });
}
const router = useRouter();
/** In place of the track, which then is gone; or into a second shot. */
const bring = (copy: boolean) =>
  notices.guard(async () => {
    const id = shot.shot!.id;
    if (!file.value || !(await saving.saved())) return;
    const { frames, shotId } = await call('POST', `/shots/${id}/import`, 'importReply', {
      text: file.value.text,
      ...(mapping.value ? { mapping: mapping.value } : {}),
      copy,
    });
    notices.add(`${frames} frames were brought in from ${file.value.name}.`);
    file.value = null;
    if (copy) await router.push(`/shots/${shotId}/send`);
    else await shot.open(id);
  });
</script>

<template>
  <section class="section import">
    <header><h2>Track from a file</h2></header>
    <div class="rows">
      <FilePick
        v-if="!file"
        label="Corners or homographies"
        accept=".csv,.txt,.tsv,.json"
        size="sm"
        :disabled="!shot.plate"
        @pick="take"
        ><i class="bi bi-box-arrow-in-down" /> Corners or homographies …</FilePick
      >
      <template v-else>
        <p class="m-0 file-name">{{ file.name }}</p>
        <template v-if="columns && mapping">
          <div class="table-wrap">
            <table>
              <thead>
                <tr>
                  <th v-for="(name, i) in columns" :key="i">{{ name }}</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="row in sample" :key="row.line">
                  <td v-for="(_, i) in columns" :key="i">{{ row.cells[i] }}</td>
                </tr>
              </tbody>
            </table>
          </div>
          <div class="row-line">
            <span>Holds</span
            ><ChoiceRow
              label="What the file holds"
              :options="['corners', 'homographies'] as const"
              :value="mapping.homography ? 'homographies' : 'corners'"
              @choose="hold"
            />
          </div>
          <label class="row-line"
            ><span>frame</span
            ><AppSelect
              label="Column of frame"
              :value="mapping.frame"
              :options="columnChoices"
              @choose="set({ frame: $event })"
          /></label>
          <div v-for="(row, r) in rows" :key="row.name" class="row-line">
            <span>{{ row.name }}</span
            ><span class="selects"
              ><AppSelect
                v-for="k in row.columns"
                :key="k"
                :label="`Column of ${row.name} ${row.parts[k - row.columns[0]!]}`"
                :value="(mapping.homography ?? mapping.corners)![k]!"
                :options="columnChoices"
                :title="row.parts[k - row.columns[0]!]"
                :data-row="r"
                @choose="column(k, $event)"
            /></span>
          </div>
          <NumberField
            label="First frame is"
            :value="mapping.frameBase ?? 0"
            :digits="0"
            @commit="(v) => set({ frameBase: Math.round(v) })"
          />
          <div class="row-line">
            <span>y</span
            ><ChoiceRow
              label="y of the file"
              :options="['down', 'up'] as const"
              :value="mapping.y ?? 'down'"
              @choose="set({ y: $event })"
            />
          </div>
          <div class="row-line">
            <span>In</span
            ><ChoiceRow
              label="Units of the file"
              :options="['pixels', 'normalised'] as const"
              :value="mapping.units ?? 'pixels'"
              @choose="set({ units: $event })"
            />
          </div>
          <div v-if="mapping.units !== 'normalised'" class="row-line">
            <span>First pixel’s middle</span
            ><ChoiceRow
              label="First pixel’s middle in the file"
              :options="['0.5', '0'] as const"
              :value="mapping.pixelCentre === 'integer' ? '0' : '0.5'"
              @choose="set({ pixelCentre: $event === '0' ? 'integer' : 'half' })"
            />
          </div>
        </template>
        <p v-if="read.problem" class="notice m-0">{{ read.problem }}</p>
        <template v-if="read.imported">
          <p class="m-0" data-import-count>{{ read.imported.frames.length }} frames can be used.</p>
          <ul v-if="read.imported.faults.length > 0" class="faults">
            <li v-for="fault in read.imported.faults.slice(0, 5)" :key="`${fault.line} ${fault.why}`">
              line {{ fault.line }}: {{ fault.why }}
            </li>
            <li v-if="read.imported.faults.length > 5">and {{ read.imported.faults.length - 5 }} more</li>
          </ul>
          <p v-if="read.imported.frames.length > 0 && !onReference" class="notice m-0">
            The reference frame is not among them: choose another on Follow first.
          </p>
        </template>
        <div class="row-line">
          <BButton variant="outline-secondary" size="sm" @click="file = null">Leave it</BButton
          ><BButton
            variant="primary"
            size="sm"
            :disabled="!usable"
            :title="track.rows.length > 0 ? 'A second shot of the same plate; this one stays as it is' : ''"
            data-import
            @click="bring(track.rows.length > 0)"
            >{{
              track.rows.length > 0 ? 'Into a second shot' : `Bring in ${read.imported?.frames.length ?? 0} frames`
            }}</BButton
          >
        </div>
        <BButton
          v-if="track.rows.length > 0"
          variant="outline-secondary"
          size="sm"
          :disabled="!usable"
          title="What was followed here is gone then; lock and fixes are left out"
          data-import-over
          @click="bring(false)"
          >In place of this track</BButton
        >
      </template>
    </div>
  </section>
</template>

<style scoped>
/* The hidden field for files stays within. */
.import {
  position: relative;
}
.selects {
  display: flex;
  gap: 4px;
}
.selects select {
  max-width: 84px;
}
select {
  max-width: 150px;
}
.table-wrap {
  overflow-x: auto;
  border: 1px solid var(--line);
  background: var(--white);
}
table {
  font-size: 13px;
  border-collapse: collapse;
}
th,
td {
  padding: 1px 7px;
  white-space: nowrap;
  text-align: right;
  border-right: 1px solid var(--line);
}
.faults {
  margin: 0;
  padding-left: 18px;
  font-size: 13px;
  color: var(--alarm);
}
.file-name {
  overflow-wrap: anywhere;
}
</style>
