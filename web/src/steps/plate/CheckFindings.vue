<script setup lang="ts">
import { computed } from 'vue';
import { findingWords } from '../../../../core/motion/plate/findings.ts';
import { proposeReference } from '../../../../core/motion/plate/propose-reference.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { takeReference } from '../take-reference.ts';

/** What the check found, in words that go there when pressed, and the frame it would begin from. */
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const check = computed(() => (shot.check?.done ? shot.check : null));
const inRange = computed(() =>
  (check.value?.findings ?? []).filter((f) => f.frames[1] >= shot.range[0] && f.frames[0] <= shot.range[1]),
);
const MOST = 12;
const proposal = computed(() => check.value && proposeReference(check.value.rows, shot.range));
function use(frame: number): void {
  takeReference(frame);
  head.goTo(frame);
}
const taken = computed(() => doc.document?.referenceFrame === proposal.value?.frame);
</script>

<template>
  <section class="section" data-check>
    <header>
      <h2>What will be hard</h2>
      <span v-if="!check" class="quiet">looking</span>
    </header>
    <p v-if="!check" class="quiet mb-0">Each frame is looked at: sharpness, light, noise, blur, repeats, cuts.</p>
    <template v-else>
      <p v-if="inRange.length === 0" class="mb-2">Nothing stands out.</p>
      <ul v-else class="found">
        <li v-for="f in inRange.slice(0, MOST)" :key="`${f.kind} ${f.frames[0]}`">
          <button type="button" :data-finding="f.kind" @click="head.goTo(f.frames[0])">
            {{ findingWords(f, shot.firstNumber) }}
          </button>
        </li>
      </ul>
      <p v-if="inRange.length > MOST" class="quiet">and {{ inRange.length - MOST }} more; the ledger shows them all</p>
      <div v-if="proposal" class="proposal">
        <span
          >Begin from frame <b>{{ proposal.frame + shot.firstNumber }}</b
          ><span class="quiet d-block">{{ proposal.reasons.join(', ') }}</span></span
        >
        <button v-if="!taken" class="use-button" type="button" data-use-reference @click="use(proposal.frame)">
          use {{ proposal.frame + shot.firstNumber }}
        </button>
        <span v-else class="quiet">is the reference</span>
      </div>
    </template>
  </section>
</template>

<style scoped>
.found {
  list-style: none;
  padding: 0;
  margin: 0 0 10px;
  display: grid;
  gap: 2px;
}
.found button {
  border: 0;
  background: none;
  padding: 1px 0;
  color: var(--ink);
  text-align: left;
  border-bottom: 1px dotted var(--ink-soft);
}
.found button:hover {
  color: var(--accent);
}
.proposal {
  display: flex;
  align-items: start;
  justify-content: space-between;
  gap: 10px;
  border-top: 1px solid var(--line);
  padding-top: 9px;
}
</style>
