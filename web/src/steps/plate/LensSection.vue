<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { lensFromScene, reachOf } from '../../../../core/motion/scene/lens-from-scene.ts';
import type { Lens, LensFromLines, LensOffer } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import NumberField from '../../components/NumberField.vue';
import { useWorkspace } from '../../stores/workspace.ts';
import { useNotices } from '../../stores/notices.ts';
import { useScene } from '../../stores/scene.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { useSaving } from '../../stores/saving.ts';
import LensPictures from './LensPictures.vue';
import { changeScene } from '../follow/scene/scene-edits.ts';

/** Wide lenses and phones bend what is straight. A lens that is known is taken out for following, and content is bent as it bends. */
const workspace = useWorkspace();
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const scene = useScene();
const notices = useNotices();
const facts = computed(() => shot.plate!.facts!);
const lens = computed(() => doc.document?.lens ?? null);
const TERMS = 2;
const found = computed((): Lens | null => {
  const told = scene.scene && lensFromScene(scene.scene, facts.value.width, facts.value.height);
  return told ? { ...told, centre: [...told.centre] } : null;
});
const reach = (l: Lens) =>
  `moves the picture’s corners by ${reachOf(l, facts.value.width, facts.value.height).toFixed(1)} px`;
const same = (a: Lens, b: Lens) => JSON.stringify(a) === JSON.stringify(b);
const offers = ref<LensOffer[]>([]);
watch(
  () => [shot.shot?.id, shot.plate?.id],
  () =>
    void notices.guard(async () => {
      offers.value = [];
      if (shot.shot) offers.value = await call('GET', `/shots/${shot.shot.id}/lenses`, 'lensOffers');
    }),
  { immediate: true },
);
/** Of other shots, those that are another lens. */
const others = computed(() => offers.value.filter((offer) => !lens.value || !same(offer.lens, lens.value)));
const take = (l: Lens) =>
  doc.edit((draft) => {
    draft.lens = { ...l, centre: [...l.centre] };
  });
/** A focal length that pictures tell is the shot's as well. */
const takeOf = (l: Lens, focal: number | null) =>
  doc.edit((draft) => {
    draft.lens = { ...l, centre: [...l.centre] };
    if (focal !== null) draft.focal = focal;
  });
const begin = () =>
  take({
    k1: 0,
    k2: 0,
    k3: 0,
    centre: [facts.value.width / 2, facts.value.height / 2],
    focal: Math.round(doc.document?.focal ?? 1.1 * facts.value.width),
  });
const change = (recipe: (l: Lens) => void) =>
  doc.edit((draft) => {
    if (draft.lens) recipe(draft.lens);
  });
const drop = () =>
  doc.edit((draft) => {
    delete draft.lens;
  });
const looked = computed(() => (scene.file && scene.reply?.current && (doc.document?.scene?.terms ?? 0) > 0) === true);
const nothing = computed(() =>
  !looked.value || found.value
    ? null
    : scene.file!.motion === 'still'
      ? 'The camera stands still, which tells nothing of its lens.'
      : scene.file!.zooms
        ? 'The lens zooms: no one distortion holds for all frames.'
        : 'This lens bends nothing that could be seen.',
);
/** What lines tell: drawn ones, and the surface's borders over the shot. */
const lines = ref<LensFromLines | null>(null);
const looking = ref(false);
const pictures = ref(false);
const fromLines = () =>
  notices.guard(async () => {
    looking.value = true;
    try {
      if (shot.shot && (await saving.saved()))
        lines.value = await call('POST', `/shots/${shot.shot.id}/lens`, 'lensLines');
    } finally {
      looking.value = false;
    }
  });
watch(
  () => shot.shot?.id,
  () => (lines.value = null),
);
const drawn = computed(() => doc.document?.straightLines ?? []);
const estimate = () =>
  notices.guard(async () => {
    doc.edit((draft) =>
      changeScene(draft, (s) => {
        s.terms = TERMS;
      }),
    );
    await scene.solve();
  });
</script>

