<script setup lang="ts">
import { watch, watchEffect } from 'vue';
import { useRouter } from 'vue-router';
import NoticeStack from './components/NoticeStack.vue';
import { useWorkspace } from './stores/workspace.ts';
import { useJobs } from './stores/jobs.ts';

const workspace = useWorkspace();
const router = useRouter();
const jobs = useJobs();
// Who came by a link hears nothing of the house's jobs.
watch(router.currentRoute, (route) => route.matched.length > 0 && !route.meta.open && jobs.connect());
watchEffect(() => document.documentElement.setAttribute('data-bs-theme', workspace.dim ? 'dark' : 'light'));
</script>

<template>
  <RouterView />
  <NoticeStack />
</template>
