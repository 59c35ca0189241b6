<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import type { Shot, SpliceReply } from '../../../../../core/base/schemas/types.ts';
import { USUAL_FADE } from '../../../../../core/motion/splice/splice-spans.ts';
import { call } from '../../../api/client.ts';
import AppSelect from '../../../components/AppSelect.vue';
import IconButton from '../../../components/IconButton.vue';
import NumberField from '../../../components/NumberField.vue';
import type { Choice } from '../../../components/choice.ts';
import { changeSource, moveJoin, removeSpan, setSpan, splitSpan, swapSources, type SpanSource } from './span-edits.ts';
import { useCornerPoints } from '../../../stores/corner-points.ts';
import { useDocument } from '../../../stores/document.ts';
import { useHandKeys } from '../../../stores/hand-keys.ts';
import { useNotices } from '../../../stores/notices.ts';
import { usePlayhead } from '../../../stores/playhead.ts';
import { useSaving } from '../../../stores/saving.ts';
import { useScene } from '../../../stores/scene.ts';
import { useShot } from '../../../stores/shot.ts';
import { useTrack } from '../../../stores/track.ts';

/** What the surface's motion is made from, span by span, and how the joins are led over. */
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const track = useTrack();
const room = useScene();
const found = useCornerPoints();
const handKeys = useHandKeys();
const head = usePlayhead();
const notices = useNotices();
const document = computed(() => doc.document!);
const last = computed(() => Math.max(0, shot.frames - 1));
const spans = computed(() => document.value.spans ?? [{ from: 0, to: last.value, source: 'plane' as const }]);
const spliced = computed(() => (document.value.spans?.length ?? 0) > 0);
const others = ref<Shot[]>([]);
onMounted(
  () =>
    void notices.guard(async () => {
      if (shot.shot) others.value = await call('GET', `/shots/${shot.shot.id}/ridable`, 'shots');
    }),
);
const NAMES: Readonly<Record<SpanSource, string>> = {
  plane: 'the region',
  points: 'corner points',
  keys: 'hand keys',
  scene: 'the solved room',
  hold: 'stand still',
  shot: 'another shot',
};
const value = (source: SpanSource, other?: number) => (source === 'shot' ? `shot ${other}` : source);
const sources = computed<Choice<string>[]>(() => [
  { value: 'plane', text: NAMES.plane },
  { value: 'points', text: NAMES.points, disabled: found.points.length < 4 },
  { value: 'keys', text: NAMES.keys, disabled: handKeys.keys.length === 0 },
  { value: 'scene', text: NAMES.scene, disabled: !room.plane },
  { value: 'hold', text: NAMES.hold },
  ...others.value.map(({ id, name }) => ({ value: `shot ${id}`, text: name })),
]);
function choose(index: number, text: string): void {
  const [source, id] = text.split(' ') as [SpanSource, string | undefined];
  doc.edit((draft) => {
    draft.spans ??= [{ from: 0, to: last.value, source: 'plane' }];
    changeSource(draft, index, source, id === undefined ? undefined : Number(id));
    if (draft.spans.length === 1 && source === 'plane') delete draft.spans;
  });
}
/** The joins as the saved spans make them; asked for again when the motion has changed. */
const reply = shallowRef<SpliceReply | null>(null);
watch(
  [() => track.byFrame, () => saving.state],
  () => {
    if (!spliced.value || saving.state !== 'saved' || !shot.shot) return;
    void notices.guard(async () => {
      reply.value = await call('GET', `/shots/${shot.shot!.id}/joins`, 'spliceReply');
    });
  },
  { immediate: true },
);
const jump = (frame: number) => reply.value?.joins.find((j) => j.frame === frame) ?? null;
const mine = (index: number) => head.frame >= spans.value[index]!.from && head.frame <= spans.value[index]!.to;
/** All of the keys' frames as one span among the rest. */
const keyed = computed(() =>
  handKeys.keys.length >= 2
    ? ([Math.min(...handKeys.keys.map((k) => k.frame)), Math.max(...handKeys.keys.map((k) => k.frame))] as const)
    : null,
);
</script>

