<script setup lang="ts">
import { computed } from 'vue';
import type { FrontShape } from '../../../../core/base/schemas/types.ts';
import { shapesFromSvg } from '../../../../core/handoff/exchange/shapes-from-svg.ts';
import AppCheck from '../../components/AppCheck.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import FilePick from '../../components/FilePick.vue';
import IconButton from '../../components/IconButton.vue';
import NumberField from '../../components/NumberField.vue';
import { mark } from '../../components/choice.ts';
import { keyFrames } from '../follow/edit-outline.ts';
import { homeOf } from '../follow/outlines-of.ts';
import { removeOutline } from '../follow/remove-outline.ts';
import { rideOn } from './ride-on.ts';
import { useDocument } from '../../stores/document.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';
import { useWorkspace } from '../../stores/workspace.ts';

/** Drawn shapes: what is in them stays in front, or lets content through. In order, each over what those before it made. */
const DOES = ['keep', 'remove', 'within'] as const;
const SAYS = {
  keep: 'stays in front',
  remove: 'lets content through',
  within: 'nothing outside it is in front',
} as const;
const shot = useShot();
const doc = useDocument();
const workspace = useWorkspace();
const head = usePlayhead();
const shapes = computed<readonly FrontShape[]>(() => doc.document!.look.shapes ?? []);
const picked = computed(() => (workspace.picked?.list === 'shapes' ? workspace.picked.index : null));
const only = computed(() => (picked.value === null ? null : (shapes.value[picked.value] ?? null)));

function change(recipe: (shape: FrontShape) => void): void {
  const index = picked.value;
  if (index === null) return;
  doc.edit((draft) => {
    const shape = draft.look.shapes?.[index];
    if (shape) recipe(shape);
  });
}
function setOff(index: number, off: boolean): void {
  doc.edit((draft) => {
    const shape = draft.look.shapes![index]!;
    if (off) shape.off = true;
    else delete shape.off;
  });
}
function move(index: number, by: 1 | -1): void {
  const to = index + by;
  if (to < 0 || to >= shapes.value.length) return;
  doc.edit((draft) => {
    const list = draft.look.shapes!;
    const [shape] = list.splice(index, 1);
    list.splice(to, 0, shape!);
  });
  workspace.picked = { list: 'shapes', index: to };
}
const nameOf = (shape: FrontShape, i: number) => shape.name ?? `Shape ${i + 1}`;
const soft = (side: 0 | 1) => only.value?.soft?.[side] ?? 0;
function setSoft(side: 0 | 1, value: number): void {
  change((shape) => {
    const pair: [number, number] = [...(shape.soft ?? [0, 0])];
    pair[side] = value;
    shape.soft = pair;
  });
}
/** Softness of the picked point: the shape's own where it has none by itself. */
const point = computed(() =>
  only.value && workspace.point !== null && workspace.point < only.value.points.length ? workspace.point : null,
);
const pointSoft = (side: 0 | 1) => only.value?.softness?.[point.value ?? 0]?.[side] ?? soft(side);
function setPointSoft(side: 0 | 1, value: number): void {
  const at = point.value;
  if (at === null) return;
  change((shape) => {
    const all: [number, number][] = shape.points.map(
      (_, i) => [...(shape.softness?.[i] ?? shape.soft ?? [0, 0])] as [number, number],
    );
    all[at]![side] = value;
    shape.softness = all;
  });
}
const notices = useNotices();
/** Outlines of an SVG of the plate's size, on the frame on show; what it holds besides is reported. */
const bring = (file: File) =>
  notices.guard(async () => {
    const facts = shot.plate?.facts;
    if (!facts) return;
    const { shapes: found, faults } = shapesFromSvg(await file.text(), facts, head.frame);
    if (found.length > 0) doc.edit((draft) => (draft.look.shapes = [...(draft.look.shapes ?? []), ...found]));
    if (faults.length > 0 || found.length === 0)
      notices.add(
        `${found.length} ${found.length === 1 ? 'shape' : 'shapes'} taken from ${file.name}. ${faults
          .slice(0, 3)
          .map(({ line, why }) => `Line ${line}: ${why}.`)
          .join(' ')}`,
      );
  });
const about = (shape: FrontShape) =>
  [
    SAYS[shape.does ?? 'keep'],
    shape.rides === 'plate' ? 'in the picture' : 'rides',
    ...(shape.keys?.length ? [`${keyFrames(shape, homeOf(doc.document!, shape)).length} keys`] : []),
  ].join(' · ');
