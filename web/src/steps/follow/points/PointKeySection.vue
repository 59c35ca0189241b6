<script setup lang="ts">
import { computed } from 'vue';
import { useDocument } from '../../../stores/document.ts';
import { usePlayhead } from '../../../stores/playhead.ts';
import { useShot } from '../../../stores/shot.ts';
import { usePickedPoints } from './use-picked-points.ts';
import { removePointKey, usePattern } from './point-edits.ts';

/** The picked point's key by hand on the frame on show. */
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const { only } = usePickedPoints();
const onReference = computed(() => head.frame === doc.document!.referenceFrame);
const key = computed(() => only.value?.keys?.find((k) => k.frame === head.frame) ?? null);
</script>

<template>
  <section v-if="only && !onReference" class="section">
    <header>
      <h2>{{ only.name }} on {{ head.frame + shot.firstNumber }}</h2>
    </header>
    <p v-if="!key" class="quiet mb-0">Drag it, or press an arrow key, to put it by hand here.</p>
    <template v-else>
      <BFormCheckbox
        :model-value="key.pattern ?? false"
        switch
        @update:model-value="(on) => doc.edit((draft) => usePattern(draft, only!.name, head.frame, on === true))"
        >What is seen here is its pattern from now on</BFormCheckbox
      >
      <button
        class="use-button mt-1"
        type="button"
        data-remove-key
        @click="doc.edit((draft) => removePointKey(draft, only!.name, head.frame))"
      >
        take the key away
      </button>
    </template>
  </section>
</template>
