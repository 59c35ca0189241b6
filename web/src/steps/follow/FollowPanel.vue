<script setup lang="ts">
import { computed, watch } from 'vue';
import { MOTIONS } from '../../../../core/base/geometry/motion-model.ts';
import ChoiceRow from '../../components/ChoiceRow.vue';
import { DOUBTFUL_BELOW } from '../../rail/readings.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useJobs } from '../../stores/jobs.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { useSaving } from '../../stores/saving.ts';
import { useTrack } from '../../stores/track.ts';
import { takeReference } from '../take-reference.ts';
import PageTabs from '../../components/PageTabs.vue';
import KeysPage from './keys/KeysPage.vue';
import PointsPage from './points/PointsPage.vue';
import ScenePage from './scene/ScenePage.vue';
import SpansPage from './splice/SpansPage.vue';
import DisagreementSection from './DisagreementSection.vue';
import HoldSection from './HoldSection.vue';
import OutlineList from './OutlineList.vue';
import RideSection from './RideSection.vue';
import RunSection from './RunSection.vue';
import SteadySection from './SteadySection.vue';
import SamplingSection from './SamplingSection.vue';

/** How does it move? Where to look, how it may move, run, and what came of it on the frame on show. */
const PAGES = [
  { name: 'region', title: 'Plane', icon: 'bi-bounding-box' },
  { name: 'points', title: 'Points', icon: 'bi-crosshair' },
  { name: 'keys', title: 'Keys', icon: 'bi-hand-index' },
  { name: 'scene', title: 'Room', icon: 'bi-box' },
  { name: 'spans', title: 'Spans', icon: 'bi-bezier2' },
] as const;
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const track = useTrack();
const head = usePlayhead();
const workspace = useWorkspace();
const jobs = useJobs();
const document = computed(() => doc.document!);
const first = computed(() => shot.firstNumber);
const row = computed(() => track.byFrame.get(head.frame) ?? null);
const bound = computed(() => {
  const bounds = track.boundsAt(head.frame);
  return bounds && Math.max(...bounds);
});
const worst = computed(() => track.worstFrame());
const rides = computed(() => document.value.rides !== undefined);
const onReference = computed(() => head.frame === document.value.referenceFrame);
const outdated = computed(() => track.rows.some((r) => r.runKey !== saving.runKey));
const held = computed(() => track.rows.filter((r) => r.homography).length);
const complete = computed(() => held.value >= shot.frames && shot.frames > 0 && !outdated.value);
// The outline is seen to ride: the picture goes along with the run, and back to the reference when all is done.
watch(
  () => track.newestFrame,
  (frame) => frame !== null && shot.running?.kind === 'follow' && head.ride(frame),
);
watch(
  () => shot.running,
  (now, before) => {
    if (!now && before?.kind === 'follow' && jobs.jobs.get(before.id)?.state === 'done')
      head.ride(document.value.referenceFrame);
  },
);

/** Following across a cut can only go wrong: it is said before anybody tries. */
const cuts = computed(() =>
  (shot.check?.findings ?? [])
    .filter((f) => f.kind === 'cut' && f.frames[0] > shot.range[0] && f.frames[0] <= shot.range[1])
    .map((f) => f.frames[0] + shot.firstNumber),
);
const flash = computed(() => shot.check?.rows[document.value.referenceFrame]?.flash ?? false);
const setReference = () => takeReference(head.frame);
</script>

