<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue';
import { polygonOf } from '../../../../core/base/geometry/outline.ts';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import type { CleanFixFile } from '../../../../core/base/schemas/types.ts';
import { MOST_COVERED } from '../../../../core/picture/composite/check-look.ts';
import { coveredShare } from '../../../../core/picture/look/clean-fix.ts';
import { call } from '../../api/client.ts';
import AppCheck from '../../components/AppCheck.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import IconButton from '../../components/IconButton.vue';
import NumberField from '../../components/NumberField.vue';
import { keyFrames } from '../follow/edit-outline.ts';
import { homeOf } from '../follow/outlines-of.ts';
import { removeOutline } from '../follow/remove-outline.ts';
import { FILL_SAYS, FILLS, fixesOf, fixShapes, inShares, setFill } from './fix-edits.ts';
import { rideOn } from './ride-on.ts';
import { useDocument } from '../../stores/document.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useSaving } from '../../stores/saving.ts';
import { useShot } from '../../stores/shot.ts';
import { useWorkspace, type Tool } from '../../stores/workspace.ts';

/** Marks, stickers, stains, mirrored crew: painted out of the plate, each by one fix on all frames, before anything else is done to it. */
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const placed = usePlacedCorners();
const workspace = useWorkspace();
const head = usePlayhead();
const notices = useNotices();
const finding = ref(false);
/** Frames on which the screen is known. */
const seen = computed(
  () => Array.from({ length: shot.frames }, (_, frame) => frame).filter((frame) => placed.cornersAt(frame)).length,
);
const fixes = computed(() => fixesOf(doc.document!));
const shapes = computed(() => fixShapes(doc.document!));
const picked = computed(() =>
  workspace.picked?.list === 'fixes' && workspace.picked.index < fixes.value.length ? workspace.picked.index : null,
);
const only = computed(() => (picked.value === null ? null : fixes.value[picked.value]!));
/** Where the picked fix lies on the reference, in shares of the surface. */
const shares = computed(() =>
  picked.value === null || !doc.document!.corners
    ? []
    : (inShares(polygonOf(shapes.value[picked.value]! as never), doc.document!.corners as Quad) ?? []),
);
const covers = computed(() => (only.value?.shape?.rides === 'plate' ? 0 : coveredShare(shares.value)));
const soft = computed(() => only.value?.soft ?? 1.5);
const opacity = computed(() => (typeof only.value?.shape?.opacity === 'number' ? only.value.shape.opacity : 1));

function change(recipe: (fix: CleanFixFile) => void, index = picked.value): void {
  if (index === null) return;
  doc.edit((draft) => {
    const fix = fixesOf(draft)[index];
    if (!fix) return;
    fixShapes(draft);
    recipe(fix);
  });
}
const take = (tool: Tool) => {
  workspace.tool = workspace.tool === tool ? 'look' : tool;
  if (workspace.tool !== 'look' && workspace.frontView !== 'cleaned') workspace.frontView = 'cleaned';
};
const setOff = (index: number, off: boolean) =>
  change((fix) => {
    if (off) fix.off = true;
    else delete fix.off;
  }, index);
/** What is found is added to what was drawn: one step of undo. */
async function find(): Promise<void> {
  finding.value = true;
  await notices.guard(async () => {
    if (!(await saving.saved())) return;
    const { fixes: found } = await call('POST', `/shots/${shot.shot!.id}/marks`, 'marksReply');
    if (found.length === 0) {
      notices.add(
        seen.value < 3
          ? 'Marks are recognised by riding with the screen over several frames: follow the screen first, or draw around what is to go.'
          : 'No marks were found that ride with the screen and stand out from it. Draw around what is to go, or paint over it.',
      );
      return;
    }
    doc.edit((draft) => (draft.look.clean = { ...draft.look.clean, fixes: [...fixesOf(draft), ...found] }));
    workspace.frontView = 'cleaned';
  });
  finding.value = false;
}
function setFrames(side: 0 | 1, frame: number): void {
  change((fix) => {
    const pair: [number, number] = [...(fix.frames ?? [0, shot.frames - 1])];
    pair[side] = frame;
    fix.frames = pair[0] <= pair[1] ? pair : [frame, frame];
  });
}
function tickFrames(on: boolean): void {
  change((fix) => {
    if (on) fix.frames = [head.frame, shot.frames - 1];
    else delete fix.frames;
  });
}
function setGrain(on: boolean): void {
  doc.edit((draft) => {
    if (on) delete draft.look.clean!.grain;
    else draft.look.clean!.grain = false;
  });
}
const nameOf = (fix: CleanFixFile, i: number) => fix.name ?? `Fix ${i + 1}`;
const about = (fix: CleanFixFile, i: number) => {
  const keys = keyFrames(shapes.value[i]!, homeOf(doc.document!, shapes.value[i]!)).length;
  return [
    fix.method,
    ...(fix.shape?.rides === 'plate' ? ['in the picture'] : []),
    ...(keys > 0 ? [`${keys} keys`] : []),
    ...(fix.frames ? [`frames ${fix.frames.join('–')}`] : []),
  ].join(' · ');
};
/** On the frame on show nothing around it tells what it should look like. */
const blind = (i: number) => workspace.unfilled.frame === head.frame && workspace.unfilled.fixes.includes(i);
/** The one that is picked is in sight of its list, also when it was picked in the picture or has just been drawn. */
const rows = useTemplateRef<HTMLElement>('rows');
watch(
  picked,
  (index) => {
    if (index !== null) rows.value?.children[index]?.scrollIntoView({ block: 'nearest' });
  },
  { flush: 'post' },
);
const VIEWS = ['finished', 'cleaned', 'plate'] as const;
</script>

