<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { clamp } from '../../../../core/base/geometry/clamp.ts';
import { codeToLight, lightToCode } from '../../../../core/base/image/transfer.ts';
import type { ColourKey } from '../../../../core/base/schemas/types.ts';
import { canBeKeyed, KEY_DEFAULTS } from '../../../../core/picture/matte/colour-key.ts';
import { call } from '../../api/client.ts';
import IconButton from '../../components/IconButton.vue';
import NumberField from '../../components/NumberField.vue';
import ReasonMark from '../blend/ReasonMark.vue';
import { useLook } from '../blend/use-look.ts';
import { useDocument } from '../../stores/document.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePictureOnShow } from '../../stores/picture-on-show.ts';
import { useProposal } from '../../stores/proposal.ts';
import { useSaving } from '../../stores/saving.ts';
import { useShot } from '../../stores/shot.ts';
import { useWorkspace } from '../../stores/workspace.ts';

/** A key of the screen's colour: proposed from the shot, or picked by dragging over it. */
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const { change: changeLook, whyOf } = useLook();
const proposal = useProposal();
const workspace = useWorkspace();
const notices = useNotices();
const onShow = usePictureOnShow();
const measuring = ref(false);
const keys = computed<readonly ColourKey[]>(() =>
  Array.isArray(doc.document!.look.keys) ? doc.document!.look.keys : [],
);
const markers = computed(() => doc.document!.look.markers?.length ?? 0);

/** What is proposed becomes the key, the markers and the spill: one step of undo. */
async function propose(): Promise<void> {
  measuring.value = true;
  await notices.guard(async () => {
    if (!(await saving.saved())) return;
    const found = await call('POST', `/shots/${shot.shot!.id}/front`, 'frontReply');
    if (found.keys.length === 0) {
      notices.add(
        'The screen shows no colour that tells it from what stands before it. Draw shapes, or pick a colour.',
      );
      return;
    }
    doc.edit((draft) => {
      draft.look.keys = found.keys;
      draft.look.markers = found.markers;
      if (found.spill) draft.look.spill = { ...found.spill };
      draft.look.why = {
        ...draft.look.why,
        ...Object.fromEntries(
          Object.entries(found.why).map(([name, why]) => [name, { ...why, basis: proposal.basis }]),
        ),
      };
    });
  });
  measuring.value = false;
}

/** Whether the square that is dragged next is a colour picked for a key: which one, or a new one. */
const picking = ref<number | null>(null);
function pick(index: number): void {
  picking.value = index;
  workspace.measured = null;
  workspace.tool = 'pick-colour';
}
watch(
  () => workspace.measured,
  (square) => {
    if (workspace.tool !== 'pick-colour' || !square || square.width < 1 || picking.value === null) return;
    const facts = shot.plate!.facts!;
    const sum = [0, 0, 0];
    let n = 0;
    for (let y = square.y + 0.5; y < square.y + square.height; y++) {
      for (let x = square.x + 0.5; x < square.x + square.width; x++) {
        const codes = onShow.codesAt(x, y, facts.width, facts.height, onShow.shows === 'result' ? 'plain' : undefined);
        if (!codes) continue;
        codes.forEach((code, c) => (sum[c]! += codeToLight(code / 255)));
        n++;
      }
    }
    if (n === 0) return;
    const colour = sum.map((v) => Number((v / n).toFixed(5))) as ColourKey['colour'];
    const index = picking.value;
    workspace.tool = 'look';
    workspace.measured = null;
    if (!canBeKeyed(colour)) {
      notices.add(
        'That is too near grey to tell the screen from what stands before it. Drag over the coloured part of the screen.',
      );
      return;
    }
    changeLook((look) => {
      const list = Array.isArray(look.keys) ? look.keys : [];
      if (list[index]) list[index].colour = colour;
      else list.push({ colour });
      look.keys = list;
    }, 'keys');
  },
);

function change(index: number, recipe: (key: ColourKey) => void): void {
  changeLook((look) => {
    if (Array.isArray(look.keys) && look.keys[index]) recipe(look.keys[index]);
  }, 'keys');
}
function remove(index: number): void {
  changeLook((look) => {
    if (!Array.isArray(look.keys)) return;
    const left = look.keys.filter((_, i) => i !== index);
    if (left.length > 0) look.keys = left;
    else delete look.keys;
  }, 'keys');
}
const shade = (colour: readonly number[]) =>
  `rgb(${colour.map((v) => Math.round(255 * lightToCode(clamp(v, 0, 1)))).join(' ')})`;
const percent = (v: number) => 100 * v;
</script>

