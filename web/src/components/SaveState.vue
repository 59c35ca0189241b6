<script setup lang="ts">
import { useShot } from '../stores/shot.ts';
import { useSaving } from '../stores/saving.ts';

const shot = useShot();
const saving = useSaving();
const WORDS = {
  saved: 'Saved',
  unsaved: 'Edited',
  saving: 'Saving …',
  offline: 'Not saved: no server',
  conflict: 'Not saved',
} as const;
</script>

<template>
  <span
    class="quiet"
    :class="{ alarm: saving.state === 'conflict' || saving.state === 'offline' }"
    :data-save="saving.state"
    role="status"
    >{{ WORDS[saving.state] }}</span
  >
  <BModal
    :model-value="saving.state === 'conflict'"
    title="This shot was changed elsewhere"
    no-footer
    no-close-on-backdrop
    no-close-on-esc
    hide-header-close
  >
    <p>
      Somebody saved a newer revision of this shot, in another tab or on another machine. Yours is kept here until you
      choose; the other stays among the revisions either way.
    </p>
    <div class="d-flex gap-2 justify-content-end">
      <BButton variant="outline-secondary" @click="shot.takeTheirs()">Take theirs</BButton>
      <BButton variant="primary" @click="saving.keepMine()">Put mine over it</BButton>
    </div>
  </BModal>
</template>

<style scoped>
.alarm {
  color: var(--alarm);
  font-weight: 640;
}
</style>