<template>
  <section class="section" data-clean>
    <header>
      <h2>Paint out</h2>
      <span class="quiet">once, for all frames</span>
    </header>
    <p v-if="fixes.length === 0" class="quiet">
      For marks on the screen, a sticker on its frame, a stain, somebody mirrored in the glass: each goes by one fix
      that rides along, before anything is keyed or laid on.
    </p>
    <button
      class="btn btn-sm w-100"
      :class="fixes.length === 0 ? 'btn-primary' : 'btn-outline-secondary'"
      type="button"
      :disabled="finding"
      data-find-marks
      @click="find"
    >
      <i class="bi bi-search" /> {{ finding ? 'Looking …' : 'Find marks' }}
    </button>
    <div class="row-line mt-2">
      <button
        class="btn btn-sm btn-outline-secondary flex-fill"
        type="button"
        :aria-pressed="workspace.tool === 'draw-fix'"
        title="Click around what is to go"
        @click="take('draw-fix')"
      >
        <i class="bi bi-bezier2" /> Draw
      </button>
      <button
        class="btn btn-sm btn-outline-secondary flex-fill"
        type="button"
        :aria-pressed="workspace.tool === 'brush-fix'"
        title="Paint over what is to go"
        @click="take('brush-fix')"
      >
        <i class="bi bi-brush" /> Brush
      </button>
    </div>
    <NumberField
      v-if="workspace.tool === 'brush-fix'"
      label="Brush width"
      unit="px"
      :value="workspace.brush"
      :min="1"
      :max="500"
      :step="1"
      :digits="1"
      @commit="(v) => (workspace.brush = v)"
    />
    <template v-if="fixes.length > 0">
      <ChoiceRow
        class="mt-2"
        label="With and without"
        :options="VIEWS"
        :value="
          (VIEWS as readonly string[]).includes(workspace.frontView) ? (workspace.frontView as 'finished') : 'finished'
        "
        @choose="(view) => (workspace.frontView = view)"
      />
      <ul ref="rows" class="outline-rows">
        <li v-for="(fix, i) in fixes" :key="i" :class="{ picked: picked === i, off: fix.off }" :data-fix="i">
          <button
            class="entry"
            type="button"
            :aria-pressed="picked === i"
            @click="workspace.picked = { list: 'fixes', index: i }"
          >
            <b>{{ nameOf(fix, i) }}</b><span class="quiet d-block">{{ about(fix, i) }}</span
            ><span v-if="blind(i)" class="d-block blind" data-unfilled
              >left as it is on this frame: nothing around it is seen</span
            >
          </button>
          <IconButton
            :icon="fix.off ? 'eye-slash' : 'eye'"
            :label="`Use ${nameOf(fix, i)}`"
            :aria-pressed="!fix.off"
            @click="setOff(i, !fix.off)"
          />
          <IconButton icon="trash" :label="`Remove ${nameOf(fix, i)}`" @click="removeOutline('fixes', i)" />
        </li>
      </ul>
      <div v-if="only && picked !== null" class="chosen under-rows">
        <ChoiceRow
          label="Filled from"
          :options="FILLS"
          :value="only.method"
          @choose="(method) => change((fix) => setFill(fix, method, shares))"
        />
        <p class="quiet mt-1 mb-1">{{ FILL_SAYS[only.method] }}</p>
        <div class="row-line">
          <span>Moves with</span
          ><ChoiceRow
            label="The fix moves with"
            :options="['surface', 'plate']"
            :value="only.shape?.rides ?? 'surface'"
            @choose="(value) => rideOn('fixes', picked!, value, head.frame)"
          />
        </div>
        <p v-if="covers > MOST_COVERED && only.method !== 'frames'" class="notice" data-too-large>
          It covers {{ Math.round(100 * covers) }} % of the screen: what is left around it does not tell what it should
          look like. Draw it smaller, or fill it from other frames.
        </p>
        <div class="pair">
          <NumberField
            label="Soft"
            unit="px"
            :value="soft"
            :min="0"
            :max="1000"
            :step="0.5"
            :digits="2"
            @commit="(v) => change((fix) => (fix.soft = v))"
          />
          <NumberField
            label="Counts"
            unit="%"
            :value="100 * opacity"
            :min="0"
            :max="100"
            :step="5"
            @commit="
              (v) =>
                change((fix) => {
                  if (fix.shape) fix.shape.opacity = v / 100;
                })
            "
          />
        </div>
        <AppCheck :model-value="only.frames !== undefined" @update:model-value="tickFrames"
          >On some frames only</AppCheck
        >
        <div v-if="only.frames" class="pair">
          <NumberField
            label="From"
            unit=""
            :value="only.frames[0]"
            :min="0"
            :max="shot.frames - 1"
            :step="1"
            :digits="0"
            @commit="setFrames(0, $event)"
          />
          <NumberField
            label="to"
            unit=""
            :value="only.frames[1]"
            :min="0"
            :max="shot.frames - 1"
            :step="1"
            :digits="0"
            @commit="setFrames(1, $event)"
          />
        </div>
      </div>
      <AppCheck :model-value="doc.document!.look.clean?.grain !== false" @update:model-value="setGrain"
        >The plate’s own grain over what is filled</AppCheck
      >
    </template>
  </section>
</template>

<style scoped>
.outline-rows {
  max-height: 264px;
  overflow-y: auto;
}
.blind {
  color: var(--alarm);
  font-size: 13px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  --field-width: 40px;
}
</style>
