<script setup lang="ts">
import { onMounted, ref } from 'vue';
import type { Review, ReviewVersion } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import AppCheck from '../components/AppCheck.vue';
import AppField from '../components/AppField.vue';
import SecretLink from '../components/SecretLink.vue';
import { toggled } from '../components/choice.ts';
import { dayWords } from '../components/day-words.ts';
import { useNotices } from '../stores/notices.ts';

/** Links by which somebody looks at versions in a browser, and pins notes. */
const { shotId, versions } = defineProps<{ shotId: number; versions: readonly ReviewVersion[] }>();
const notices = useNotices();
const reviews = ref<Review[]>([]);
const link = ref('');
const name = ref('');
const days = ref(14);
const chosen = ref<number[]>([versions[0]!.jobId]);
onMounted(() => notices.guard(async () => (reviews.value = await call('GET', `/shots/${shotId}/reviews`, 'reviews'))));
const share = () =>
  notices.guard(async () => {
    const made = await call('POST', `/shots/${shotId}/reviews`, 'madeReview', {
      name: name.value,
      days: days.value,
      versions: chosen.value,
    });
    link.value = `${location.origin}/review/${made.secret}`;
    reviews.value = [made.review, ...reviews.value];
    name.value = '';
  });
const withdraw = (id: number) =>
  notices.guard(async () => (reviews.value = await call('DELETE', `/reviews/${id}`, 'reviews')));
const STATES = { open: 'open', expired: 'run out', revoked: 'withdrawn' } as const;
const title = (jobId: number) =>
  `v${String(versions.find((one) => one.jobId === jobId)?.version ?? 0).padStart(3, '0')}`;
</script>

<template>
  <section class="links">
    <form @submit.prevent="share">
      <AppField v-model="name" label="For whom" spoken="Whom the review is for" required maxlength="80" />
      <AppField v-model="days" label="Days" class="short" type="number" min="1" max="365" required />
      <fieldset>
        <legend>Versions</legend>
        <AppCheck
          v-for="one in versions.slice(0, 8)"
          :key="one.jobId"
          :model-value="chosen.includes(one.jobId)"
          @update:model-value="chosen = toggled(chosen, one.jobId)"
          >{{ title(one.jobId) }}{{ one.name ? ` ${one.name}` : '' }}</AppCheck
        >
      </fieldset>
      <BButton type="submit" variant="outline-secondary" :disabled="chosen.length === 0" data-share
        >Make a link</BButton
      >
    </form>
    <SecretLink v-if="link" says="The link is shown this once:" :text="link" />
    <p v-for="one in reviews" :key="one.id" class="row-line m-0" :data-review="one.name">
      <span
        ><b>{{ one.name }}</b> {{ one.versions.map(title).join(', ')
        }}<span class="quiet"> · {{ STATES[one.state] }} until {{ dayWords(one.expiresAt) }}</span></span
      ><button v-if="one.state === 'open'" class="btn btn-outline-secondary" type="button" @click="withdraw(one.id)">
        Withdraw
      </button>
    </p>
  </section>
</template>

<style scoped>
.links {
  padding: 10px 16px;
  border-bottom: 1px solid var(--line);
  background: var(--paper-sunk);
  max-height: 40%;
  overflow-y: auto;
}
form {
  display: flex;
  gap: 14px;
  align-items: end;
  flex-wrap: wrap;
}
fieldset {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 32px;
  font-size: 13px;
  flex-wrap: wrap;
}
legend {
  float: none;
  font-size: 13px;
  width: auto;
  margin: 0;
}
:deep(.short) {
  width: 80px;
}
</style>
