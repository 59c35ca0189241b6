<script setup lang="ts">
import { computed } from 'vue';
import { seatAdvice } from '../../../../core/surface/seat/seat-advice.ts';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { useWorkspace } from '../../stores/workspace.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useSeat } from '../../stores/seat.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { useTrack } from '../../stores/track.ts';
import { fixesByFrame } from './seat-edits.ts';

/** Looks at the borders of all frames, lists the worst, and proposes the fewest keys that mend them. */
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const seat = useSeat();
const head = usePlayhead();
const workspace = useWorkspace();
const notices = useNotices();
const tolerance = computed(() => doc.document!.tolerance ?? 0.25);
const SLICES = ['sides', 'corners', 'off'] as const;
const REACHES = ['±12', '±6', '±3'] as const;
const reach = computed(() => `±${workspace.sliceReach}`);

const left = computed(() => seat.left);
const worst = computed(() => [...left.value].sort((a, b) => b.worst - a.worst).slice(0, 4));
const over = computed(() => left.value.filter((f) => f.worst > tolerance.value).length);
const keys = computed(() =>
  seat.proposal ? fixesByFrame(seat.proposal.corrections.map((c) => ({ ...c, ease: c.ease ?? 'smooth' }))) : [],
);
const peak = (values: readonly number[]) => Math.max(0, ...values).toFixed(2);
const advice = computed(() =>
  seat.measured
    ? seatAdvice(
        { referenceFrame: doc.document!.referenceFrame, frames: seat.frames.size },
        { borders: seat.borders, seen: [...seat.frames.values()] },
        seat.proposal,
        shot.firstNumber,
      )
    : [],
);

function setTolerance(value: number): void {
  doc.edit((draft) => {
    draft.tolerance = value;
  });
  seat.proposal = null;
}
function takeAll(): void {
  doc.edit((draft) => {
    draft.corrections = seat.proposal!.corrections.map((c) => ({ ...c, ease: c.ease ?? 'smooth' }));
    if (draft.corrections.length === 0) delete draft.corrections;
  });
  seat.proposal = null;
}
function takeOne(frame: number): void {
  doc.edit((draft) => {
    const taken = seat
      .proposal!.corrections.filter((c) => c.frame === frame)
      .map((c) => ({ ...c, ease: c.ease ?? ('smooth' as const) }));
    draft.corrections = [...(draft.corrections ?? []).filter((c) => c.frame !== frame), ...taken].sort(
      (a, b) => a.frame - b.frame || a.corner - b.corner,
    );
  });
}
const fixed = computed(() => (doc.document!.corrections ?? []).length > 0);
const taken = (frame: number) => (doc.document!.corrections ?? []).some((c) => c.frame === frame);
</script>