<template>
  <PageTabs
    v-if="!rides"
    label="Follow"
    :pages="PAGES"
    :value="workspace.followPage"
    @choose="(page) => (workspace.followPage = page)"
  />
  <PointsPage v-if="!rides && workspace.followPage === 'points'" />
  <KeysPage v-else-if="!rides && workspace.followPage === 'keys'" />
  <ScenePage v-else-if="!rides && workspace.followPage === 'scene'" />
  <SpansPage v-else-if="!rides && workspace.followPage === 'spans'" />
  <template v-else>
    <RideSection />
    <section v-if="!rides" class="section">
      <header>
        <h2>Where to look</h2>
        <span class="quiet">on frame {{ document.referenceFrame + first }} (reference)</span>
      </header>
      <p v-if="document.regions.length === 0" class="quiet">
        Draw roughly around something that moves with the screen: the whole device with a small margin is a good start.
        Fingers get a keep-out.
      </p>
      <p v-if="cuts.length > 0" class="notice" role="alert" data-cut>
        There is a cut at {{ cuts.join(', ') }}. Set in and out on Plate so that the shot lies on one side of it, and
        make a second shot for the other.
      </p>
      <p v-if="flash" class="notice" role="alert" data-flash>
        The reference lies in a flash. Choose a frame in ordinary light, or the others will not resemble it.
      </p>
      <OutlineList />
      <div class="d-flex gap-2 mt-2">
        <BButton
          :variant="document.regions.length === 0 ? 'primary' : 'outline-secondary'"
          class="flex-fill"
          :disabled="!shot.plate"
          @click="workspace.tool = 'draw-region'"
          ><i class="bi bi-plus-lg" /> Region</BButton
        >
        <BButton
          variant="outline-secondary"
          class="flex-fill"
          :disabled="!shot.plate"
          @click="workspace.tool = 'draw-keep-out'"
          ><i class="bi bi-plus-lg" /> Keep out</BButton
        >
      </div>
      <div class="row-line mt-2">
        <span>Reference frame</span>
        <span class="d-flex align-items-center gap-2"
          ><b>{{ document.referenceFrame + first }}</b
          ><button v-if="!onReference" class="use-button" type="button" @click="setReference">
            use frame {{ head.frame + first }}
          </button></span
        >
      </div>
    </section>
    <section v-if="!rides" class="section">
      <header><h2>How it may move</h2></header>
      <ChoiceRow
        label="Motion"
        :options="MOTIONS"
        :value="document.motion"
        @choose="
          (motion) =>
            doc.edit((draft) => {
              draft.motion = motion;
            })
        "
      />
    </section>
    <SteadySection v-if="!rides" />
    <RunSection v-if="!rides" :complete="complete" :held="held" />
    <SamplingSection v-if="!rides && document.regions.length > 0" />
    <p v-if="outdated && !shot.running" class="section notice mb-0">
      The reference or the plate was changed after this track was made. Run again.
    </p>
    <HoldSection v-if="!rides" />
    <DisagreementSection v-if="!rides && track.rows.length > 0" />
    <section class="section">
      <header>
        <h2>Reading</h2>
        <span class="d-flex gap-2 align-items-center"
          ><button
            v-if="worst !== null && worst !== head.frame"
            class="use-button"
            type="button"
            title="The frame that most wants a look (W)"
            @click="head.goTo(worst)"
          >
            worst {{ worst + first }}</button
          ><span class="quiet">frame {{ head.frame + first }}</span></span
        >
      </header>
      <p v-if="!row" class="quiet mb-0">Not followed yet.</p>
      <p v-else-if="!row.homography" class="notice mb-0">Lost: {{ row.lost }}.</p>
      <template v-else>
        <div class="row-line">
          <span>Residual</span><span class="figure" data-residual>{{ (row.error ?? 0).toFixed(2) }} px</span>
        </div>
        <div v-if="bound !== null" class="row-line">
          <span>Within (95 %)</span><span class="figure" data-bound>± {{ bound.toFixed(2) }} px</span>
        </div>
        <div class="row-line"><span>Certainty</span><span class="figure">{{ row.confidence.toFixed(2) }}</span></div>
        <div class="row-line"><span>Blur in plate</span><span class="figure">{{ row.blur.toFixed(1) }} px</span></div>
        <p v-if="row.note" class="notice mt-2 mb-0" data-note>{{ row.note[0]!.toUpperCase() + row.note.slice(1) }}.</p>
        <p v-if="row.confidence < DOUBTFUL_BELOW" class="notice mt-2 mb-0">
          Little agrees here. Look closely, or reshape the region and run again.
        </p>
      </template>
    </section>
  </template>
  <section v-if="complete" class="section">
    <RouterLink class="btn btn-primary w-100" :to="`/shots/${shot.shot!.id}/seat`"
      >On to Seat <i class="bi bi-arrow-right"
    /></RouterLink>
  </section>
</template>
