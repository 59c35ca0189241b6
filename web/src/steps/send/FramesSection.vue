<script setup lang="ts">
import { computed, ref } from 'vue';
import type { RenderRequest } from '../../../../core/base/schemas/types.ts';
import AppSelect from '../../components/AppSelect.vue';
import NumberField from '../../components/NumberField.vue';
import { choicesOf } from '../../components/choice.ts';
import { LAYER_NAMES } from './layer-names.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useRenders } from '../../stores/renders.ts';
import { useShot } from '../../stores/shot.ts';

/** Finished frames: what is there of the span that is sent, and making what is not. */
const shot = useShot();
const head = usePlayhead();
const renders = useRenders();
const notices = useNotices();
const every = ref(1);
const span = computed(() => renders.span);
const first = computed(() => shot.firstNumber);
const here = computed(() => renders.frames[head.frame]);
const chosen = computed(() => Math.floor((span.value[1] - span.value[0]) / every.value) + 1);
const ask = (request: Partial<RenderRequest>) =>
  notices.guard(() => renders.start({ frames: span.value, output: 'frames', layers: [renders.layer], ...request }));
const STATE_WORDS = { done: 'up to date', stale: 'out of date', missing: 'not rendered', failed: 'failed' } as const;
</script>

<template>
  <section class="section">
    <header>
      <h2>Finished frames</h2>
      <span class="quiet figure" data-ledger-counts>{{ renders.counts.done }} of {{ renders.counts.total }}</span>
    </header>
    <p v-if="renders.ledger?.impossible" class="notice m-0">{{ renders.ledger.impossible }}</p>
    <div v-else class="rows">
      <label class="row-line"
        ><span>Of</span>
        <AppSelect
          label="Layer"
          :value="renders.layer"
          :options="choicesOf(LAYER_NAMES)"
          @choose="renders.layer = $event"
        />
      </label>
      <div class="pair">
        <NumberField
          label="From"
          :value="span[0] + first"
          :min="first"
          :max="first + shot.frames - 1"
          :digits="0"
          @commit="renders.choose(Math.round($event) - first, span[1])"
        />
        <NumberField
          label="to"
          :value="span[1] + first"
          :min="first"
          :max="first + shot.frames - 1"
          :digits="0"
          @commit="renders.choose(span[0], Math.round($event) - first)"
        />
      </div>
      <p class="m-0" data-frame-state>
        <span class="figure">{{ head.frame + first }}</span> is {{ STATE_WORDS[here?.state ?? 'missing']
        }}<span v-if="here?.why" class="quiet">: {{ here.state === 'stale' ? `${here.why} changed` : here.why }}</span>
      </p>
      <BButton
        v-if="renders.counts.missing > 0"
        variant="outline-secondary"
        data-render-missing
        @click="ask({ which: 'missing' })"
        >Render {{ renders.counts.missing }} missing</BButton
      >
      <BButton
        v-if="renders.counts.stale > 0"
        variant="outline-secondary"
        data-render-stale
        @click="ask({ which: 'stale' })"
        >Render {{ renders.counts.stale }} out of date</BButton
      >
      <BButton v-if="renders.counts.failed > 0" variant="outline-secondary" @click="ask({ which: 'failed' })"
        >Try {{ renders.counts.failed }} that failed again</BButton
      >
      <div class="pair">
        <NumberField
          label="Every"
          :value="every"
          :min="1"
          :max="1000"
          :digits="0"
          @commit="every = Math.round($event)"
        />
        <BButton variant="outline-secondary" size="sm" data-render-span @click="ask({ every })"
          >Render {{ chosen }}</BButton
        >
      </div>
      <BButton variant="outline-secondary" size="sm" data-render-one @click="ask({ frames: [head.frame, head.frame] })"
        >Render this frame</BButton
      >
    </div>
  </section>
</template>

<style scoped>
select {
  max-width: 170px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  align-items: center;
  --field-width: 52px;
  --unit-width: 4px;
}
</style>
