<script setup lang="ts">
import { computed } from 'vue';
import type { Quad } from '../../../../../core/base/geometry/quad.ts';
import { PULLED, SAID_OF } from '../../../../../core/motion/keys/hand-keys.ts';
import NumberField from '../../../components/NumberField.vue';
import { useWorkspace } from '../../../stores/workspace.ts';
import { useHandKeys } from '../../../stores/hand-keys.ts';
import { useNotices } from '../../../stores/notices.ts';
import { usePlayhead } from '../../../stores/playhead.ts';
import { useShot } from '../../../stores/shot.ts';
import { useDocument } from '../../../stores/document.ts';
import { usePlacedCorners } from '../../../stores/placed-corners.ts';
import { putHandKey, removeHandKey } from './key-edits.ts';

/** Corners keyed by hand: extremes first, then halves; what lies between goes by the pose of the plane and is pulled onto the picture. */
const shot = useShot();
const doc = useDocument();
const placed = usePlacedCorners();
const handKeys = useHandKeys();
const head = usePlayhead();
const workspace = useWorkspace();
const notices = useNotices();
const document = computed(() => doc.document!);
const here = computed(() => handKeys.keyedAt(head.frame));
const key = computed(() => handKeys.keys.find((k) => k.frame === head.frame) ?? null);
/** What a key put here begins from: what the keys say, else the surface as it is. */
const start = computed<Quad | null>(
  () => here.value?.corners ?? placed.cornersAt(head.frame) ?? document.value.corners,
);
const put = () => start.value && doc.edit((draft) => putHandKey(draft, head.frame, start.value!));
const HOW = { ...SAID_OF, pulled: PULLED } as const;
const bound = computed(() =>
  handKeys.held.get(head.frame) ? Math.max(...handKeys.held.get(head.frame)!.bounds) : null,
);
const inUse = computed(() => document.value.spans?.some((s) => s.source === 'keys') ?? false);
</script>

<template>
  <section class="section">
    <header>
      <h2>Hand keys</h2>
      <span class="quiet">{{ handKeys.keys.length === 0 ? '' : `${handKeys.keys.length} keys` }}</span>
    </header>
    <p v-if="handKeys.keys.length === 0" class="quiet">
      Where nothing automatic holds: put the four corners on the extremes of the motion, then on the halves between. The
      plane turns and moves in space from key to key.
    </p>
    <div v-else class="chips">
      <button
        v-for="k in handKeys.keys"
        :key="k.frame"
        type="button"
        class="use-button"
        :class="{ now: k.frame === head.frame }"
        :data-key-chip="k.frame"
        @click="head.goTo(k.frame)"
      >
        {{ k.frame + shot.firstNumber }}
      </button>
    </div>
    <div class="d-flex gap-2 mt-2">
      <BButton
        :variant="handKeys.keys.length < 2 ? 'primary' : 'outline-secondary'"
        class="flex-fill"
        :disabled="!start || key !== null"
        data-put-key
        @click="put"
        ><i class="bi bi-plus-lg" /> Key {{ head.frame + shot.firstNumber }}</BButton
      >
      <BButton
        variant="outline-secondary"
        :disabled="!key"
        title="Take the key on this frame away"
        data-remove-hand-key
        @click="doc.edit((draft) => removeHandKey(draft, head.frame))"
        ><i class="bi bi-trash"
      /></BButton>
    </div>
    <p v-if="!start" class="notice mt-2 mb-0">
      There is nothing to begin from. Put the four corners on Seat, on any frame.
    </p>
    <div v-if="handKeys.proposed" class="row-line mt-1">
      <span class="quiet">Next key</span
      ><button
        class="use-button"
        type="button"
        data-next-key
        :title="`Off by up to ${handKeys.proposed.off.toFixed(1)} px`"
        @click="head.goTo(handKeys.proposed!.frame)"
      >
        {{ handKeys.proposed.frame + shot.firstNumber }} · ± {{ handKeys.proposed.off.toFixed(1) }} px
      </button>
    </div>
    <p v-if="handKeys.motion?.why" class="notice mt-2 mb-0" data-why>{{ handKeys.motion.why }}</p>
  </section>
  <section v-if="handKeys.keys.length > 0" class="section">
    <header>
      <h2>Between the keys</h2>
      <span class="quiet">frame {{ head.frame + shot.firstNumber }}</span>
    </header>
    <div v-if="here" class="row-line"><span>Corners</span><span class="figure" data-how>{{ HOW[here.how] }}</span></div>
    <div v-if="bound !== null" class="row-line">
      <span>Within (95 %)</span><span class="figure">± {{ bound.toFixed(2) }} px</span>
    </div>
    <div class="row-line">
      <span>Pulled</span><span class="figure" data-pulled>{{ handKeys.held.size }} frames</span>
    </div>
    <BButton
      :variant="handKeys.keys.length >= 2 && handKeys.held.size === 0 ? 'primary' : 'outline-secondary'"
      class="w-100 mt-1 mb-2"
      :disabled="!!shot.running || handKeys.keys.length < 2 || !document.corners"
      data-pull
      @click="notices.guard(() => handKeys.pull())"
      ><i class="bi bi-magnet" /> Pull onto the picture</BButton
    >
    <NumberField
      label="Focal length"
      unit="px"
      :value="document.focal ?? Math.round(handKeys.motion?.camera?.focal ?? 0)"
      :min="50"
      :max="100000"
      :digits="0"
      @commit="
        (v) =>
          doc.edit((draft) => {
            draft.focal = v;
          })
      "
    />
    <p v-if="document.focal !== undefined" class="quiet mb-0">
      Given by hand.
      <button
        class="use-button"
        type="button"
        @click="
          doc.edit((draft) => {
            delete draft.focal;
          })
        "
      >
        by the keys again
      </button>
    </p>
  </section>
  <p v-if="handKeys.keys.length >= 2 && !inUse" class="section notice calm mb-0">
    The surface does not move by these keys yet.
    <button class="use-button" type="button" data-use-keys @click="workspace.followPage = 'spans'">
      use them in Spans
    </button>
  </p>
</template>

<style scoped>
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
}
.now {
  background: var(--accent);
  color: var(--on-accent);
  border-style: solid;
}
</style>
