<script setup lang="ts">
/** A button that shows a picture only: its name is read aloud, its title (if it has one) says more. `icon` as in Bootstrap Icons. */
defineProps<{ icon: string; label: string }>();
</script>

<template>
  <BButton :variant="null" class="icon-button" :aria-label="label"><i class="bi" :class="`bi-${icon}`" /></BButton>
</template>
