<script setup lang="ts">
import { useLocalStorage, useTitle } from '@vueuse/core';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { useRoute } from 'vue-router';
import type { GuestReview } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { reviewFrameUrl } from '../api/urls.ts';
import { dayWords } from '../components/day-words.ts';
import VersionStage from '../review/VersionStage.vue';
import { useNotices } from '../stores/notices.ts';

/** Looking at versions by a link: nothing to install, nothing else to be seen. */
const secret = String(useRoute().params.secret);
const path = `/guest/reviews/${encodeURIComponent(secret)}`;
const notices = useNotices();
const review = ref<GuestReview | null>(null);
const problem = ref('');
const author = useLocalStorage('yarlop.author', '');
const load = async () => (review.value = await call('GET', path, 'guestReview'));
onMounted(() => load().catch((error: Error) => (problem.value = error.message)));
useTitle(computed(() => review.value?.shot ?? 'Review'));
const again = setInterval(() => void (review.value && load().catch(() => {})), 5000);
onBeforeUnmount(() => clearInterval(again));
const take = (work: () => Promise<GuestReview>) => notices.guard(async () => (review.value = await work()));
</script>

<template>
  <div class="bench">
    <div class="top-bar">
      <span class="word">Yarlop</span><span v-if="review" class="trail"><b>{{ review.shot }}</b></span
      ><span class="spacer" /><span v-if="review" class="quiet until">open until {{ dayWords(review.expiresAt) }}</span>
    </div>
    <main v-if="problem" class="page">
      <h1>Nothing here</h1>
      <p role="alert">{{ problem }}</p>
    </main>
    <main v-else-if="review && review.versions.length === 0" class="page">
      <h1>Nothing here</h1>
      <p>The versions of this link are not there any more. Ask whoever sent it for a new one.</p>
    </main>
    <VersionStage
      v-else-if="review"
      :versions="review.versions"
      :notes="review.notes"
      :first="review.first"
      :rate="review.rate"
      :width="review.width"
      :height="review.height"
      :address="(job, frame) => reviewFrameUrl(secret, job, frame)"
      :author="author"
      :settles="false"
      @pin="(note) => take(() => call('POST', `${path}/notes`, 'guestReview', { ...note, author }))"
      @answer="
        (note, words) => take(() => call('POST', `${path}/notes/${note}/answers`, 'guestReview', { author, words }))
      "
      ><template #who
        ><label class="who"
          >You are<BFormInput
            v-model="author"
            maxlength="80"
            aria-label="Your name"
            placeholder="your name, shown beside notes" /></label></template
    ></VersionStage>
  </div>
</template>

<style scoped>
.bench {
  height: 100%;
  display: flex;
  flex-direction: column;
  overflow: hidden;
}
.who {
  display: flex;
  align-items: center;
  gap: 8px;
  margin-bottom: 10px;
  white-space: nowrap;
}
@media (max-width: 760px) {
  .until {
    display: none;
  }
}
</style>
