<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue';
import { inUse } from '../../../../core/base/geometry/outline.ts';
import type { SamplingTrials } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import { useNotices } from '../../stores/notices.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { useSaving } from '../../stores/saving.ts';

/** How many points are looked at: chosen by itself, or after a trial on three frames that shows what it costs and gains. */
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const notices = useNotices();
const trials = shallowRef<SamplingTrials>([]);
const trying = ref(false);
const points = computed(() => doc.document!.points ?? null);
const thousands = (n: number) => n.toLocaleString('en-GB').replace(',', '\u2009');

async function tryThem(): Promise<void> {
  trying.value = true;
  await notices.guard(async () => {
    if (await saving.saved()) trials.value = await call('POST', `/shots/${shot.shot!.id}/sampling`, 'samplingTrials');
  });
  trying.value = false;
}
function choose(count: number | null): void {
  doc.edit((draft) => {
    if (count === null) delete draft.points;
    else draft.points = count;
  });
}
</script>

<template>
  <section class="section" data-sampling>
    <header>
      <h2>Points looked at</h2>
      <span class="quiet">{{ points === null ? 'by itself' : thousands(points) }}</span>
    </header>
    <table v-if="trials.length > 0" class="trials">
      <thead>
        <tr>
          <th scope="col">points</th>
          <th scope="col">ms</th>
          <th scope="col">within</th>
          <th scope="col">moves by</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="trial in trials" :key="trial.points" :class="{ chosen: trial.points === points }">
          <td>
            <button
              class="use-button"
              type="button"
              :aria-pressed="trial.points === points"
              @click="choose(trial.points)"
            >
              {{ thousands(trial.points) }}
            </button>
          </td>
          <td>{{ trial.cost.toFixed(0) }}</td>
          <td>{{ trial.bound === null ? 'lost' : `± ${trial.bound.toFixed(2)} px` }}</td>
          <td>{{ trial.off === null ? '–' : `${trial.off.toFixed(2)} px` }}</td>
        </tr>
      </tbody>
    </table>
    <div class="d-flex gap-3 mt-1">
      <button
        class="use-button"
        type="button"
        :disabled="trying || !!shot.running || inUse(doc.document!.regions).length === 0"
        @click="tryThem"
      >
        {{ trying ? 'trying…' : 'try on three frames' }}
      </button>
      <button v-if="points !== null" class="use-button" type="button" @click="choose(null)">by itself</button>
    </div>
  </section>
</template>

<style scoped>
.trials {
  width: 100%;
  border-collapse: collapse;
  font-variant-numeric: tabular-nums;
}
.trials th {
  font-weight: 400;
  color: var(--ink-soft);
  text-align: right;
}
.trials th:first-child {
  text-align: left;
}
.trials td {
  text-align: right;
  padding: 1px 0;
}
.trials td:first-child {
  text-align: left;
}
.chosen td {
  font-weight: 600;
}
</style>
