<script setup lang="ts">
import { ref, watch } from 'vue';

const props = defineProps<{ shown: boolean; title: string; action: string; value?: string }>();
const emit = defineEmits<{ close: []; done: [name: string] }>();
const name = ref('');
watch(
  () => props.shown,
  (on) => on && (name.value = props.value ?? ''),
);
function submit(): void {
  if (name.value.trim() === '') return;
  emit('done', name.value.trim());
  emit('close');
}
</script>

<template>
  <BModal :model-value="shown" :title="title" no-footer @hide="$emit('close')">
    <form @submit.prevent="submit">
      <label class="w-100">Name<BFormInput v-model="name" autofocus maxlength="200" class="mt-1" /></label>
      <div class="d-flex justify-content-end gap-2 mt-3">
        <BButton variant="outline-secondary" @click="$emit('close')">Cancel</BButton>
        <BButton variant="primary" type="submit" :disabled="name.trim() === ''">{{ action }}</BButton>
      </div>
    </form>
  </BModal>
</template>
