<script setup lang="ts">
import { ref, watch } from 'vue';
import type { Revision } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { useNotices } from '../stores/notices.ts';
import { useShot } from '../stores/shot.ts';
import { useSaving } from '../stores/saving.ts';

/** Every saved revision of the shot; any of them can be put back as the newest. */
const props = defineProps<{ shown: boolean }>();
const emit = defineEmits<{ close: [] }>();
const shot = useShot();
const saving = useSaving();
const notices = useNotices();
const revisions = ref<Revision[]>([]);
watch(
  () => props.shown,
  (on) =>
    on &&
    notices.guard(async () => {
      await saving.saved();
      revisions.value = await call('GET', `/shots/${shot.shot!.id}/revisions`, 'revisions');
    }),
);
const restore = (revision: number) =>
  notices.guard(async () => {
    await shot.restore(revision);
    emit('close');
  });
const when = (iso: string) => new Date(iso).toLocaleString([], { dateStyle: 'medium', timeStyle: 'medium' });
</script>

<template>
  <BModal :model-value="shown" title="Revisions" no-footer scrollable @hide="$emit('close')">
    <p class="quiet">Each save is kept. Putting one back makes it the newest; nothing is lost.</p>
    <ol class="revisions">
      <li v-for="(r, i) in revisions" :key="r.revision">
        <span class="figure">{{ r.revision }}</span><span>{{ when(r.createdAt) }}</span>
        <span v-if="i === 0" class="quiet">the newest</span>
        <BButton
          v-else
          size="sm"
          variant="outline-secondary"
          :aria-label="`Put back revision ${r.revision}`"
          @click="restore(r.revision)"
          >Put back</BButton
        >
      </li>
    </ol>
  </BModal>
</template>

<style scoped>
.revisions {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  display: grid;
  grid-template-columns: 46px 1fr auto;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
  min-height: 40px;
}
</style>
