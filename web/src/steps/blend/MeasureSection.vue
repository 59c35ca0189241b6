<script setup lang="ts">
import { computed, ref } from 'vue';
import { useWorkspace } from '../../stores/workspace.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useProposal } from '../../stores/proposal.ts';
import { useDocument } from '../../stores/document.ts';
import { partsOf, takePart, type ProposalPart } from './proposal-parts.ts';

/** One press proposes the whole look; each value is taken or left by itself, and nothing is changed before. */
const doc = useDocument();
const playhead = usePlayhead();
const workspace = useWorkspace();
const proposal = useProposal();
/** The part whose reason is shown in full. */
const opened = ref<string | null>(null);
const parts = computed(() => (proposal.look ? partsOf(proposal.look) : []));
const open = computed(() =>
  parts.value.filter((part) => part.takes && !part.aside && !proposal.settled.has(part.name)),
);
/** Values in use that were measured along other corners. */
const stale = computed(() => Object.values(doc.document!.look.why ?? {}).filter((why) => proposal.isStale(why)).length);

function take(names: readonly string[]): void {
  doc.edit((draft) => {
    for (const name of names) takePart(draft.look, proposal.look!, name);
  });
  proposal.settle(names);
}
const sure = (part: ProposalPart) => `${Math.round(100 * part.why.certainty)} %`;
function goTo({ why }: ProposalPart): void {
  const frame = why.frames?.find((f) => f > playhead.frame) ?? why.frames?.[0];
  if (frame !== undefined) playhead.goTo(frame);
}
</script>

<template>
  <section class="section">
    <header><h2>The look, measured</h2></header>
    <p v-if="!proposal.look && !proposal.measuring" class="quiet">
      Levels, exposure, softness, shutter, grain and reflections are read from the plate along the corners, each with
      what it was read from. Nothing changes until it is taken.
    </p>
    <p v-if="stale > 0" class="stale" role="status">
      <i class="bi bi-exclamation-triangle" /> {{ stale }} {{ stale === 1 ? 'value was' : 'values were' }} measured
      along other corners.
    </p>
    <button
      type="button"
      class="btn w-100"
      :class="proposal.look ? 'btn-outline-secondary' : 'btn-primary'"
      :disabled="proposal.measuring"
      @click="proposal.measure()"
    >
      {{ proposal.measuring ? 'Measuring…' : proposal.look || stale > 0 ? 'Measure again' : 'Measure the look' }}
    </button>
    <template v-if="proposal.look">
      <ul class="parts">
        <li
          v-for="part in parts"
          :key="part.name"
          :class="{ settled: proposal.settled.has(part.name) }"
          :data-part="part.name"
          @pointerenter="workspace.reason = part"
          @pointerleave="workspace.reason = null"
          @focusin="workspace.reason = part"
        >
          <div class="told">
            <span class="what"><b>{{ part.title }}</b> <span class="value">{{ part.value }}</span></span>
            <span v-if="part.takes && proposal.settled.has(part.name)" class="quiet">done</span>
            <template v-else-if="part.takes"
              ><button type="button" class="use-button" :aria-label="`Take ${part.title}`" @click="take([part.name])">
                take</button
              ><button
                type="button"
                class="use-button plain"
                :aria-label="`Leave ${part.title}`"
                @click="proposal.settle([part.name])"
              >
                leave
              </button></template
            >
          </div>
          <!-- Opened by a press, not by passing over it: nothing moves away under the hand. -->
          <p
            class="quiet"
            :class="{ short: opened !== part.name }"
            :title="part.why.says"
            @click="opened = opened === part.name ? null : part.name"
          >
            <button
              v-if="part.why.frames?.length"
              type="button"
              class="sure"
              :title="`Measured on ${part.why.frames.length} frames: go to the next`"
              @click.stop="goTo(part)"
            >
              Sure to {{ sure(part) }}.</button
            ><span v-else>Sure to {{ sure(part) }}.</span>
            {{ part.why.says }}
          </p>
        </li>
      </ul>
      <div class="row-line">
        <button
          type="button"
          class="btn btn-primary flex-fill"
          :disabled="open.length === 0"
          @click="take(open.map((part) => part.name))"
        >
          Take all ({{ open.length }})</button
        ><button type="button" class="btn btn-outline-secondary" @click="proposal.close()">Close</button>
      </div>
    </template>
  </section>
</template>

<style scoped>
.parts {
  list-style: none;
  margin: 10px 0;
  padding: 0;
}
.parts li {
  padding: 5px 0 6px;
  border-top: 1px solid var(--line);
}
.parts p {
  margin: 1px 0 0;
}
.parts p {
  cursor: pointer;
}
.short {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: clip;
}
.told {
  display: flex;
  align-items: baseline;
  gap: 6px;
}
.what {
  flex: 1;
  min-width: 0;
}
.value {
  font-variant-numeric: tabular-nums;
}
.sure {
  border: 0;
  background: none;
  padding: 0;
  color: var(--ink-soft);
  font-size: 13px;
  text-decoration: underline dotted;
}
.plain {
  border-color: var(--line);
  color: var(--ink-soft);
}
.settled {
  opacity: 0.62;
}
.stale {
  color: var(--alarm);
  font-size: 13px;
  margin: 0 0 8px;
}
</style>
