<script setup lang="ts">
import { useEventListener, useTitle } from '@vueuse/core';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import IconButton from '../components/IconButton.vue';
import JobBar from '../components/JobBar.vue';
import RevisionSheet from '../components/RevisionSheet.vue';
import SaveState from '../components/SaveState.vue';
import ShortcutSheet from '../components/ShortcutSheet.vue';
import FrameLedger from '../ledger/FrameLedger.vue';
import { useWorkspaceKeys } from './workspace-keys.ts';
import StepRail from '../rail/StepRail.vue';
import type { StepName } from '../rail/steps.ts';
import EdgeSlices from '../slices/EdgeSlices.vue';
import BlendPanel from '../steps/blend/BlendPanel.vue';
import ContentPanel from '../steps/content/ContentPanel.vue';
import FollowPanel from '../steps/follow/FollowPanel.vue';
import FrontPanel from '../steps/front/FrontPanel.vue';
import '../steps/overlays.ts';
import PlatePanel from '../steps/plate/PlatePanel.vue';
import SeatPanel from '../steps/seat/SeatPanel.vue';
import SendPanel from '../steps/send/SendPanel.vue';
import { useDocument } from '../stores/document.ts';
import { useJobs } from '../stores/jobs.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useSaving } from '../stores/saving.ts';
import { useSeat } from '../stores/seat.ts';
import { useShot } from '../stores/shot.ts';
import { useWorkspace } from '../stores/workspace.ts';
import PlateViewer from '../viewer/PlateViewer.vue';
import PointMagnifiers from '../viewer/PointMagnifiers.vue';
import ScopeCharts from '../viewer/ScopeCharts.vue';
import ViewerBar from '../viewer/ViewerBar.vue';

/** The bench: one shot, its steps, the picture, one column, the ledger. */
const PANELS = {
  plate: PlatePanel,
  follow: FollowPanel,
  seat: SeatPanel,
  content: ContentPanel,
  front: FrontPanel,
  blend: BlendPanel,
  send: SendPanel,
} as const;
const route = useRoute();
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const placed = usePlacedCorners();
const jobs = useJobs();
const head = usePlayhead();
const workspace = useWorkspace();
const failed = ref('');
const sheet = ref(false);
const revisions = ref(false);
const panel = computed(() => PANELS[workspace.step]);
const working = computed(() =>
  jobs.open.filter(
    (job) => job.projectId === shot.project?.id && (job.shotId === null || job.shotId === shot.shot?.id),
  ),
);

watch(
  () => route.params.id,
  async (id) => {
    if (id === undefined) return;
    failed.value = '';
    try {
      await shot.open(Number(id), () => {
        const { document } = doc;
        head.goTo(document && (document.regions.length > 0 || document.corners) ? document.referenceFrame : 0);
      });
    } catch (error) {
      failed.value = (error as Error).message;
    }
  },
  { immediate: true },
);
watch(
  () => route.params.step,
  (step) => step !== undefined && workspace.enter(step as StepName),
  { immediate: true },
);
watch(
  () => workspace.withoutFixes && workspace.step === 'seat',
  (plain) => (placed.plainSeat = plain),
);
useSeat();
useTitle(computed(() => (shot.shot ? `${shot.shot.name} · Yarlop` : 'Yarlop')));
useEventListener(window, 'pagehide', () => saving.flush());
useWorkspaceKeys(() => (sheet.value = true));
onBeforeUnmount(() => {
  head.playing = false;
  shot.close();
});
</script>

<template>
  <div class="bench">
    <header class="top-bar">
      <RouterLink class="word" to="/">Yarlop</RouterLink>
      <span class="trail"
        ><RouterLink v-if="shot.project" :to="`/projects/${shot.project.id}`">{{ shot.project.name }}</RouterLink> /
        <b>{{ shot.shot?.name }}</b></span
      >
      <span class="spacer" />
      <JobBar v-for="job in working.slice(0, 2)" :key="job.id" :job="job" />
      <span class="tools">
        <IconButton
          icon="arrow-counterclockwise"
          label="Undo"
          title="Undo (Ctrl Z)"
          :disabled="!doc.undoable.undo"
          @click="doc.undo()"
        />
        <IconButton
          icon="arrow-clockwise"
          label="Redo"
          title="Redo (Ctrl Shift Z)"
          :disabled="!doc.undoable.redo"
          @click="doc.redo()"
        />
      </span>
      <SaveState />
      <span class="tools">
        <IconButton icon="clock-history" label="Revisions" title="Revisions" @click="revisions = true" />
        <IconButton
          :icon="workspace.dim ? 'sun' : 'moon'"
          label="Daylight or dim"
          :title="workspace.dim ? 'Daylight' : 'Dim, for dark rooms'"
          @click="workspace.setDim(!workspace.dim)"
        />
        <IconButton icon="question-circle" label="Keys" title="Keys (?)" @click="sheet = true" />
      </span>
    </header>
    <p v-if="failed" class="page" role="alert">{{ failed }} <RouterLink to="/">Go to the projects</RouterLink>.</p>
    <div v-else-if="shot.shot && doc.document" class="work">
      <StepRail />
      <main class="middle">
        <div class="looking">
          <PlateViewer
            ><div class="empty">
              <p>
                {{
                  shot.shot.plate?.state === 'cleared'
                    ? 'The frames of this plate were put away. Make them again on the right.'
                    : shot.shot.plate?.problemCode === 'sequence-gap'
                      ? 'Pictures are missing from the sequence. Say on the right what is to be done.'
                      : shot.shot.plate?.state === 'failed'
                        ? 'The plate could not be brought in; the reason stands on the right.'
                        : shot.shot.plate
                          ? 'The plate is coming in. It shows here as soon as it is unpacked.'
                          : 'Bring in the clip in which a screen is to be replaced: drop it on the right.'
                }}
              </p>
            </div></PlateViewer
          ><ScopeCharts v-if="workspace.step === 'blend' && workspace.showScopes" />
        </div>
        <ViewerBar />
        <PointMagnifiers
          v-if="workspace.step === 'follow' && workspace.followPage === 'points' && doc.document.cornerPoints?.length"
        />
        <EdgeSlices v-if="workspace.step === 'seat' && doc.document.corners" />
        <FrameLedger />
      </main>
      <aside class="column" :aria-label="workspace.step"><component :is="panel" /></aside>
    </div>
    <ShortcutSheet :shown="sheet" @close="sheet = false" />
    <RevisionSheet :shown="revisions" @close="revisions = false" />
  </div>
</template>

<style scoped>
.bench {
  height: 100%;
  display: flex;
  flex-direction: column;
  overflow: hidden;
}
.work {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) var(--column-width);
}
.looking {
  min-width: 0;
  min-height: 0;
  display: flex;
}
.middle {
  min-width: 0;
  display: grid;
  grid-template: minmax(0, 1fr) auto / minmax(0, 1fr);
  grid-auto-rows: auto;
}
.column {
  border-left: 1px solid var(--line);
  background: var(--paper);
  overflow-y: auto;
}
.tools {
  display: flex;
}
.empty {
  height: 100%;
  display: grid;
  place-items: center;
  color: var(--mark);
  padding: 40px;
  text-align: center;
}
.empty p {
  max-width: 380px;
}
</style>
