<script setup lang="ts">
import { computed } from 'vue';
import { smoothShares } from '../../../../core/motion/follow/disagreement.ts';
import { traceDisagreement } from '../../../../core/motion/follow/trace-disagreement.ts';
import ChoiceRow from '../../components/ChoiceRow.vue';
import { useWorkspace } from '../../stores/workspace.ts';
import { DISAGREEMENT_VIEWS, useDisagreement } from '../../stores/disagreement.ts';
import { useDocument } from '../../stores/document.ts';

/** What of the region goes its own way is shown over the picture, and left out of the next run by one press. */
const doc = useDocument();
const workspace = useWorkspace();
const disagreement = useDisagreement();
const outlines = computed(() => (disagreement.seen ? traceDisagreement(disagreement.seen) : []));
const share = computed(() => {
  const { seen } = disagreement;
  if (!seen) return null;
  const shares = smoothShares(seen);
  const looked = [...seen.cells].filter((sign) => sign !== '.').length;
  return looked > 0
    ? Math.round((100 * shares.reduce((sum, s, at) => sum + (seen.cells[at] === '.' ? 0 : s), 0)) / looked)
    : null;
});
function keepOut(): void {
  const first = doc.document!.keepOut.length;
  doc.edit((draft) => {
    for (const points of outlines.value) draft.keepOut.push({ points });
  });
  workspace.picked = { list: 'keepOut', index: first };
  disagreement.view = 'off';
}
</script>

<template>
  <section class="section" data-disagreement>
    <header>
      <h2>What disagrees</h2>
      <span v-if="share !== null" class="quiet" data-share>{{ share }} % of the region</span>
    </header>
    <ChoiceRow
      label="Show what disagrees"
      :options="DISAGREEMENT_VIEWS"
      :value="disagreement.view"
      @choose="
        (view) => {
          disagreement.view = view;
        }
      "
    />
    <template v-if="disagreement.view !== 'off'">
      <p v-if="!disagreement.seen" class="quiet mt-2 mb-0">
        {{
          disagreement.view === 'this frame'
            ? 'Not known on this frame: it was not followed, was led over another, or is the reference.'
            : 'Not known yet: run first.'
        }}
      </p>
      <p v-else-if="outlines.length === 0" class="quiet mt-2 mb-0">Nothing that is worth leaving out.</p>
      <button
        v-else
        class="use-button mt-2"
        type="button"
        title="Draws keep-outs around it, riding with the surface; the next run leaves them out"
        @click="keepOut"
      >
        keep out {{ outlines.length === 1 ? 'this place' : `these ${outlines.length} places` }}
      </button>
    </template>
  </section>
</template>
