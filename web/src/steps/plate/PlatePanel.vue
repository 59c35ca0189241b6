<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import DropArea from '../../components/DropArea.vue';
import type { Gathered } from '../../media/gather-files.ts';
import { useNotices } from '../../stores/notices.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { useTrack } from '../../stores/track.ts';
import { useUploads } from '../../stores/uploads.ts';
import CheckFindings from './CheckFindings.vue';
import GapChoice from './GapChoice.vue';
import LensSection from './LensSection.vue';
import PlateCorrections from './PlateCorrections.vue';
import PlateFactList from './PlateFactList.vue';
import PlateStorage from './PlateStorage.vue';
import RangeFields from './RangeFields.vue';
import ReplacePlate from './ReplacePlate.vue';
import ServerFiles from './ServerFiles.vue';

/** What have we got? Bring a clip in, see what it says about itself, put right what it says wrongly, see what will be hard. */
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const notices = useNotices();
const uploads = useUploads();
const medium = computed(() => shot.shot?.plate ?? null);
const facts = computed(() => (medium.value?.state === 'ready' ? medium.value.facts : null));
const clips = computed(() =>
  shot.media.filter((m) => m.kind !== 'still' && m.id !== medium.value?.id && m.state === 'ready'),
);
const replacing = ref<number | null>(null);
onMounted(() => {
  void uploads.loadLimits();
  if (shot.project) void uploads.resumeKept(shot.project.id);
});

async function take(files: Gathered[]): Promise<void> {
  const first = medium.value === null;
  await Promise.all(files.map((file, i) => uploads.send(file.name, file.blob, first && i === 0)));
}
async function choose(id: number): Promise<void> {
  const document = doc.document;
  const worked =
    document !== null && (document.regions.length > 0 || document.corners !== null || track.rows.length > 0);
  if (medium.value && worked) replacing.value = id;
  else await notices.guard(() => shot.choosePlate(id));
}
</script>

<template>
  <section v-if="medium" class="section">
    <header>
      <h2>{{ medium.name }}</h2>
    </header>
    <GapChoice v-if="medium.problemCode === 'sequence-gap'" :medium="medium" />
    <p v-else-if="medium.state === 'failed'" class="notice" role="alert">{{ medium.problem }}</p>
    <p v-else-if="medium.state === 'waiting'" class="quiet mb-0">
      Coming in: frames are being unpacked so that any of them is at hand.
    </p>
    <PlateFactList v-if="medium.facts && medium.state !== 'waiting'" :facts="medium.facts" :lut="medium.lut" />
    <PlateStorage v-if="medium.state === 'ready' || medium.state === 'cleared'" :medium="medium" />
  </section>
  <template v-if="medium && facts">
    <CheckFindings />
    <RangeFields />
    <LensSection />
    <PlateCorrections :key="`${medium.id} ${medium.view}`" :medium="medium" />
  </template>
  <ReplacePlate v-if="replacing !== null" :media-id="replacing" @close="replacing = null" />
  <section class="section">
    <header>
      <h2>{{ medium ? 'Another plate' : 'Bring in a plate' }}</h2>
    </header>
    <DropArea
      says="Drop a clip (MP4, MOV, MKV, WebM, MXF) here, or a folder or zip of numbered PNG, JPEG, TIFF or EXR pictures."
      accept="video/*,.mkv,.mxf,.zip,.exr,.tif,.tiff,image/png,image/jpeg"
      folder
      @files="take"
    />
    <ServerFiles v-if="uploads.limits?.serverFolder" @taken="(id) => medium === null && choose(id)" />
    <template v-if="clips.length > 0">
      <p class="quiet mt-3 mb-1">
        {{ medium ? 'In this project; another version takes over the work done:' : 'Or one that is in this project:' }}
      </p>
      <div class="rows">
        <button
          v-for="clip in clips"
          :key="clip.id"
          class="pick"
          type="button"
          :data-pick="clip.name"
          @click="choose(clip.id)"
        >
          <span>{{ clip.name }}</span><span class="quiet">{{ clip.facts ? `${clip.facts.frames} f` : '' }}</span>
        </button>
      </div>
    </template>
  </section>
  <section v-if="facts" class="section">
    <RouterLink class="btn btn-primary w-100" :to="`/shots/${shot.shot!.id}/follow`"
      >On to Follow <i class="bi bi-arrow-right"
    /></RouterLink>
  </section>
</template>

<style scoped>
h2 {
  overflow-wrap: anywhere;
}
.pick {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--white);
  color: var(--ink);
  padding: 5px 9px;
  text-align: left;
  overflow-wrap: anywhere;
}
.pick:hover {
  border-color: var(--ink-soft);
}
</style>
