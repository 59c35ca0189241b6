<script setup lang="ts">
import type { Media } from '../../../../core/base/schemas/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { correctPlate } from './correct-plate.ts';

/** Pictures are missing from a sequence: the person says what to do. */
const props = defineProps<{ medium: Media }>();
const notices = useNotices();
const decide = (gaps: 'hold' | 'stop') => notices.guard(() => correctPlate(props.medium, { gaps }));
</script>

<template>
  <p class="notice" role="alert" data-gap>{{ medium.problem }}</p>
  <div class="d-flex gap-2">
    <BButton variant="outline-secondary" @click="decide('hold')">Hold the last picture</BButton>
    <BButton variant="outline-secondary" @click="decide('stop')">Stop at the gap</BButton>
  </div>
</template>
