<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue';
import type { CleanFixFile } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import AppCheck from '../../components/AppCheck.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import IconButton from '../../components/IconButton.vue';
import NumberField from '../../components/NumberField.vue';
import { mark } from '../../components/choice.ts';
import { keyFrames } from '../follow/edit-outline.ts';
import { homeOf } from '../follow/outlines-of.ts';
import { removeOutline } from '../follow/remove-outline.ts';
import CleanFixFields from './CleanFixFields.vue';
import { changeFix, fixesOf, fixShapes } from './fix-edits.ts';
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
const take = (tool: Tool) => {
  workspace.tool = workspace.tool === tool ? 'look' : tool;
  if (workspace.tool !== 'look' && workspace.frontView !== 'cleaned') workspace.frontView = 'cleaned';
};
const setOff = (index: number, off: boolean) =>
  doc.edit((draft) => changeFix(draft, index, (fix) => mark(fix, 'off', off)));
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
      <CleanFixFields v-if="picked !== null" :index="picked" />
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
</style>