<template>
  <section class="section" data-lens>
    <header>
      <h2>Lens</h2>
      <span v-if="lens" class="quiet" data-lens-reach>{{ reach(lens) }}</span>
    </header>
    <p v-if="!lens" class="quiet">
      For wide lenses and phones, when straight edges look bent near the picture’s border. Without one nothing is
      changed.
    </p>
    <div v-else class="rows">
      <NumberField
        label="k1"
        :digits="5"
        :step="0.001"
        :value="lens.k1"
        :min="-2"
        :max="2"
        @commit="
          (v) =>
            change((l) => {
              l.k1 = v;
            })
        "
      />
      <NumberField
        label="k2"
        :digits="5"
        :step="0.001"
        :value="lens.k2"
        :min="-4"
        :max="4"
        @commit="
          (v) =>
            change((l) => {
              l.k2 = v;
            })
        "
      />
      <NumberField
        label="k3"
        :digits="5"
        :step="0.001"
        :value="lens.k3"
        :min="-8"
        :max="8"
        @commit="
          (v) =>
            change((l) => {
              l.k3 = v;
            })
        "
      />
      <NumberField
        label="Middle across"
        unit="px"
        :digits="2"
        :value="lens.centre[0]"
        @commit="
          (v) =>
            change((l) => {
              l.centre = [v, l.centre[1]];
            })
        "
      />
      <NumberField
        label="Middle down"
        unit="px"
        :digits="2"
        :value="lens.centre[1]"
        @commit="
          (v) =>
            change((l) => {
              l.centre = [l.centre[0], v];
            })
        "
      />
      <NumberField
        label="Focal length"
        unit="px"
        :digits="2"
        :value="lens.focal"
        :min="1"
        @commit="
          (v) =>
            change((l) => {
              l.focal = v;
            })
        "
      />
    </div>
    <p v-if="lens" class="quiet mt-2">
      The lines over the picture would be straight without it. A follow takes it out; after a change, follow anew.
    </p>
    <div v-if="found && !(lens && same(found, lens))" class="row-line">
      <span>From the room: k1 {{ found.k1.toFixed(4) }}<br /><span class="quiet">{{ reach(found) }}</span></span
      ><button class="use-button" type="button" data-use-lens @click="take(found)">use it</button>
    </div>
    <div v-if="lines?.lens && !(lens && same(lines.lens, lens))" class="row-line" data-lens-lines>
      <span
        >From {{ lines.lines }} lines: k1 {{ lines.lens.k1.toFixed(4) }}<br /><span class="quiet"
          >{{ reach(lines.lens) }}, ± {{ lines.bound.toFixed(1) }}; lines {{ lines.before.toFixed(2) }} →
          {{ lines.rms.toFixed(2) }} px off straight</span
        ></span
      ><button class="use-button" type="button" data-use-lines @click="take(lines.lens)">use it</button>
    </div>
    <p v-else-if="lines && !lines.lens" class="notice" data-lens-lines="none">
      {{
        lines.lines === 0
          ? 'No border of the screen could be followed along its length.'
          : `${lines.lines} ${lines.lines === 1 ? 'line tells' : 'lines tell'} too little.`
      }}
      Draw along what is straight near the picture’s border: a shelf, a door, a window.
    </p>
    <div v-if="drawn.length > 0" class="row-line">
      <span class="quiet">{{ drawn.length }} {{ drawn.length === 1 ? 'line' : 'lines' }} drawn</span
      ><button
        class="use-button"
        type="button"
        @click="
          doc.edit((draft) => {
            delete draft.straightLines;
          })
        "
      >
        without them
      </button>
    </div>
    <p v-if="nothing" class="notice" data-lens-nothing>{{ nothing }}</p>
    <div v-for="offer in others" :key="offer.shotId" class="row-line">
      <span>As in {{ offer.shot }}</span
      ><button class="use-button" type="button" @click="take(offer.lens)">use it</button>
    </div>
    <div class="tools">
      <BButton
        variant="outline-secondary"
        :disabled="!!shot.running || looked"
        title="Follows what stands still around, and solves camera and lens from it"
        data-estimate-lens
        @click="estimate"
        ><i class="bi bi-magic" /> {{ scene.running ? 'Looking …' : 'By the room' }}</BButton
      >
      <BButton
        variant="outline-secondary"
        :disabled="looking || (!doc.document?.corners && drawn.length === 0)"
        title="By the screen’s borders over the shot, and what was drawn"
        data-lens-by-lines
        @click="fromLines"
        ><i class="bi bi-border-outer" /> {{ looking ? 'Looking …' : 'By lines' }}</BButton
      >
      <BButton
        variant="outline-secondary"
        :pressed="workspace.tool === 'draw-straight'"
        title="Along something that is straight in the world"
        data-draw-straight
        @click="workspace.tool = workspace.tool === 'draw-straight' ? 'look' : 'draw-straight'"
        ><i class="bi bi-slash-lg" /> Draw a line</BButton
      >
      <BButton
        variant="outline-secondary"
        :pressed="pictures"
        title="Chessboards that the same camera has filmed, or an ST map"
        data-lens-by-pictures
        @click="pictures = !pictures"
        ><i class="bi bi-grid-3x3" /> By pictures</BButton
      >
      <BButton v-if="!lens" variant="outline-secondary" @click="begin"><i class="bi bi-pencil" /> By hand</BButton>
      <BButton v-else variant="outline-secondary" data-drop-lens @click="drop"
        ><i class="bi bi-x-lg" /> No lens</BButton
      >
    </div>
    <LensPictures v-if="pictures" :same="(l) => lens !== null && same(lens, l)" @take="takeOf" />
  </section>
</template>

<style scoped>
.tools {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
  margin-top: 8px;
}
.tools .btn {
  white-space: nowrap;
  padding-inline: 4px;
}
</style>
