<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import type { LoopReport, ShotLoop } from '../../../../core/base/schemas/types.ts';
import { USUAL_FADE, USUAL_SOFT } from '../../../../core/picture/loop/shot-loop.ts';
import { call } from '../../api/client.ts';
import { resultUrl } from '../../api/urls.ts';
import AppCheck from '../../components/AppCheck.vue';
import AppSelect from '../../components/AppSelect.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import LoopAlignment from './LoopAlignment.vue';
import { rideOn } from '../front/ride-on.ts';
import { changeLoop, middleLine } from './loop-edits.ts';
import { useDocument } from '../../stores/document.ts';
import { isOpen, useJobs } from '../../stores/jobs.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useSaving } from '../../stores/saving.ts';
import { useShot } from '../../stores/shot.ts';
import { useWorkspace, type Tool } from '../../stores/workspace.ts';
import { jobWords } from '../../stores/job-words.ts';

/** The end of the shot over its beginning, so that it plays round and round; or two takes of it, divided. */
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const head = usePlayhead();
const workspace = useWorkspace();
const jobs = useJobs();
const notices = useNotices();
const loop = computed<ShotLoop>(() => doc.document!.loop ?? {});
const open = ref(doc.document!.loop !== undefined);
const change = (recipe: (loop: ShotLoop) => void) => doc.edit((draft) => changeLoop(draft, recipe));
const OF = ['finished', 'plate'] as const;
const SPLITS = ['none', 'line', 'shape'] as const;
const split = computed(() => (loop.value.split?.shape ? 'shape' : loop.value.split?.line ? 'line' : 'none'));
/** Other takes: clips of the plate's size. */
const takes = computed(() => {
  const facts = shot.plate?.facts;
  return shot.media.filter(
    (m) =>
      m.kind !== 'still' &&
      m.id !== shot.plate?.id &&
      m.state === 'ready' &&
      m.facts &&
      m.facts.width === facts?.width &&
      m.facts.height === facts.height,
  );
});
const own = computed(() =>
  [...jobs.jobs.values()]
    .filter((job) => job.kind === 'loop' && job.shotId === shot.shot?.id)
    .sort((a, b) => b.id - a.id)
    .slice(0, 3),
);
const busy = computed(() => own.value.some(isOpen));
const reports = ref<Record<number, LoopReport>>({});
const played = ref<number | null>(null);
const WORDS = jobWords('joining');
watch(
  own,
  (list) => {
    for (const job of list)
      if (job.state === 'done' && !reports.value[job.id])
        void notices.guard(async () => {
          reports.value[job.id] = await call('GET', `/jobs/${job.id}/loop`, 'loopReport');
        });
  },
  { immediate: true },
);
const make = () =>
  notices.guard(async () => {
    if (shot.shot && (await saving.saved()))
      jobs.take(await call('POST', `/shots/${shot.shot.id}/loop`, 'apiJob', { output: 'mp4' }));
  });
const take = (tool: Tool) => (workspace.tool = workspace.tool === tool ? 'look' : tool);
function setSplit(kind: (typeof SPLITS)[number]): void {
  if (kind === 'shape') return void take('draw-split');
  change((l) => {
    if (kind === 'none') {
      delete l.split;
      delete l.second;
    } else
      l.split = {
        line: { points: middleLine(shot.plate!.facts!.width, shot.plate!.facts!.height) },
        home: shot.range[0],
      };
  });
}
function setLight(on: boolean): void {
  change((l) => {
    if (on) delete l.light;
    else l.light = false;
  });
}
function setTake(mediaId: number): void {
  change((l) => {
    if (mediaId === 0) delete l.second;
    else {
      l.second = { mediaId, ...(l.second?.offset ? { offset: l.second.offset } : {}) };
      l.of = 'plate';
      l.split ??= {
        line: { points: middleLine(shot.plate!.facts!.width, shot.plate!.facts!.height) },
        home: shot.range[0],
      };
    }
  });
}
const left = (id: number) => {
  const jump = reports.value[id]?.jump;
  return jump
    ? `${jump.px === null ? 'not known' : `${jump.px.toFixed(2)} px`}, ${jump.levels.toFixed(2)} of 255`
    : 'none';
};
</script>