</script>

<template>
  <section class="section">
    <header>
      <h2>Shapes</h2>
      <span class="quiet">drawn by hand</span>
    </header>
    <button
      class="btn btn-sm btn-outline-secondary w-100"
      type="button"
      :aria-pressed="workspace.tool === 'draw-shape'"
      @click="workspace.tool = workspace.tool === 'draw-shape' ? 'look' : 'draw-shape'"
    >
      <i class="bi bi-bezier2" /> Draw a shape (D)
    </button>
    <FilePick
      label="Shapes from an SVG"
      accept=".svg"
      :variant="null"
      class="use-button mt-2"
      title="Outlines of its paths, as they lie on this frame"
      @pick="bring"
      >from an SVG …</FilePick
    >
    <ul class="outline-rows">
      <li v-for="(shape, i) in shapes" :key="i" :class="{ picked: picked === i, off: shape.off }" :data-shape="i">
        <button
          class="entry"
          type="button"
          :aria-pressed="picked === i"
          @click="workspace.picked = { list: 'shapes', index: i }"
        >
          <b>{{ nameOf(shape, i) }}</b><span class="quiet d-block">{{ about(shape) }}</span>
        </button>
        <IconButton
          icon="arrow-up"
          :label="`${nameOf(shape, i)} earlier`"
          :disabled="i === 0"
          title="Earlier in the order"
          @click="move(i, -1)"
        />
        <IconButton
          :icon="shape.off ? 'eye-slash' : 'eye'"
          :label="`Use ${nameOf(shape, i)}`"
          :aria-pressed="!shape.off"
          @click="setOff(i, !shape.off)"
        />
        <IconButton icon="trash" :label="`Remove ${nameOf(shape, i)}`" @click="removeOutline('shapes', i)" />
      </li>
    </ul>
    <div v-if="only && picked !== null" class="chosen under-rows">
      <ChoiceRow
        label="What it does"
        :options="DOES"
        :value="only.does ?? 'keep'"
        @choose="(value) => change((s) => (s.does = value))"
      />
      <ChoiceRow
        class="mt-2"
        label="Moves with"
        :options="['surface', 'plate']"
        :value="only.rides ?? 'surface'"
        @choose="(value) => rideOn('shapes', picked!, value, head.frame)"
      />
      <div class="pair mt-1">
        <NumberField
          label="Soft in"
          unit="px"
          :value="soft(0)"
          :min="0"
          :max="1000"
          :step="0.5"
          :digits="2"
          @commit="setSoft(0, $event)"
        />
        <NumberField
          label="out"
          unit="px"
          :value="soft(1)"
          :min="0"
          :max="1000"
          :step="0.5"
          :digits="2"
          @commit="setSoft(1, $event)"
        />
      </div>
      <div v-if="point !== null" class="pair" data-point-soft>
        <NumberField
          :label="`In at ${point + 1}`"
          unit="px"
          :value="pointSoft(0)"
          :min="0"
          :max="1000"
          :step="0.5"
          :digits="2"
          @commit="setPointSoft(0, $event)"
        />
        <NumberField
          label="out"
          unit="px"
          :value="pointSoft(1)"
          :min="0"
          :max="1000"
          :step="0.5"
          :digits="2"
          @commit="setPointSoft(1, $event)"
        />
      </div>
      <button
        v-if="only.softness"
        class="use-button"
        type="button"
        @click="
          change((s) => {
            delete s.softness;
          })
        "
      >
        soft alike at all points
      </button>
      <NumberField
        label="Opacity"
        unit="%"
        :value="100 * (typeof only.opacity === 'number' ? only.opacity : 1)"
        :min="0"
        :max="100"
        :step="5"
        @commit="(v) => change((s) => (s.opacity = v / 100))"
      />
      <AppCheck v-model="workspace.showGhosts">Show it a frame before and after</AppCheck>
      <AppCheck :model-value="only.invert ?? false" @update:model-value="(on) => change((s) => mark(s, 'invert', on))"
        >Everything but it</AppCheck
      >
      <AppCheck :model-value="only.blur ?? false" @update:model-value="(on) => change((s) => mark(s, 'blur', on))"
        >Smeared by its own motion (Blend’s shutter)</AppCheck
      >
    </div>
  </section>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  --field-width: 40px;
}
</style>
