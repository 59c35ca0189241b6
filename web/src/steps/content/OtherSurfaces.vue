<script setup lang="ts">
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { Shot } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import AppCheck from '../../components/AppCheck.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { useDocument } from '../../stores/document.ts';
import { useNotices } from '../../stores/notices.ts';
import { useOtherSurfaces } from '../../stores/other-surfaces.ts';
import { useSaving } from '../../stores/saving.ts';
import { useShot } from '../../stores/shot.ts';

/** Other screens in the same plate: shots of their own, finished together with this one. */
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const surfaces = useOtherSurfaces();
const notices = useNotices();
const router = useRouter();
const making = ref(false);
const rows = computed(() =>
  surfaces.all.map((other) => ({ other, told: doc.document!.others?.find((o) => o.shot === other.id) ?? null })),
);
const PLACES = ['behind', 'nearer'] as const;

function change(id: number, told: { nearer: boolean; border?: number } | null): void {
  doc.edit((draft) => {
    const at = (draft.others ?? []).findIndex((o) => o.shot === id);
    const list = [...(draft.others ?? [])];
    if (told && at >= 0) list[at] = { shot: id, ...told };
    else if (told) list.push({ shot: id, ...told });
    else list.splice(at, 1);
    if (list.length > 0) draft.others = list;
    else delete draft.others;
  });
}
async function add(): Promise<void> {
  making.value = true;
  await notices.guard(async () => {
    if (!(await saving.saved())) return;
    const made = await call('POST', `/projects/${shot.project!.id}/shots`, 'shot', {
      name: `${shot.shot!.name}, another screen`,
    });
    await call('PUT', `/shots/${made.id}/plate`, 'shot', { mediaId: shot.plate!.id });
    change(made.id, { nearer: true });
    await saving.saved();
    await router.push(`/shots/${made.id}/follow`);
  });
  making.value = false;
}
const about = (other: Shot) =>
  surfaces.loaded.find((o) => o.shot === other.id)?.corners.size === 0 ? 'not followed yet' : '';
</script>

<template>
  <section class="section" data-other-surfaces>
    <header><h2>Other screens in this plate</h2></header>
    <div v-for="{ other, told } in rows" :key="other.id" class="other" :data-other="other.id">
      <div class="tick">
        <AppCheck
          class="flex-fill"
          :model-value="told !== null"
          :aria-label="`Finish ${other.name} with this shot`"
          @update:model-value="(on) => change(other.id, on ? { nearer: true } : null)"
          ><b>{{ other.name }}</b> <span class="quiet">{{ told ? about(other) : 'by itself' }}</span></AppCheck
        ><RouterLink class="use-button" :to="`/shots/${other.id}/content`">open</RouterLink>
      </div>
      <template v-if="told">
        <ChoiceRow
          label="Where it lies"
          :options="PLACES"
          :value="told.nearer ? 'nearer' : 'behind'"
          @choose="(v) => change(other.id, { ...told!, nearer: v === 'nearer' })"
        />
        <NumberField
          label="Border of the nearer device"
          unit="px"
          :value="told.border ?? 0"
          :min="0"
          :max="2000"
          :step="1"
          :digits="1"
          @commit="(v) => change(other.id, { nearer: told!.nearer, border: v })"
        />
      </template>
    </div>
    <button
      class="btn btn-sm btn-outline-secondary w-100"
      type="button"
      :disabled="making || !shot.plate"
      data-add-surface
      @click="add"
    >
      <i class="bi bi-plus-square" /> Another screen
    </button>
  </section>
</template>

<style scoped>
.other {
  border-bottom: 1px solid var(--line);
  padding-bottom: 8px;
  margin-bottom: 8px;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
}
</style>
