<script setup lang="ts">
import { computed, onBeforeUnmount } from 'vue';
import { sideRatio, type Quad } from '../../../../core/base/geometry/quad.ts';
import type { ContentPlace } from '../../../../core/base/schemas/types.ts';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { useWorkspace } from '../../stores/workspace.ts';
import { useDocument } from '../../stores/document.ts';

/** How content lies on the screen: fit, turns, and what is moved by hand. */
const FITS = ['stretch', 'fit', 'fill'] as const;
const SAYS = {
  stretch: 'All of it, to the edges; proportions may change.',
  fit: 'All of it in its own proportions; the rest is the screen’s black.',
  fill: 'To the edges in its own proportions; what is over is cut.',
} as const;
const SIDES = ['left', 'top', 'right', 'bottom'] as const;
const doc = useDocument();
const workspace = useWorkspace();
onBeforeUnmount(() => {
  workspace.placeOpen = false;
  workspace.flat = false;
});
const look = computed(() => doc.document!.look);
const place = computed<ContentPlace>(() => look.value.place ?? {});
const fit = computed(() => look.value.fit ?? 'stretch');
const proportions = computed(() => {
  const told = look.value.proportions ?? doc.document!.proportions;
  const corners = doc.document!.corners as Quad | null;
  return told
    ? `${told[0]} : ${told[1]} as on Seat`
    : corners
      ? `${sideRatio(corners).toFixed(2)} : 1 by the corners`
      : 'not known yet';
});
const altered = computed(() => Object.keys(place.value).length > 0);
function change(recipe: (place: ContentPlace) => void): void {
  doc.edit((draft) => recipe((draft.look.place ??= {})));
}
function setPair(name: 'offset' | 'scale' | 'shear', side: 0 | 1, value: number, neutral: number): void {
  change((p) => {
    const pair: [number, number] = [...(p[name] ?? [neutral, neutral])];
    pair[side] = value;
    p[name] = pair;
  });
}
function setCrop(side: number, value: number): void {
  change((p) => {
    const crop: [number, number, number, number] = [...(p.crop ?? [0, 0, 0, 0])];
    crop[side] = value;
    p.crop = crop;
  });
}
function mirror(side: 0 | 1): void {
  change((p) => {
    const pair: [boolean, boolean] = [...(p.mirror ?? [false, false])];
    pair[side] = !pair[side];
    p.mirror = pair;
  });
}
const pair = (name: 'offset' | 'scale' | 'shear', side: 0 | 1, neutral: number) => place.value[name]?.[side] ?? neutral;
</script>

<template>
  <section class="section">
    <header><h2>How it meets the screen</h2></header>
    <ChoiceRow
      label="Fit"
      :options="FITS"
      :value="fit"
      @choose="
        (value) =>
          doc.edit((d) => {
            d.look.fit = value;
          })
      "
    />
    <p class="quiet mt-2 mb-1">{{ SAYS[fit] }} The screen is {{ proportions }}.</p>
    <div class="row-line turns">
      <button
        class="btn btn-sm flex-fill btn-outline-secondary"
        type="button"
        :aria-pressed="workspace.placeOpen"
        title="Shift, scale and turn it by its outline"
        data-place-by-hand
        @click="workspace.placeOpen = !workspace.placeOpen"
      >
        <i class="bi bi-bounding-box" /> By hand
      </button>
      <button
        class="btn btn-sm btn-outline-secondary"
        type="button"
        :aria-pressed="workspace.flat"
        :disabled="!workspace.placeOpen"
        title="The screen laid flat"
        data-place-flat
        @click="workspace.flat = !workspace.flat"
      >
        flat
      </button>
    </div>
    <div class="row-line turns">
      <button
        class="btn btn-sm btn-outline-secondary"
        type="button"
        aria-label="A quarter turn to the left"
        title="A quarter turn to the left"
        @click="change((p) => (p.quarters = ((p.quarters ?? 0) + 3) % 4))"
      >
        <i class="bi bi-arrow-counterclockwise" />
      </button>
      <button
        class="btn btn-sm btn-outline-secondary"
        type="button"
        aria-label="A quarter turn to the right"
        title="A quarter turn to the right"
        @click="change((p) => (p.quarters = ((p.quarters ?? 0) + 1) % 4))"
      >
        <i class="bi bi-arrow-clockwise" />
      </button>
      <button
        class="btn btn-sm btn-outline-secondary"
        type="button"
        :aria-pressed="place.mirror?.[0] ?? false"
        aria-label="Mirror left to right"
        title="Mirror left to right"
        @click="mirror(0)"
      >
        <i class="bi bi-symmetry-vertical" />
      </button>
      <button
        class="btn btn-sm btn-outline-secondary"
        type="button"
        :aria-pressed="place.mirror?.[1] ?? false"
        aria-label="Mirror top to bottom"
        title="Mirror top to bottom"
        @click="mirror(1)"
      >
        <i class="bi bi-symmetry-horizontal" />
      </button>
      <span class="spacer" />
      <button
        v-if="altered"
        class="use-button"
        type="button"
        @click="
          doc.edit((d) => {
            delete d.look.place;
          })
        "
      >
        as it was
      </button>
    </div>
    <div class="pairs">
      <NumberField
        label="Right"
        unit="%"
        :value="100 * pair('offset', 0, 0)"
        :step="0.5"
        :digits="2"
        @commit="setPair('offset', 0, $event / 100, 0)"
      /><NumberField
        label="Down"
        unit="%"
        :value="100 * pair('offset', 1, 0)"
        :step="0.5"
        :digits="2"
        @commit="setPair('offset', 1, $event / 100, 0)"
      />
      <NumberField
        label="Wide"
        unit="%"
        :value="100 * pair('scale', 0, 1)"
        :step="1"
        :digits="2"
        @commit="setPair('scale', 0, $event / 100, 1)"
      /><NumberField
        label="High"
        unit="%"
        :value="100 * pair('scale', 1, 1)"
        :step="1"
        :digits="2"
        @commit="setPair('scale', 1, $event / 100, 1)"
      />
      <NumberField
        label="Lean"
        unit="°"
        :value="pair('shear', 0, 0)"
        :min="-89"
        :max="89"
        :step="0.5"
        :digits="2"
        @commit="setPair('shear', 0, $event, 0)"
      /><NumberField
        label="Fall"
        unit="°"
        :value="pair('shear', 1, 0)"
        :min="-89"
        :max="89"
        :step="0.5"
        :digits="2"
        @commit="setPair('shear', 1, $event, 0)"
      />
      <NumberField
        label="Turn"
        unit="°"
        :value="place.turn ?? 0"
        :step="0.5"
        :digits="2"
        @commit="(v) => change((p) => (p.turn = v))"
      />
    </div>
    <p class="quiet mt-2 mb-1">Cut off, content pixels</p>
    <div class="pairs">
      <NumberField
        v-for="(side, i) in SIDES"
        :key="side"
        :label="side"
        unit="px"
        :value="place.crop?.[i] ?? 0"
        :min="0"
        :max="100000"
        @commit="setCrop(i, $event)"
      />
    </div>
  </section>
</template>

<style scoped>
.pairs {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 14px;
  --field-width: 46px;
}
.turns {
  gap: 6px;
  margin: 6px 0;
}
.spacer {
  flex: 1;
}
[aria-pressed='true'] {
  background: var(--accent-soft);
}
</style>
