<script setup lang="ts">
import { watchEffect } from 'vue';
import NoticeStack from './components/NoticeStack.vue';
import { useBench } from './stores/bench.ts';
import { useJobs } from './stores/jobs.ts';

const bench = useBench();
useJobs().connect();
watchEffect(() => document.documentElement.setAttribute('data-bs-theme', bench.dim ? 'dark' : 'light'));
</script>

<template>
  <RouterView />
  <NoticeStack />
</template>
