<script setup lang="ts">
import { computed, onMounted, shallowRef, watch } from 'vue';
import type { Shot } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import { useNotices } from '../../stores/notices.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { useTrack } from '../../stores/track.ts';

/** Whose motion moves this surface: its own regions', or that of another shot of the same plate. */
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const notices = useNotices();
const others = shallowRef<Shot[]>([]);
const rides = computed(() => doc.document!.rides ?? null);
const ridden = computed(() => others.value.find((s) => s.id === rides.value) ?? null);
const refresh = () =>
  notices.guard(async () => {
    others.value = shot.plate ? await call('GET', `/shots/${shot.shot!.id}/ridable`, 'shots') : [];
  });
onMounted(() => void refresh());
watch(
  () => shot.plate?.id,
  () => void refresh(),
);

function choose(value: string): void {
  void notices.guard(() => shot.ride(value === '' ? null : Number(value)));
}
</script>

<template>
  <section v-if="others.length > 0 || rides !== null" class="section" data-ride>
    <header><h2>What moves it</h2></header>
    <BFormSelect
      :model-value="rides ?? ''"
      size="sm"
      aria-label="What moves it"
      :disabled="!!shot.running"
      @update:model-value="(value) => choose(String(value ?? ''))"
    >
      <option value="">its own regions</option>
      <option v-for="other in others" :key="other.id" :value="other.id">the track of {{ other.name }}</option>
      <option v-if="rides !== null && !ridden" :value="rides">a shot that is not there any more</option>
    </BFormSelect>
    <template v-if="rides !== null">
      <p v-if="track.rows.length === 0" class="notice mt-2 mb-0">
        {{
          ridden
            ? `${ridden.name} has not been followed on frame ${doc.document!.referenceFrame + shot.firstNumber}, the reference of this shot.`
            : 'What it rode on is gone.'
        }}
        Follow there, or choose something else.
      </p>
      <p v-else class="quiet mt-2 mb-0">Goes wherever that track goes, also when it is done again.</p>
      <RouterLink v-if="ridden" class="use-button" :to="`/shots/${ridden.id}/follow`">to {{ ridden.name }}</RouterLink>
    </template>
  </section>
</template>
