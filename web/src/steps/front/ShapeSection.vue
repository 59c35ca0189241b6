<script setup lang="ts">
import { computed, ref } from 'vue';
import { shapesFromSvg } from '../../../../core/handoff/exchange/shapes-from-svg.ts';
import type { FrontShape } from '../../../../core/base/schemas/types.ts';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { useWorkspace } from '../../stores/workspace.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { keyFrames } from '../follow/edit-outline.ts';
import { homeOf } from '../follow/outlines-of.ts';
import { removeOutline } from '../follow/remove-outline.ts';
import { rideOn } from './ride-on.ts';

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
const svg = ref<HTMLInputElement>();
const notices = useNotices();
/** Outlines of an SVG of the plate's size, on the frame on show; what it holds besides is reported. */
const bring = (files: FileList | null) =>
  notices.guard(async () => {
    const [file] = files ?? [];
    const facts = shot.plate?.facts;
    if (!file || !facts) return;
    const { shapes: found, faults } = shapesFromSvg(await file.text(), facts, head.frame);
    if (svg.value) svg.value.value = '';
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
    <input
      ref="svg"
      type="file"
      hidden
      accept=".svg"
      aria-label="Shapes from an SVG"
      @change="bring(($event.target as HTMLInputElement).files)"
    />
    <button
      class="use-button mt-2"
      type="button"
      title="Outlines of its paths, as they lie on this frame"
      @click="svg?.click()"
    >
      from an SVG …
    </button>
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
        <button
          class="icon-button"
          type="button"
          :disabled="i === 0"
          :aria-label="`${nameOf(shape, i)} earlier`"
          title="Earlier in the order"
          @click="move(i, -1)"
        >
          <i class="bi bi-arrow-up" />
        </button>
        <button
          class="icon-button"
          type="button"
          :aria-pressed="!shape.off"
          :aria-label="`Use ${nameOf(shape, i)}`"
          @click="setOff(i, !shape.off)"
        >
          <i class="bi" :class="shape.off ? 'bi-eye-slash' : 'bi-eye'" />
        </button>
        <button
          class="icon-button"
          type="button"
          :aria-label="`Remove ${nameOf(shape, i)}`"
          @click="removeOutline('shapes', i)"
        >
          <i class="bi bi-trash" />
        </button>
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
      <label class="tick"
        ><input v-model="workspace.showGhosts" type="checkbox" /> Show it a frame before and after</label
      >
      <label class="tick"
        ><input
          type="checkbox"
          :checked="only.invert ?? false"
          @change="
            change((s) => {
              if (s.invert) delete s.invert;
              else s.invert = true;
            })
          "
        />
        Everything but it</label
      >
      <label class="tick"
        ><input
          type="checkbox"
          :checked="only.blur ?? false"
          @change="
            change((s) => {
              if (s.blur) delete s.blur;
              else s.blur = true;
            })
          "
        />
        Smeared by its own motion (Blend’s shutter)</label
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
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 26px;
}
</style>
