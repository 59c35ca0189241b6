<script setup lang="ts">
import { computed, onBeforeUnmount } from 'vue';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import type { Board } from '../../../../core/base/schemas/types.ts';
import AddFromList from '../../components/AddFromList.vue';
import IconButton from '../../components/IconButton.vue';
import BoardShelf from './BoardShelf.vue';
import LayerFields from './LayerFields.vue';
import { alignBy, ALIGNS, duplicateLayer, freshId, setValue, valueAt, type Align } from './board-edits.ts';
import { layerBoxes } from './layer-boxes.ts';
import { firstBoard, layerOfKind, layerOfMedium, type NewLayer } from './new-layers.ts';
import { useBoard } from '../../stores/board.ts';
import { useDocument } from '../../stores/document.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';

/** Content made of layers, in the screen's own pixels. */
const shot = useShot();
const doc = useDocument();
const stage = useBoard();
const head = usePlayhead();
onBeforeUnmount(() => (stage.open = false));
const layers = computed(() => [...(stage.board?.layers ?? [])].reverse());
const KINDS = [
  ['text', 'bi-type', 'Text'],
  ['solid', 'bi-square-fill', 'Solid'],
  ['rounded', 'bi-app', 'Rounded box'],
] as const;
const choices = computed(() => shot.media.filter((m) => m.id !== shot.shot?.plate?.id && m.facts));
/** A board begins as the content that is there: it waits until that is known. */
const contentComing = computed(() => doc.document!.contentId !== null && shot.media.length === 0);
function begin(): void {
  const board = firstBoard(doc.document!.corners as Quad | null, shot.content);
  doc.edit((draft) => {
    draft.look.board = board;
  });
  stage.picked = board.layers.map((l) => l.id);
  stage.open = true;
}
function add(layer: NewLayer): void {
  const board = stage.board!;
  const id = freshId(board);
  stage.change((draft) => void draft.layers.push({ ...layer, id }));
  stage.picked = [id];
}
function addMedium(id: number): void {
  const medium = choices.value.find((m) => m.id === id);
  if (medium) add(layerOfMedium(stage.board!, medium));
}
function remove(id: string): void {
  stage.change((draft) => {
    draft.layers = draft.layers.filter((l) => l.id !== id);
  });
  stage.picked = stage.picked.filter((p) => p !== id);
}
function copy(id: string): void {
  let made = '';
  stage.change((draft) => (made = duplicateLayer(draft, id)));
  stage.picked = [made];
}
function raise(id: string, by: 1 | -1): void {
  stage.change((draft: Board) => {
    const at = draft.layers.findIndex((l) => l.id === id);
    const to = at + by;
    if (to < 0 || to >= draft.layers.length) return;
    const [layer] = draft.layers.splice(at, 1);
    draft.layers.splice(to, 0, layer!);
  });
}
function setOff(id: string, off: boolean): void {
  stage.change((draft) => {
    const layer = draft.layers.find((l) => l.id === id)!;
    if (off) layer.off = true;
    else delete layer.off;
  });
}
async function align(how: Align): Promise<void> {
  const board = stage.board!;
  const frame = head.frame;
  const boxes = await layerBoxes(shot, board, frame);
  const picked = stage.picked.flatMap((id) => (boxes.get(id) ? [[id, boxes.get(id)!] as const] : []));
  // One is aligned with the board, several with the last that was picked.
  const to = picked.length > 1 ? picked.at(-1)![1] : { left: 0, top: 0, right: board.width, bottom: board.height };
  stage.change((draft) => {
    for (const [id, box] of picked) {
      const layer = draft.layers.find((l) => l.id === id)!;
      const [x, y] = valueAt(layer, 'position', frame) as [number, number];
      const [dx, dy] = alignBy(box, to, how);
      if (dx !== 0 || dy !== 0) setValue(layer, 'position', frame, [x + dx, y + dy]);
    }
  });
}
function giveUp(): void {
  stage.open = false;
  doc.edit((draft) => {
    delete draft.look.board;
  });
}
const ICONS = {
  left: 'align-start',
  middle: 'align-center',
  right: 'align-end',
  top: 'align-top',
  centre: 'align-middle',
  bottom: 'align-bottom',
} as const;
</script>

