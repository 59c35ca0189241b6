<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import IconButton from '../../../components/IconButton.vue';
import { useCornerPoints } from '../../../stores/corner-points.ts';
import { useDocument } from '../../../stores/document.ts';
import { useNotices } from '../../../stores/notices.ts';
import { usePlayhead } from '../../../stores/playhead.ts';
import { useShot } from '../../../stores/shot.ts';
import { useWorkspace } from '../../../stores/workspace.ts';
import { type Span, spanAt } from '../spans.ts';
import { usePickedPoints } from './use-picked-points.ts';
import { clearPoints, keepPoint } from './point-edits.ts';

/** Following the picked points: to the ends, a frame at a time, or anew where light swept over them; and which look is wanted next. */
const shot = useShot();
const doc = useDocument();
const found = useCornerPoints();
const head = usePlayhead();
const workspace = useWorkspace();
const notices = useNotices();
const document = computed(() => doc.document!);
const { names, only } = usePickedPoints();
const ready = computed(() => !shot.running && found.points.length > 0);

/** The frame from which a run goes on: this one, where all that is asked for is known here, else the reference. */
const from = computed(() =>
  names.value.every((name) => found.fitAt(name, head.frame)?.fit) ? head.frame : document.value.referenceFrame,
);
function run(direction: 1 | -1, count = Infinity): void {
  const start = from.value;
  const end = start + direction * count;
  const span: Span =
    direction === 1 ? [start + 1, Math.min(shot.range[1], end)] : [Math.max(shot.range[0], end), start - 1];
  if (span[0] > span[1])
    return notices.add(
      direction === 1
        ? 'There is no frame after this one in the shot.'
        : 'There is no frame before this one in the shot.',
    );
  void notices
    .guard(() =>
      found.follow(
        {
          direction: direction === 1 ? 'forward' : 'backward',
          names: [...names.value],
          frames: span,
          ...(start === document.value.referenceFrame ? {} : { from: start }),
        },
        names.value,
        span,
      ),
    )
    .then(() => count === 1 && head.goTo(end));
}
function both(): void {
  void notices.guard(() =>
    found.follow({ direction: 'both', names: [...names.value], frames: [...shot.range] }, names.value, [...shot.range]),
  );
}
const clear = (span: Span) => span[0] <= span[1] && doc.edit((draft) => clearPoints(draft, names.value, span));
const kept = computed(() => only.value && spanAt((only.value.keep ?? []) as Span[], head.frame));
/** Frames around this one on which the picked point is known. */
const stretch = computed<Span | null>(() => {
  const name = only.value?.name;
  if (!name || !found.fitAt(name, head.frame)?.fit) return null;
  let [a, b] = [head.frame, head.frame];
  while (found.fitAt(name, a - 1)?.fit) a--;
  while (found.fitAt(name, b + 1)?.fit) b++;
  return [a, b];
});
/** The look that is proposed: the worst, and with each press the next. */
const turn = ref(0);
watch(
  () => found.wanting,
  () => (turn.value = 0),
);
function lookAtNext(): void {
  const { wanting } = found;
  const next = wanting[turn.value % wanting.length]!;
  head.goTo(next.frame);
  workspace.pickedPoints = [next.name];
  turn.value = (turn.value + 1) % wanting.length;
}
/** Light that was seen to sweep over points is compensated for, and they are followed anew. */
function compensate(swept: readonly string[]): void {
  doc.edit((draft) => {
    for (const point of draft.cornerPoints ?? []) if (swept.includes(point.name)) delete point.light;
  });
  void notices.guard(() =>
    found.follow({ direction: 'both', names: [...swept], frames: [...shot.range] }, swept, [...shot.range]),
  );
}
</script>

<template>
  <section class="section">
    <header>
      <h2>Run</h2>
      <span class="quiet"
        >{{ names.length === found.points.length ? 'all points' : names.join(', ') }}, from
        {{ from + shot.firstNumber }}</span
      >
    </header>
    <div class="d-flex gap-2">
      <BButton variant="outline-secondary" :disabled="!ready" data-run="back" @click="run(-1)"
        ><i class="bi bi-arrow-left" /> Back</BButton
      >
      <BButton
        :variant="found.rows.length === 0 ? 'primary' : 'outline-secondary'"
        class="flex-fill"
        :disabled="!ready"
        data-run="both"
        @click="both"
        >Both ways</BButton
      >
      <BButton variant="outline-secondary" :disabled="!ready" data-run="on" @click="run(1)"
        >On <i class="bi bi-arrow-right"
      /></BButton>
    </div>
    <div class="row-line mt-1">
      <span class="quiet">One frame</span>
      <span
        ><IconButton
          icon="chevron-left"
          label="Follow points one frame back"
          :disabled="!ready"
          @click="run(-1, 1)" /><IconButton
          icon="chevron-right"
          label="Follow points one frame on"
          :disabled="!ready"
          @click="run(1, 1)"
      /></span>
    </div>
    <div class="row-line">
      <span class="quiet">Clear</span
      ><span class="d-flex gap-2"
        ><button class="use-button" type="button" data-clear="before" @click="clear([0, head.frame - 1])">before</button
        ><button class="use-button" type="button" data-clear="here" @click="clear([head.frame, head.frame])">
          this frame</button
        ><button class="use-button" type="button" data-clear="after" @click="clear([head.frame + 1, shot.frames - 1])">
          after
        </button></span
      >
    </div>
    <BFormCheckbox
      v-model="workspace.runsOn"
      switch
      data-runs-on
      title="After it is put right in its magnifier; where it fails it is picked, and its frame shown"
      >A corrected point runs on</BFormCheckbox
    >
    <div v-if="stretch && only" class="row-line">
      <span
        >{{ kept ? 'Kept' : 'Stretch' }}
        <b>{{ (kept ?? stretch)[0] + shot.firstNumber }}–{{ (kept ?? stretch)[1] + shot.firstNumber }}</b></span
      ><button
        class="use-button"
        type="button"
        @click="doc.edit((draft) => keepPoint(draft, only!.name, kept ?? stretch!, !kept))"
      >
        {{ kept ? 'let go' : 'keep' }}
      </button>
    </div>
    <div v-if="found.wanting.length > 0" class="row-line">
      <span class="quiet">Wants a look</span
      ><button
        class="use-button"
        type="button"
        data-worst
        :title="found.wanting.length > 1 ? 'The worst first; pressed again, the next' : 'The worst of all'"
        @click="lookAtNext"
      >
        {{ found.wanting[turn]!.name }}, {{ found.wanting[turn]!.frame + shot.firstNumber
        }}<template v-if="found.wanting.length > 1"> · {{ turn + 1 }} of {{ found.wanting.length }}</template>
      </button>
    </div>
    <p v-if="found.lightWanted" class="notice mt-2 mb-0" data-light-wanted>
      Light sweeps over {{ found.lightWanted.names.join(', ') }} on
      {{ found.lightWanted.span[0] + shot.firstNumber }}–{{ found.lightWanted.span[1] + shot.firstNumber }}.
      <button class="use-button" type="button" :disabled="!ready" @click="compensate(found.lightWanted.names)">
        compensate, and follow again
      </button>
    </p>
  </section>
</template>
