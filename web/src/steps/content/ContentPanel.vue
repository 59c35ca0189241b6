<script setup lang="ts">
import { computed } from 'vue';
import type { Media } from '../../../../core/base/schemas/types.ts';
import DropArea from '../../components/DropArea.vue';
import { frameUrl } from '../../api/urls.ts';
import type { Gathered } from '../../media/gather-files.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import BoardSection from './BoardSection.vue';
import BendSection from './BendSection.vue';
import OtherSurfaces from './OtherSurfaces.vue';
import PlaceSection from './PlaceSection.vue';
import TimeSection from './TimeSection.vue';
import { useUploads } from '../../stores/uploads.ts';

/** What is shown on it? A picture or clip, and how it meets the screen's shape. */
const shot = useShot();
const doc = useDocument();
const uploads = useUploads();
const document = computed(() => doc.document!);
const choices = computed(() => shot.media.filter((m) => m.id !== shot.shot?.plate?.id));

function choose(medium: Media): void {
  doc.edit((draft) => {
    draft.contentId = medium.id;
  });
}
async function take(files: Gathered[]): Promise<void> {
  await Promise.all(
    files.map(async (file, i) => {
      const sent = await uploads.send(file.name, file.blob);
      if (sent && i === 0) choose(sent);
    }),
  );
}
const about = (m: Media) =>
  m.state === 'failed'
    ? 'cannot be read'
    : m.facts
      ? `${m.facts.width}×${m.facts.height}${m.facts.frames > 1 ? `, ${m.facts.frames} f` : ''}`
      : 'coming in';
</script>

<template>
  <section class="section">
    <header><h2>On the screen</h2></header>
    <div class="shelf" role="radiogroup" aria-label="Content">
      <button
        v-for="m in choices"
        :key="m.id"
        class="choice-card"
        type="button"
        role="radio"
        :aria-checked="m.id === document.contentId"
        :disabled="m.state === 'failed'"
        @click="choose(m)"
      >
        <img v-if="m.state === 'ready'" :src="frameUrl(m, 0, 'jpg')" alt="" /><span v-else class="blank" />
        <span class="words"><b>{{ m.name }}</b><span class="quiet d-block">{{ about(m) }}</span></span>
      </button>
    </div>
    <DropArea says="Drop a picture or clip here." accept="video/*,image/*,.mkv,.zip" @files="take" />
  </section>
  <BoardSection />
  <template v-if="document.contentId !== null || document.look.board">
    <PlaceSection />
    <TimeSection
      v-if="!document.look.board && shot.content?.facts && shot.plate?.facts && shot.content.facts.frames > 1"
    />
    <BendSection v-if="document.corners" />
    <OtherSurfaces v-if="shot.plate" />
  </template>
  <section v-if="document.contentId !== null || document.look.board" class="section">
    <RouterLink class="btn btn-primary w-100" :to="`/shots/${shot.shot!.id}/front`"
      >On to Front <i class="bi bi-arrow-right"
    /></RouterLink>
  </section>
</template>

<style scoped>
.shelf {
  display: grid;
  gap: 6px;
  margin-bottom: 10px;
  max-height: 268px;
  overflow-y: auto;
  padding-right: 3px;
}
.choice-card {
  display: flex;
  align-items: center;
  gap: 10px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--white);
  color: var(--ink);
  padding: 5px;
  text-align: left;
}
.choice-card[aria-checked='true'] {
  border-color: var(--accent);
  box-shadow: inset 3px 0 0 var(--accent);
}
img,
.blank {
  width: 84px;
  height: 52px;
  object-fit: contain;
  background: var(--paper-sunk);
  flex: none;
}
.words {
  overflow: hidden;
}
.words b {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