<template>
  <section class="section">
    <header>
      <h2>Board</h2>
      <span class="quiet">{{
        stage.board ? `${stage.board.width}×${stage.board.height}, in place of the content` : 'layers, moving over time'
      }}</span>
    </header>
    <template v-if="!stage.board">
      <p class="quiet">
        For a page that scrolls, a message that appears: pictures, text and boxes with keys on the plate’s frames.
      </p>
      <button
        class="btn btn-sm btn-outline-secondary w-100"
        type="button"
        data-begin-board
        :disabled="contentComing"
        @click="begin"
      >
        <i class="bi bi-layers-half" /> Make a board{{ shot.content ? ' of this' : '' }}
      </button>
    </template>
    <template v-else>
      <div class="row-line">
        <button
          class="btn btn-sm flex-fill"
          :class="stage.open ? 'btn-primary' : 'btn-outline-secondary'"
          type="button"
          :aria-pressed="stage.open"
          data-open-board
          @click="stage.open = !stage.open"
        >
          <i class="bi bi-easel" /> {{ stage.open ? 'See it on the plate' : 'Work on the board' }}
        </button>
        <IconButton
          icon="x-lg"
          label="Without the board"
          title="Without the board; Undo brings it back"
          @click="giveUp"
        />
      </div>
      <div class="adds">
        <button
          v-for="[kind, icon, name] in KINDS"
          :key="kind"
          class="btn btn-sm btn-outline-secondary"
          type="button"
          :aria-label="`Add: ${name}`"
          :title="`Add: ${name}`"
          @click="add(layerOfKind(stage.board!, kind))"
        >
          <i class="bi" :class="icon" />
        </button>
        <AddFromList
          label="Add a picture or clip"
          says="Picture, clip …"
          :options="choices.map(({ id: value, name: text }) => ({ value, text }))"
          @add="addMedium"
        />
      </div>
      <ul class="list">
        <li
          v-for="layer in layers"
          :key="layer.id"
          :class="{ picked: stage.picked.includes(layer.id), off: layer.off }"
          :data-layer="layer.id"
        >
          <button
            class="entry"
            type="button"
            :aria-pressed="stage.picked.includes(layer.id)"
            @click="stage.pick(layer.id, $event.ctrlKey || $event.metaKey || $event.shiftKey)"
          >
            <b>{{ layer.name ?? layer.id }}</b><span class="quiet kind">{{ layer.kind }}</span>
          </button>
          <IconButton
            icon="arrow-up"
            :label="`${layer.name ?? layer.id} further in front`"
            title="Further in front"
            @click="raise(layer.id, 1)"
          />
          <IconButton icon="copy" :label="`Copy ${layer.name ?? layer.id}`" title="Copy" @click="copy(layer.id)" />
          <IconButton
            :icon="layer.off ? 'eye-slash' : 'eye'"
            :label="`Show ${layer.name ?? layer.id}`"
            :aria-pressed="!layer.off"
            @click="setOff(layer.id, !layer.off)"
          />
          <IconButton icon="trash" :label="`Remove ${layer.name ?? layer.id}`" @click="remove(layer.id)" />
        </li>
      </ul>
      <div
        v-if="stage.picked.length > 0"
        class="adds"
        role="group"
        :aria-label="stage.picked.length > 1 ? 'Align with the layer picked last' : 'Align with the board'"
      >
        <IconButton
          v-for="how in ALIGNS"
          :key="how"
          :icon="ICONS[how]"
          :label="`Align ${how}`"
          :title="`Align ${how}`"
          @click="align(how)"
        />
      </div>
      <LayerFields v-if="stage.layer" :key="stage.layer.id" :layer="stage.layer" />
    </template>
    <BoardShelf v-if="shot.plate" />
  </section>
</template>

<style scoped>
.adds {
  display: flex;
  gap: 6px;
  margin-top: 8px;
  align-items: center;
}
.adds select {
  flex: 1;
  min-width: 0;
}
.list {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 2px;
  --bs-icon-size: 26px;
}
li .icon-button {
  width: 26px;
  padding: 3px 0;
  flex: none;
}
li {
  display: flex;
  align-items: center;
  border: 1px solid transparent;
  border-radius: 4px;
}
.picked {
  background: var(--white);
  border-color: var(--line);
}
.kind {
  margin-left: 7px;
}
.off .entry {
  opacity: 0.55;
}
.entry {
  flex: 1;
  min-width: 0;
  border: 0;
  background: none;
  color: var(--ink);
  text-align: left;
  padding: 4px 6px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
