<script setup lang="ts">
import { SHORTCUTS } from '../shortcuts.ts';

defineProps<{ shown: boolean }>();
defineEmits<{ close: [] }>();
</script>

<template>
  <BModal :model-value="shown" title="Keys" size="lg" no-footer @hide="$emit('close')">
    <div class="sheet">
      <section v-for="group in SHORTCUTS" :key="group.title">
        <h2>{{ group.title }}</h2>
        <dl>
          <template v-for="s in group.keys" :key="s.keys"
            ><dt>
              <kbd v-for="k in s.keys.split(' ')" :key="k">{{ k }}</kbd>
            </dt>
            <dd>{{ s.does }}</dd></template
          >
        </dl>
      </section>
    </div>
  </BModal>
</template>

<style scoped>
.sheet {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 30px;
}
h2 {
  font-size: 14px;
  font-weight: 680;
  margin: 8px 0 6px;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 5px 12px;
  margin: 0;
}
dt {
  display: flex;
  gap: 3px;
  font-weight: 400;
}
dd {
  margin: 0;
  font-size: 13.5px;
}
</style>
