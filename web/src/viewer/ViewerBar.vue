<script setup lang="ts">
import { computed } from 'vue';
import IconButton from '../components/IconButton.vue';
import { useDocument } from '../stores/document.ts';
import { usePictureOnShow } from '../stores/picture-on-show.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useViewing } from '../stores/viewing.ts';
import { useWorkspace } from '../stores/workspace.ts';
import CompareMenu from './CompareMenu.vue';
import ViewMenu from './ViewMenu.vue';
import { startWipe } from './start-wipe.ts';

/** Under the picture: transport, what is laid over it, how it is viewed, and the pixel under the pointer. */
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const workspace = useWorkspace();
const viewing = useViewing();
const onShow = usePictureOnShow();
const hasResult = computed(() => ['content', 'front', 'blend', 'send'].includes(workspace.step));
const hasOutlines = computed(() => ['follow', 'seat', 'front'].includes(workspace.step));
const canWipe = computed(
  () =>
    viewing.wipe !== null ||
    (doc.document !== null && doc.document.corners !== null && doc.document.contentId !== null),
);
const pixel = computed(() => {
  const facts = shot.plate?.facts;
  const at = workspace.pointer;
  // Named so that the readout follows the picture, not only the pointer.
  void onShow.picture;
  const after = facts && at && onShow.codesAt(at.x, at.y, facts.width, facts.height);
  const before =
    facts && at && onShow.shows === 'result' ? onShow.codesAt(at.x, at.y, facts.width, facts.height, 'plain') : null;
  if (!after || !at) return null;
  return {
    x: at.x.toFixed(1),
    y: at.y.toFixed(1),
    codes: (before ?? after).join(' '),
    values: three(before ?? after),
    finished: before ? { codes: after.join(' '), values: three(after) } : null,
  };
});
const three = (codes: readonly number[]) => codes.map((c) => (c / 255).toFixed(2)).join(' ');
/** What the plate's rate is, and what is really shown. */
const rate = computed(() => {
  const [n, d] = shot.plate?.facts?.rate ?? [25, 1];
  const wanted = Number((n / d).toFixed(2));
  return head.shownRate > 0 && head.shownRate < wanted - 1
    ? { text: `${head.shownRate} of ${wanted} fps`, behind: true }
    : { text: `${wanted} fps`, behind: false };
});
</script>