<template>
  <section class="section">
    <header>
      <h2>Spans</h2>
      <span class="quiet">{{ spliced ? `${spans.length} of them` : 'the region all through' }}</span>
    </header>
    <p class="quiet">
      Stretches of the shot whose motion comes from different things. Whatever changes there, changes here.
    </p>
    <ol class="spans">
      <li v-for="(span, i) in spans" :key="i" :class="{ now: mine(i) }" :data-span="i">
        <div v-if="i > 0" class="join">
          <button class="use-button" type="button" @click="head.goTo(span.from)">
            {{ span.from + shot.firstNumber }}
          </button>
          <IconButton
            icon="chevron-left"
            :label="`Join one frame earlier`"
            title="One frame earlier"
            @click="doc.edit((draft) => moveJoin(draft, i, span.from - 1))"
          /><IconButton
            icon="chevron-right"
            label="Join one frame later"
            title="One frame later"
            @click="doc.edit((draft) => moveJoin(draft, i, span.from + 1))"
          />
          <button
            class="use-button"
            type="button"
            title="Put the join at the frame on show"
            @click="doc.edit((draft) => moveJoin(draft, i, head.frame))"
          >
            here
          </button>
          <IconButton
            icon="arrow-down-up"
            label="Swap the sources before and after"
            title="Swap what lies before and after"
            @click="doc.edit((draft) => swapSources(draft, i))"
          />
          <span
            v-if="jump(span.from)"
            class="figure"
            data-jump
            :title="
              jump(span.from)!.fade
                ? 'How far apart both sides are here; led over by the joins below'
                : 'How far apart both sides are here'
            "
            >{{
              jump(span.from)!.jump === null ? 'one side unknown' : `jump ${jump(span.from)!.jump!.toFixed(2)} px`
            }}</span
          >
        </div>
        <div class="what">
          <b>{{ span.from + shot.firstNumber }}–{{ span.to + shot.firstNumber }}</b>
          <AppSelect
            :label="`Source of span ${i + 1}`"
            :value="value(span.source, 'shot' in span ? span.shot : undefined)"
            :options="sources"
            @choose="choose(i, $event)"
          />
          <IconButton
            icon="x"
            :label="`Remove span ${i + 1}`"
            title="Take it away; its neighbour reaches over"
            :disabled="spans.length < 2"
            @click="doc.edit((draft) => removeSpan(draft, i, last))"
          />
        </div>
      </li>
    </ol>
    <div class="d-flex gap-2 mt-2">
      <BButton
        variant="outline-secondary"
        class="flex-fill"
        :disabled="head.frame === 0 || spans.some((s) => s.from === head.frame)"
        data-split
        @click="doc.edit((draft) => splitSpan(draft, head.frame, last))"
        ><i class="bi bi-scissors" /> Split at {{ head.frame + shot.firstNumber }}</BButton
      >
      <BButton
        v-if="keyed"
        variant="outline-secondary"
        class="flex-fill"
        data-span-keys
        @click="doc.edit((draft) => setSpan(draft, keyed![0], keyed![1], 'keys', last))"
        >Keys {{ keyed[0] + shot.firstNumber }}–{{ keyed[1] + shot.firstNumber }}</BButton
      >
    </div>
    <BButton
      v-if="found.rows.length > 0 && !spans.some((s) => s.source === 'points')"
      variant="outline-secondary"
      class="w-100 mt-2"
      data-all-points
      @click="doc.edit((draft) => setSpan(draft, 0, last, 'points', last))"
      >Corner points all through</BButton
    >
  </section>
  <section v-if="spliced" class="section">
    <NumberField
      label="Joins led over"
      unit="frames"
      :value="document.fade ?? USUAL_FADE"
      :min="0"
      :max="200"
      :digits="0"
      @commit="
        (v) =>
          doc.edit((draft) => {
            draft.fade = Math.round(v);
          })
      "
    />
    <p class="quiet mb-0">Half before a join and half after it, by the pose of the plane.</p>
  </section>
</template>

<style scoped>
.spans {
  list-style: none;
  margin: 0;
  padding: 0;
}
.join {
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 3px 0 3px 10px;
  border-left: 3px dotted var(--line);
  font-size: 13px;
}
.join .figure {
  margin-left: auto;
  font-size: 13px;
  font-weight: 540;
  white-space: nowrap;
}
.join .icon-button {
  width: 24px;
}
.what {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 8px;
  align-items: center;
  border: 1px solid var(--line);
  border-left: 3px solid var(--ink-soft);
  border-radius: 3px;
  padding: 4px 4px 4px 8px;
  background: var(--white);
}
.now .what {
  border-left-color: var(--accent);
}
select {
  min-width: 0;
}
</style>
