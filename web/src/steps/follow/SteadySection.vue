<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue';
import type { Shot, SteadyPicture } from '../../../../core/base/schemas/types.ts';
import { STEADY_PARTS } from '../../../../core/motion/steady/steady-maps.ts';
import { call } from '../../api/client.ts';
import { resultUrl } from '../../api/urls.ts';
import AppSelect from '../../components/AppSelect.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { useDocument } from '../../stores/document.ts';
import { useJobs } from '../../stores/jobs.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSaving } from '../../stores/saving.ts';
import { useShot } from '../../stores/shot.ts';
import { useTrack } from '../../stores/track.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { jobWords } from '../../stores/job-words.ts';

/** What of the motion is taken out of the picture where it is looked at steadied, and whether it is followed like that. */
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const track = useTrack();
const workspace = useWorkspace();
const jobs = useJobs();
const notices = useNotices();
const steady = computed<SteadyPicture>(() => doc.document!.steady ?? { remove: [...STEADY_PARTS] });
const others = ref<Shot[]>([]);
const open = ref(doc.document!.steady !== undefined);
onMounted(
  () =>
    void notices.guard(async () => {
      if (shot.shot) others.value = await call('GET', `/shots/${shot.shot.id}/ridable`, 'shots');
    }),
);
function change(recipe: (steady: SteadyPicture) => void): void {
  doc.edit((draft) => {
    const next = { ...steady.value, remove: [...steady.value.remove] };
    recipe(next);
    draft.steady = next;
  });
}
const toggle = (part: (typeof STEADY_PARTS)[number]) =>
  change((s) => (s.remove = STEADY_PARTS.filter((p) => (p === part) !== s.remove.includes(p))));
const by = computed({
  get: () => (steady.value.follow ? (steady.value.by ?? 0) : 0),
  set: (id) =>
    change((s) => {
      delete s.by;
      delete s.follow;
      if (id !== 0) Object.assign(s, { by: id, follow: true });
    }),
});
/** The clip as it would be delivered. */
const OUTPUTS = ['mp4', 'png'] as const;
const OUTSIDES = ['fill', 'crop', 'transparent'] as const;
const output = ref<(typeof OUTPUTS)[number]>('mp4');
const outside = ref<(typeof OUTSIDES)[number]>('fill');
watch(outside, (now) => now === 'transparent' && (output.value = 'png'));
watch(output, (now) => now === 'mp4' && outside.value === 'transparent' && (outside.value = 'fill'));
const clips = computed(() =>
  [...jobs.jobs.values()]
    .filter((j) => j.kind === 'steady' && j.shotId === shot.shot?.id)
    .sort((a, b) => b.id - a.id)
    .slice(0, 3),
);
const write = () =>
  notices.guard(async () => {
    if (shot.shot && (await saving.saved()))
      jobs.take(
        await call('POST', `/shots/${shot.shot.id}/steady`, 'apiJob', { output: output.value, outside: outside.value }),
      );
  });
const WORDS = jobWords('being written');
const span = (frames: readonly number[] | null | undefined) =>
  (frames ?? []).map((f) => f + shot.firstNumber).join('–');
</script>

<template>
  <section class="section">
    <header>
      <h2>Steady</h2>
      <button class="use-button" type="button" @click="open = !open">{{ open ? 'fold' : 'show' }}</button>
    </header>
    <BFormCheckbox v-model="workspace.steadied" switch data-steady
      >Look at the picture steadied <kbd>G</kbd></BFormCheckbox
    >
    <template v-if="open">
      <div class="choice mt-2" role="group" aria-label="What is taken out">
        <button
          v-for="part in STEADY_PARTS"
          :key="part"
          type="button"
          :aria-pressed="steady.remove.includes(part)"
          @click="toggle(part)"
        >
          {{ part }}
        </button>
      </div>
      <NumberField
        label="Leave slower than"
        unit="frames"
        :value="steady.smooth ?? 0"
        :min="0"
        :max="1000"
        :digits="1"
        @commit="
          (v) =>
            change((s) => {
              if (v > 0) s.smooth = v;
              else delete s.smooth;
            })
        "
      />
      <label class="row-line"
        ><span>Follow on</span
        ><AppSelect
          label="Follow on"
          :value="by"
          :options="[
            { value: 0, text: 'the plate' },
            ...others.map(({ id, name }) => ({ value: id, text: `steadied by ${name}` })),
          ]"
          @choose="by = $event"
      /></label>
      <div class="row-line mt-2">
        <span>Beyond the plate</span
        ><ChoiceRow label="Beyond the plate" :options="OUTSIDES" :value="outside" @choose="outside = $event" />
      </div>
      <div class="row-line mt-1">
        <span>As</span
        ><ChoiceRow label="Steadied clip as" :options="OUTPUTS" :value="output" @choose="output = $event" />
      </div>
      <BButton
        variant="outline-secondary"
        class="w-100 mt-1"
        :disabled="!!shot.running || track.rows.length === 0"
        title="Each frame sampled once, with how it was moved beside it"
        data-write-steady
        @click="write"
        ><i class="bi bi-film" /> Write the steadied clip</BButton
      >
      <div v-for="job in clips" :key="job.id" class="row-line" :data-steadied-clip="job.state">
        <span
          >{{ span(job.frames)
          }}<span class="quiet">
            · {{ job.state === 'running' ? `${job.done} of ${job.total}` : WORDS[job.state] }}</span
          ></span
        >
        <a v-if="job.state === 'done'" class="btn btn-sm btn-outline-secondary" :href="resultUrl(job.id)" download
          ><i class="bi bi-download" /> zip</a
        >
      </div>
    </template>
  </section>
</template>

<style scoped>
select {
  max-width: 170px;
}
kbd {
  margin-left: 4px;
}
</style>