<template>
  <section class="section">
    <header>
      <h2>
        Key<ReasonMark
          v-if="whyOf('keys').why && keys.length > 0"
          title="Key"
          :why="whyOf('keys').why!"
          :stale="whyOf('keys').stale"
        />
      </h2>
      <span class="quiet">its colour lets content through</span>
    </header>
    <p v-if="keys.length === 0" class="quiet">A green, blue or other coloured screen is found by itself.</p>
    <div class="row-line">
      <button
        class="btn btn-sm flex-fill"
        :class="keys.length === 0 ? 'btn-primary' : 'btn-outline-secondary'"
        type="button"
        :disabled="measuring"
        data-propose-key
        @click="propose"
      >
        <i class="bi bi-rulers" />
        {{ measuring ? 'Measuring …' : keys.length === 0 ? 'Propose a key' : 'Measure again' }}
      </button>
      <button
        class="btn btn-sm btn-outline-secondary"
        type="button"
        title="Drag over the screen’s colour"
        @click="pick(keys.length)"
      >
        <i class="bi bi-eyedropper" /> Pick
      </button>
    </div>
    <div v-for="(key, i) in keys" :key="i" class="key" :class="{ off: key.off }" :data-colour-key="i">
      <div class="head">
        <button
          class="swatch"
          type="button"
          :style="{ background: shade(key.colour) }"
          :aria-label="`Colour of key ${i + 1}: pick it again`"
          title="Pick it again by dragging over the screen"
          @click="pick(i)"
        />
        <b class="flex-fill">Key {{ i + 1 }}</b>
        <IconButton
          :icon="key.off ? 'eye-slash' : 'eye'"
          :label="`Use key ${i + 1}`"
          :aria-pressed="!key.off"
          @click="
            change(i, (k) => {
              if (k.off) delete k.off;
              else k.off = true;
            })
          "
        />
        <IconButton icon="trash" :label="`Remove key ${i + 1}`" @click="remove(i)" />
      </div>
      <NumberField
        label="Floor: clear up to"
        unit="%"
        :value="percent(key.floor ?? KEY_DEFAULTS.floor)"
        :min="0"
        :max="percent(key.ceiling ?? KEY_DEFAULTS.ceiling) - 1"
        :step="1"
        :digits="1"
        @commit="(v) => change(i, (k) => (k.floor = v / 100))"
      />
      <NumberField
        label="Ceiling: solid from"
        unit="%"
        :value="percent(key.ceiling ?? KEY_DEFAULTS.ceiling)"
        :min="percent(key.floor ?? KEY_DEFAULTS.floor) + 1"
        :max="200"
        :step="1"
        :digits="1"
        @commit="(v) => change(i, (k) => (k.ceiling = v / 100))"
      />
      <NumberField
        label="Grow what is in front"
        unit="px"
        :value="key.grow ?? KEY_DEFAULTS.grow"
        :min="-50"
        :max="50"
        :step="0.1"
        :digits="2"
        @commit="(v) => change(i, (k) => (k.grow = v))"
      />
      <NumberField
        label="Denoise for the key"
        unit="px"
        title="Only for reading the matte: the picture keeps its grain"
        :value="key.denoise ?? 0"
        :min="0"
        :max="6"
        :step="0.25"
        :digits="2"
        @commit="
          (v) =>
            change(i, (k) => {
              if (v > 0) k.denoise = v;
              else delete k.denoise;
            })
        "
      />
      <NumberField
        label="Blur"
        unit="px"
        :value="key.blur ?? KEY_DEFAULTS.blur"
        :min="0"
        :max="50"
        :step="0.1"
        :digits="2"
        @commit="(v) => change(i, (k) => (k.blur = v))"
      />
      <NumberField
        label="Reach past the outline"
        unit="px"
        :value="key.reach ?? KEY_DEFAULTS.reach"
        :min="0"
        :max="1000"
        :step="0.5"
        :digits="1"
        @commit="(v) => change(i, (k) => (k.reach = v))"
      />
    </div>
    <p v-if="markers > 0" class="quiet mt-2 mb-0">
      {{ markers }} {{ markers === 1 ? 'mark' : 'marks' }} on the screen grown over.
      <button
        class="use-button"
        type="button"
        @click="
          doc.edit((d) => {
            delete d.look.markers;
          })
        "
      >
        leave them in
      </button>
    </p>
  </section>
</template>

<style scoped>
.key {
  border-top: 1px solid var(--line);
  margin-top: 8px;
  padding-top: 6px;
}
.key.off > :not(.head) {
  opacity: 0.5;
}
.head {
  display: flex;
  align-items: center;
  gap: 8px;
}
.swatch {
  width: 34px;
  height: 22px;
  border: 1px solid var(--ink);
  border-radius: 3px;
}
</style>