<template>
  <section class="section" data-loop>
    <header>
      <h2>Loop and split</h2>
      <button class="use-button" type="button" @click="open = !open">{{ open ? 'fold' : 'show' }}</button>
    </header>
    <p v-if="!open" class="quiet m-0">
      For a shot that is to play round and round: its end goes over into its beginning. Or for two takes of it, divided
      by a soft line.
    </p>
    <template v-else>
      <div class="row-line">
        <span>Join</span
        ><ChoiceRow
          label="What is joined"
          :options="OF"
          :value="loop.of ?? 'finished'"
          @choose="(of) => change((l) => (l.of = of))"
        />
      </div>
      <label class="row-line"
        ><span>With</span
        ><AppSelect
          label="With"
          :value="loop.second?.mediaId ?? 0"
          :options="[
            { value: 0, text: 'its own beginning' },
            ...takes.map(({ id: value, name: text }) => ({ value, text })),
          ]"
          @choose="setTake"
      /></label>
      <NumberField
        v-if="loop.second"
        label="It is ahead by"
        unit="frames"
        :value="loop.second.offset ?? 0"
        :min="-1000000"
        :max="1000000"
        :step="1"
        :digits="0"
        @commit="(v) => change((l) => (l.second!.offset = Math.round(v)))"
      />
      <NumberField
        v-else
        label="Goes over in"
        unit="frames"
        :value="loop.fade ?? USUAL_FADE"
        :min="0"
        :max="1000"
        :step="1"
        :digits="0"
        @commit="(v) => change((l) => (l.fade = Math.round(v)))"
      />
      <div class="row-line mt-1">
        <span>Divided</span
        ><ChoiceRow
          label="Divided by"
          :options="SPLITS"
          :value="workspace.tool === 'draw-split' ? 'shape' : split"
          @choose="setSplit"
        />
      </div>
      <template v-if="split === 'line'">
        <p class="quiet m-0">
          To the right of the line, seen along its arrow, the other picture comes first. Its ends are dragged; on
          another frame that makes a key.
        </p>
        <NumberField
          label="Soft over"
          unit="px"
          :value="loop.split!.soft ?? USUAL_SOFT"
          :min="0"
          :max="10000"
          :step="5"
          :digits="0"
          @commit="(v) => change((l) => (l.split!.soft = v))"
        />
      </template>
      <div v-else-if="split === 'shape'" class="row-line">
        <span class="quiet">Inside of it the other picture comes first.</span
        ><ChoiceRow
          label="The shape moves with"
          :options="['surface', 'plate']"
          :value="loop.split!.shape!.rides ?? 'surface'"
          @choose="(value) => rideOn('split', 0, value, head.frame)"
        />
      </div>
      <LoopAlignment />
      <AppCheck :model-value="loop.light !== false" @update:model-value="setLight">Match their light</AppCheck>
      <BButton variant="outline-secondary" class="w-100" :disabled="!!shot.running || busy" data-make-loop @click="make"
        ><i class="bi bi-arrow-repeat" />
        {{ busy ? 'Joining …' : loop.second ? 'Join the two takes' : 'Make the loop' }}</BButton
      >
      <div v-for="job in own" :key="job.id" :data-loop-made="job.state">
        <div class="row-line">
          <span
            >{{ reports[job.id]?.length ? `${reports[job.id]!.length} frames` : ''
            }}<span class="quiet">
              {{
                job.state === 'running' ? `${job.done} of ${job.total}` : job.state === 'done' ? '' : WORDS[job.state]
              }}</span
            ></span
          >
          <span v-if="job.state === 'done'" class="buttons"
            ><button class="btn btn-sm btn-outline-secondary" type="button" data-play-loop @click="played = job.id">
              <i class="bi bi-play-fill" /> Play</button
            ><a class="btn btn-sm btn-outline-secondary" :href="resultUrl(job.id)" download aria-label="Fetch the film"
              ><i class="bi bi-download" /></a
          ></span>
        </div>
        <p v-if="reports[job.id]" class="quiet m-0" data-jump>Left at the join: {{ left(job.id) }}</p>
        <p v-if="job.problem" class="notice m-0">{{ job.problem }}</p>
      </div>
    </template>
    <BModal :model-value="played !== null" title="Round and round" size="xl" no-footer @hide="played = null">
      <video
        v-if="played !== null"
        :src="resultUrl(played)"
        loop
        autoplay
        muted
        playsinline
        controls
        data-loop-player
      />
    </BModal>
  </section>
</template>

<style scoped>
select {
  max-width: 170px;
}
.buttons {
  display: flex;
  gap: 4px;
}
video {
  display: block;
  width: 100%;
  background: var(--surround);
}
</style>