<template>
  <section class="section">
    <header>
      <h2>Drift</h2>
      <span v-if="seat.measured && left.length > 0" class="quiet" data-off
        >{{ over === 0 ? 'none' : `${over} of ${left.length} frames` }} over {{ tolerance }} px</span
      >
    </header>
    <BButton
      :variant="seat.measured && seat.stale === 0 ? 'outline-secondary' : 'primary'"
      class="w-100"
      :disabled="seat.running !== null || track.rows.length === 0 || shot.running !== null"
      data-measure
      @click="notices.guard(seat.measure)"
    >
      <i class="bi bi-rulers" />
      {{
        seat.running
          ? `Looking: ${seat.running.done} of ${seat.running.total}`
          : seat.measured
            ? 'Look at the borders again'
            : 'Look at the borders'
      }}
    </BButton>
    <p v-if="!seat.measured" class="quiet mt-2 mb-0">
      Every frame's borders are compared with the reference's: what the track is off by, in px, with its bound.
    </p>
    <p v-else-if="seat.stale > 0" class="notice calm mt-2 mb-0">
      The track has changed on {{ seat.stale }} frames since. Look again.
    </p>
    <p
      v-for="a in advice"
      :key="a.text"
      class="notice mt-2 mb-0"
      :class="{ calm: a.kind !== 'follow-again' && a.kind !== 'pop' }"
    >
      <button v-if="a.frames" type="button" class="use-button float-end ms-2" @click="head.goTo(a.frames[0])">
        go there</button
      >{{ a.text }}
    </p>
    <template v-if="worst.length > 0">
      <table class="worst">
        <tbody>
          <tr v-for="w in worst" :key="w.frame" :class="{ over: w.worst > tolerance }">
            <td>
              <button type="button" class="use-button" @click="head.goTo(w.frame)">
                frame {{ w.frame + shot.firstNumber }}
              </button>
            </td>
            <td class="px">{{ w.worst.toFixed(2) }} px</td>
            <td class="quiet px">± {{ w.bound.toFixed(2) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
  <section v-if="seat.measured" class="section">
    <header><h2>Propose</h2></header>
    <div class="row-line">
      <NumberField
        label="tolerance"
        :value="tolerance"
        unit="px"
        :digits="2"
        :min="0.01"
        :max="50"
        :step="0.05"
        @commit="setTolerance"
      />
    </div>
    <BButton
      variant="primary"
      class="w-100 mt-1"
      :disabled="seat.proposing || seat.drift.length === 0"
      data-propose
      @click="seat.propose"
      ><i class="bi bi-lightbulb" /> {{ seat.proposing ? 'Working it out…' : 'Propose the fewest keys' }}</BButton
    >
    <template v-if="seat.proposal">
      <div v-if="keys.length === 0" class="mt-2" data-proposal>
        <p class="quiet mb-0">
          {{ fixed ? 'The track alone needs no key' : 'No key is needed' }}: its worst corner is
          {{ peak(seat.proposal.before) }} px off.
        </p>
        <button v-if="fixed" class="use-button mt-1" type="button" @click="takeAll">remove the fixes there are</button>
      </div>
      <template v-else>
        <p class="mt-2 mb-1" data-proposal>
          <span class="quiet">worst corner</span> <b>{{ peak(seat.proposal.before) }}</b>
          <i class="bi bi-arrow-right" /> <b>{{ peak(seat.proposal.after) }} px</b>
          <span class="quiet">with {{ keys.length }} {{ keys.length === 1 ? 'key' : 'keys' }}</span>
        </p>
        <div v-for="k in keys" :key="k.frame" class="row-line key">
          <button type="button" class="use-button" @click="head.goTo(k.frame)">
            frame {{ k.frame + shot.firstNumber }}
          </button>
          <span class="quiet"
            >{{
              k.keys[0]!.ease === 'single'
                ? 'this frame alone'
                : `${k.keys.length} ${k.keys.length === 1 ? 'corner' : 'corners'}`
            }}, {{ Math.max(...k.keys.map((c) => Math.hypot(c.dx, c.dy))).toFixed(2) }} px</span
          >
          <button type="button" class="use-button" :disabled="taken(k.frame)" @click="takeOne(k.frame)">
            {{ taken(k.frame) ? 'taken' : 'take' }}
          </button>
        </div>
        <BButton variant="primary" class="w-100 mt-1" data-take @click="takeAll"
          >Take {{ keys.length === 1 ? 'it' : `all ${keys.length}`
          }}{{ doc.document!.corrections?.length ? ', in place of the fixes there are' : '' }}</BButton
        >
      </template>
    </template>
  </section>
  <section class="section">
    <header>
      <h2>Slices</h2>
      <span class="quiet">under the picture</span>
    </header>
    <ChoiceRow
      class="mb-2"
      label="Slices of"
      :options="SLICES"
      :value="workspace.slices"
      @choose="workspace.slices = $event"
    />
    <ChoiceRow
      class="mb-2"
      label="Reach, px"
      :options="REACHES"
      :value="reach"
      @choose="workspace.sliceReach = Number($event.slice(1)) as 12 | 6 | 3"
    />
    <BFormCheckbox v-model="workspace.sliceFits" switch>The borders found, with their bounds</BFormCheckbox>
  </section>
</template>

<style scoped>
.worst {
  width: 100%;
  font-size: 13px;
  margin-top: 8px;
}
.worst td {
  height: 27px;
}
.px {
  text-align: right;
  white-space: nowrap;
}
.over .px:not(.quiet) {
  font-weight: 660;
  color: var(--alarm);
}
.key {
  font-size: 13px;
}
.use-button:disabled {
  border-style: solid;
  border-color: var(--line);
  color: var(--ink-soft);
  background: none;
}
</style>
