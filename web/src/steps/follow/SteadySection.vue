<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { STEADY_PARTS } from '../../../../core/steady/steady-maps.ts';
import type { Shot, SteadyPicture } from '../../../../core/schemas/types.ts';
import { call } from '../../api/client.ts';
import NumberField from '../../components/NumberField.vue';
import { useBench } from '../../stores/bench.ts';
import { useNotices } from '../../stores/notices.ts';
import { useShot } from '../../stores/shot.ts';

/** What of the motion is taken out of the picture where it is looked at steadied, and whether it is followed like that. */
const shot = useShot(), bench = useBench(), notices = useNotices();
const steady = computed<SteadyPicture>(() => shot.document!.steady ?? { remove: [...STEADY_PARTS] });
const others = ref<Shot[]>([]), open = ref(shot.document!.steady !== undefined);
onMounted(() => void notices.guard(async () => {
  if (shot.shot) others.value = await call('GET', `/shots/${shot.shot.id}/ridable`, 'shots');
}));
function change(recipe: (steady: SteadyPicture) => void): void {
  shot.edit((draft) => {
    const next = { ...steady.value, remove: [...steady.value.remove] };
    recipe(next);
    draft.steady = next;
  });
}
const toggle = (part: (typeof STEADY_PARTS)[number]) => change((s) => (s.remove = STEADY_PARTS.filter((p) => (p === part) !== s.remove.includes(p))));
const by = computed({
  get: () => (steady.value.follow ? String(steady.value.by ?? '') : ''),
  set: (id) => change((s) => {
    delete s.by;
    delete s.follow;
    if (id !== '') Object.assign(s, { by: Number(id), follow: true });
  }),
});
</script>

<template>
  <section class="section">
    <header><h2>Steady</h2><button class="use-button" type="button" @click="open = !open">{{ open ? 'fold' : 'show' }}</button></header>
    <BFormCheckbox v-model="bench.steadied" switch data-steady>Look at the picture steadied <kbd>G</kbd></BFormCheckbox>
    <template v-if="open">
      <div class="choice mt-2" role="group" aria-label="What is taken out"><button v-for="part in STEADY_PARTS" :key="part" type="button" :aria-pressed="steady.remove.includes(part)" @click="toggle(part)">{{ part }}</button></div>
      <NumberField label="Leave what is slower than" unit="frames" :value="steady.smooth ?? 0" :min="0" :max="1000" :digits="1" @commit="(v) => change((s) => { if (v > 0) s.smooth = v; else delete s.smooth; })" />
      <label class="row-line"><span>Follow on</span><select v-model="by" aria-label="Follow on"><option value="">the plate</option><option v-for="other in others" :key="other.id" :value="String(other.id)">steadied by {{ other.name }}</option></select></label>
    </template>
  </section>
</template>

<style scoped>
select { border: 1px solid var(--line); border-radius: 3px; background: var(--white); color: var(--ink); font-size: 13px; padding: 2px 4px; max-width: 170px; }
kbd { margin-left: 4px; }
</style>
