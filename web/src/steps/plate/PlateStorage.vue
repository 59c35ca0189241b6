<script setup lang="ts">
import type { Media } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import { useJobs } from '../../stores/jobs.ts';
import { useNotices } from '../../stores/notices.ts';
import { useShot } from '../../stores/shot.ts';
import { byteWords } from '../../stores/transfer-rate.ts';

/** What the decoded frames take on the disk; they can be put away and made again without losing work. */
const props = defineProps<{ medium: Media }>();
const shot = useShot();
const jobs = useJobs();
const notices = useNotices();
const clear = () =>
  notices.guard(async () => {
    await call('POST', `/media/${props.medium.id}/clear`, 'media');
    await Promise.all([shot.refreshMedia(), shot.refreshShot()]);
  });
const remake = () =>
  notices.guard(async () => {
    jobs.take((await call('POST', `/media/${props.medium.id}/remake`, 'uploadReply')).job);
    await Promise.all([shot.refreshMedia(), shot.refreshShot()]);
  });
</script>

<template>
  <p v-if="medium.state === 'cleared'" class="notice mt-2 mb-0">
    The frames were put away to save room; nothing of the work is lost.
    <button class="use-button" type="button" @click="remake">Make frames again</button>
  </p>
  <p v-else class="quiet disk">
    {{ byteWords(medium.bytes) }} file, {{ byteWords(medium.frameBytes) }} frames on the disk
    <button class="use-button" type="button" @click="clear">put frames away</button>
  </p>
</template>

<style scoped>
.disk {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  margin: 10px 0 0;
}
</style>
