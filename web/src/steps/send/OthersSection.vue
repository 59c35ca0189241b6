<script setup lang="ts">
import { useShot } from '../../stores/shot.ts';

/** What other people see or fill: versions beside one another with notes, and other contents on the same track. */
const shot = useShot();
</script>

<template>
  <section v-if="shot.shot" class="section">
    <header><h2>With others</h2></header>
    <div class="rows">
      <RouterLink class="btn btn-outline-secondary" :to="`/shots/${shot.shot.id}/versions`"
        ><i class="bi bi-chat-left-text" /> Versions and notes</RouterLink
      >
      <RouterLink class="btn btn-outline-secondary" :to="`/shots/${shot.shot.id}/contents`"
        ><i class="bi bi-table" /> Other contents, slots</RouterLink
      >
    </div>
  </section>
</template>
