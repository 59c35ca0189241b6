<script setup lang="ts">
import { onMounted, ref } from 'vue';
import type { Slot } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import AppField from '../components/AppField.vue';
import SecretLink from '../components/SecretLink.vue';
import { dayWords } from '../components/day-words.ts';
import { useNotices } from '../stores/notices.ts';
import { byteWords } from '../stores/transfer-rate.ts';

/** Slots: rows that somebody else fills by a link, and only fills. */
const { shotId } = defineProps<{ shotId: number }>();
const emit = defineEmits<{ changed: [] }>();
const notices = useNotices();
const slots = ref<Slot[]>([]);
const link = ref('');
const asked = ref({ name: '', days: 14, megabytes: 500, files: 10, renders: 10 });
onMounted(() => notices.guard(async () => (slots.value = await call('GET', `/shots/${shotId}/slots`, 'slots'))));
const offer = () =>
  notices.guard(async () => {
    const { name, days, megabytes, files, renders } = asked.value;
    const made = await call('POST', `/shots/${shotId}/slots`, 'madeSlot', {
      name,
      days,
      limits: { bytes: Math.round(megabytes * 1e6), files, renders },
    });
    link.value = `${location.origin}/slot/${made.secret}`;
    slots.value = [made.slot, ...slots.value];
    asked.value.name = '';
    emit('changed');
  });
const withdraw = (slot: Slot) =>
  notices.guard(async () => (slots.value = await call('DELETE', `/slots/${slot.id}`, 'slots')));
const STATES = { open: 'open', expired: 'run out', revoked: 'withdrawn' } as const;
</script>

<template>
  <section>
    <h2>Slots</h2>
    <p class="quiet">
      Whoever has a slot’s link puts content in, frames it, looks and renders. Nothing else of the project is to be seen
      or changed by it; track, look and matte stay as they are here.
    </p>
    <SecretLink v-if="link" says="The link is shown this once:" :text="link" />
    <table v-if="slots.length > 0">
      <tbody>
        <tr v-for="slot in slots" :key="slot.id" :data-slot="slot.name">
          <th scope="row">{{ slot.name }}</th>
          <td>{{ STATES[slot.state] }}<span class="quiet"> until {{ dayWords(slot.expiresAt) }}</span></td>
          <td class="quiet">
            {{ slot.used.files }} of {{ slot.limits.files }} files, {{ byteWords(slot.limits.bytes) }} each;
            {{ slot.used.renders }} of {{ slot.limits.renders }} renders
          </td>
          <td class="end">
            <button
              v-if="slot.state === 'open'"
              class="btn btn-outline-secondary"
              type="button"
              @click="withdraw(slot)"
            >
              Withdraw
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <form @submit.prevent="offer">
      <AppField v-model="asked.name" label="For whom" spoken="Whom the slot is for" required maxlength="80" />
      <AppField v-model="asked.days" label="Days" class="short" type="number" min="1" max="365" required />
      <AppField
        v-model="asked.megabytes"
        label="MB a file"
        class="short"
        type="number"
        min="1"
        max="1000000"
        required
      />
      <AppField v-model="asked.files" label="Files" class="short" type="number" min="1" max="1000" required />
      <AppField v-model="asked.renders" label="Renders" class="short" type="number" min="1" max="1000" required />
      <BButton type="submit" variant="outline-secondary" data-offer-slot
        ><i class="bi bi-link-45deg" /> Make a link</BButton
      >
    </form>
  </section>
</template>

<style scoped>
h2 {
  font-size: 16px;
  margin: 28px 0 6px;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin-bottom: 10px;
  font-size: 13.5px;
}
tr {
  border-top: 1px solid var(--line);
}
th,
td {
  padding: 5px 12px 5px 0;
  text-align: left;
}
.end {
  text-align: right;
}
form {
  display: flex;
  gap: 12px;
  align-items: end;
  flex-wrap: wrap;
}
:deep(.short) {
  width: 90px;
}
</style>