<template>
  <div class="viewer-bar">
    <span class="cluster">
      <IconButton icon="chevron-left" label="One frame back" title="One frame back (,)" @click="head.step(-1)" />
      <IconButton
        :icon="head.playing ? 'pause-fill' : 'play-fill'"
        :label="head.playing ? 'Stop playing' : 'Play'"
        title="Play (Space)"
        @click="head.toggle()"
      />
      <IconButton icon="chevron-right" label="One frame on" title="One frame on (.)" @click="head.step(1)" />
      <button
        class="bar-word rate"
        type="button"
        :aria-pressed="head.everyFrame"
        :title="
          head.everyFrame
            ? 'Every frame is shown, however long it takes. Press to keep to the rate.'
            : 'Keeps to the rate and leaves frames out. Press to show every frame.'
        "
        data-play-rate
        @click="head.everyFrame = !head.everyFrame"
      >
        {{ head.everyFrame ? 'every frame' : head.playing ? rate.text : rate.behind ? rate.text : 'at rate' }}
      </button>
    </span>
    <button
      v-if="hasOutlines"
      class="toggle"
      type="button"
      :aria-pressed="workspace.showOutlines"
      title="Outlines (O)"
      @click="workspace.showOutlines = !workspace.showOutlines"
    >
      <i class="bi bi-bounding-box" /> <span class="spare">Outline</span>
    </button>
    <button
      v-if="workspace.step === 'seat'"
      class="toggle"
      type="button"
      :aria-pressed="workspace.showGrid"
      @click="workspace.showGrid = !workspace.showGrid"
    >
      <i class="bi bi-grid-3x3" /> Grid
    </button>
    <button
      v-if="hasResult"
      class="toggle"
      type="button"
      :aria-pressed="workspace.showResult"
      title="Finished picture or plate (V)"
      @click="workspace.showResult = !workspace.showResult"
    >
      <i class="bi bi-layers" /> Finished
    </button>
    <IconButton
      v-if="canWipe"
      icon="layout-split"
      label="Border between plate and finished picture"
      :aria-pressed="viewing.wipe !== null"
      title="Plate and finished picture side by side, with a border to drag and turn (B)"
      @click="startWipe()"
    />
    <IconButton
      v-if="workspace.step === 'blend'"
      icon="graph-up"
      label="Scopes"
      :aria-pressed="workspace.showScopes"
      title="Scopes: levels, edges and noise of the content beside the plate’s"
      @click="workspace.showScopes = !workspace.showScopes"
    />
    <CompareMenu v-if="hasResult && canWipe" />
    <IconButton
      icon="eyedropper"
      label="Measure a square"
      :aria-pressed="workspace.tool === 'measure'"
      title="Measure a square (M)"
      @click="workspace.tool = workspace.tool === 'measure' ? 'look' : 'measure'"
    />
    <ViewMenu />
    <span class="cluster">
      <IconButton
        icon="aspect-ratio"
        label="Show all of it"
        title="Show all of it (F)"
        @click="workspace.viewRequest = { kind: 'fit' }"
      />
      <button
        class="bar-word"
        type="button"
        title="One screen pixel for a plate pixel (1)"
        data-zoom
        @click="workspace.viewRequest = { kind: 'actual' }"
      >
        {{ Math.round(100 * workspace.scale) }} %
      </button>
    </span>
    <span class="spacer" />
    <span v-if="pixel" class="readout" data-readout>
      <span class="place"><span class="quiet">x</span> {{ pixel.x }} <span class="quiet">y</span> {{ pixel.y }}</span>
      <span
        class="values"
        :title="pixel.finished ? 'Plate, and below it the finished picture: codes, and 0 to 1' : 'Codes, and 0 to 1'"
        ><b>{{ pixel.codes }}</b> <span class="quiet">{{ pixel.values }}</span
        ><template v-if="pixel.finished"
          ><b>{{ pixel.finished.codes }}</b> <span class="quiet">{{ pixel.finished.values }}</span></template
        ></span
      >
    </span>
  </div>
</template>

<style scoped>
.viewer-bar {
  container-type: inline-size;
  height: 36px;
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 0 10px;
  border-top: 1px solid var(--line);
  background: var(--paper);
  font-size: 13px;
  white-space: nowrap;
}
.cluster {
  display: flex;
  align-items: center;
}
.toggle {
  border: 0;
  background: none;
  color: var(--ink);
  border-radius: 3px;
  padding: 3px 8px;
  font-size: 13px;
  text-decoration: none;
}
.toggle:hover {
  background: var(--paper-sunk);
  color: var(--ink);
}
.toggle[aria-pressed='true'],
.icon-button[aria-pressed='true'] {
  background: var(--accent-soft);
}
.bar-word.rate {
  min-width: 76px;
}
.readout {
  min-width: 0;
  overflow: hidden;
  font-variant-numeric: tabular-nums;
  display: flex;
  align-items: center;
  gap: 8px;
  line-height: 15px;
}
.values {
  display: grid;
  grid-template-columns: auto auto;
  column-gap: 6px;
}
/* Beside a panel on a narrow screen: what the pixel is stays whole, in codes. */
@container (max-width: 960px) {
  .spare {
    position: absolute;
    clip-path: inset(50%);
    width: 1px;
    overflow: hidden;
  }
  .place {
    display: grid;
    grid-template-columns: auto auto;
    column-gap: 4px;
    text-align: right;
  }
  .values {
    grid-template-columns: auto;
  }
  .values .quiet {
    display: none;
  }
}
</style>
