<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { compose, scaling } from '../../../core/base/geometry/homography.ts';
import { bounds, UNIT_SQUARE } from '../../../core/base/geometry/quad.ts';
import { layerCorners, layerOnFrame } from '../../../core/picture/board/layer-on-frame.ts';
import AppRange from '../components/AppRange.vue';
import { drawBoard, type LayerSizes } from '../preview/board-picture.ts';
import { seatWorker } from '../preview/seat-worker-client.ts';
import { setValue, snapped, valueAt, type Box } from '../steps/content/board-edits.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { useBoard } from '../stores/board.ts';
import { useDocument } from '../stores/document.ts';
import { useNotices } from '../stores/notices.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import LayerGrips from './LayerGrips.vue';
import { latestOnly } from './latest-only.ts';
import { useViewport } from './viewport.ts';

/** The board flat, with the plate's surface seen through it; layers are dragged, with Shift without being drawn to others. */
const viewport = useViewport();
const shot = useShot();
const doc = useDocument();
const placed = usePlacedCorners();
const head = usePlayhead();
const stage = useBoard();
const notices = useNotices();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const under = useTemplateRef<HTMLCanvasElement>('under');
const sizes = ref<LayerSizes>({});
const painted = ref(-1);
const MARGIN = 28;
const scale = computed(() =>
  stage.board
    ? Math.min((viewport.width - 2 * MARGIN) / stage.board.width, (viewport.height - 2 * MARGIN) / stage.board.height)
    : 1,
);
const shown = computed(
  () =>
    stage.board && {
      width: Math.max(1, Math.round(stage.board.width * scale.value)),
      height: Math.max(1, Math.round(stage.board.height * scale.value)),
    },
);

const paint = latestOnly(
  () => notices.guard(draw),
  () => head.markPainted(),
);
async function draw(): Promise<void> {
  const { board } = stage;
  const box = shown.value;
  const at = head.frame;
  const { plate } = shot;
  if (!board || !box || !plate?.facts) return;
  const made = await drawBoard(shot, board, at, Math.min(1, box.width / board.width));
  sizes.value = made.sizes;
  show(canvas.value, made.bitmap, box);
  const quad = placed.cornersAt(at);
  if (quad && stage.through > 0) {
    show(
      under.value,
      await seatWorker().flatten({
        source: { id: plate.id, view: plate.view },
        frame: at,
        kind: head.playing ? 'jpg' : 'png',
        width: plate.facts.width,
        map: compose(homographyBetweenQuads(UNIT_SQUARE, quad)!, scaling(1 / box.width, 1 / box.height)),
        columns: box.width,
        rows: box.height,
      }),
      box,
    );
  }
  painted.value = at;
}
function show(onto: HTMLCanvasElement | null, bitmap: ImageBitmap, box: { width: number; height: number }): void {
  if (onto) {
    onto.width = box.width;
    onto.height = box.height;
    onto.getContext('2d')!.drawImage(bitmap, 0, 0, box.width, box.height);
  }
  bitmap.close();
}
watch(
  [() => head.frame, () => stage.board, shown, canvas, () => stage.through > 0, () => shot.media],
  () => void paint(),
  { immediate: true },
);

const outlines = computed(() =>
  (stage.board?.layers ?? []).flatMap((layer) => {
    const on = layerOnFrame(layer, head.frame);
    const size = sizes.value[layer.id];
    const corners = on && size && layerCorners(on, size);
    return corners
      ? [
          {
            id: layer.id,
            name: layer.name ?? layer.id,
            picked: stage.picked.includes(layer.id),
            points: corners.map(([x, y]) => [x * scale.value, y * scale.value]),
            box: bounds(corners),
            anchor: valueAt(layer, 'position', head.frame) as readonly number[],
          },
        ]
      : [];
  }),
);

/** The layer that was picked last is scaled and turned. */
const last = computed(() => outlines.value.find((one) => one.id === stage.layer?.id) ?? null);

let from: {
  x: number;
  y: number;
  start: Map<string, readonly number[]>;
  boxes: Map<string, Box>;
  moved: boolean;
} | null = null;
function onDown(event: PointerEvent, id: string): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  if (!stage.picked.includes(id) || event.ctrlKey || event.metaKey) stage.pick(id, event.ctrlKey || event.metaKey);
  const mine = outlines.value.filter((o) => stage.picked.includes(o.id));
  from = {
    x: event.clientX,
    y: event.clientY,
    moved: false,
    start: new Map(mine.map((o) => [o.id, o.anchor])),
    boxes: new Map(mine.map((o) => [o.id, o.box])),
  };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onMove(event: PointerEvent): void {
  if (!from || !stage.board) return;
  let by: [number, number] = [(event.clientX - from.x) / scale.value, (event.clientY - from.y) / scale.value];
  const first = [...from.boxes.values()][0];
  if (!event.shiftKey && first) {
    const others: Box[] = [
      { left: 0, top: 0, right: stage.board.width, bottom: stage.board.height },
      ...outlines.value.filter((o) => !from!.start.has(o.id)).map((o) => o.box),
    ];
    by = snapped(first, by, others, 6 / scale.value);
  }
  from.moved = true;
  move(by, 'drag');
}
function move(by: readonly [number, number], how: 'edit' | 'drag'): void {
  const start = from?.start;
  const frame = head.frame;
  stage.changePicked((layer) => {
    const [x, y] = (start?.get(layer.id) ?? valueAt(layer, 'position', frame)) as [number, number];
    setValue(layer, 'position', frame, [Math.round(100 * (x + by[0])) / 100, Math.round(100 * (y + by[1])) / 100]);
  }, how);
}
function onUp(): void {
  if (from?.moved) doc.settle();
  from = null;
}
function onKey(event: KeyboardEvent): void {
  const by = nudgeOf(event);
  if (!by) return;
  event.preventDefault();
  event.stopPropagation();
  move(by, 'edit');
}
</script>

<template>
  <div class="stage" data-board-stage :data-board-frame="painted" @pointerdown.stop="stage.picked = []">
    <div v-if="shown" class="sheet" :style="{ width: `${shown.width}px`, height: `${shown.height}px` }">
      <canvas ref="canvas" /><canvas ref="under" :style="{ opacity: stage.through }" />
      <svg :width="shown.width" :height="shown.height">
        <g
          v-for="o in outlines"
          :key="o.id"
          class="layer"
          :class="{ picked: o.picked }"
          tabindex="0"
          role="button"
          :aria-label="`Layer ${o.name}`"
          :data-layer-outline="o.id"
          @pointerdown="onDown($event, o.id)"
          @pointermove="onMove"
          @pointerup="onUp"
          @keydown="onKey"
          @focus="stage.picked.includes(o.id) || stage.pick(o.id)"
        >
          <polygon class="under" :points="o.points.join(' ')" />
          <polygon class="over" :points="o.points.join(' ')" />
          <path
            v-if="o.picked"
            class="anchor"
            :d="`M${o.anchor[0]! * scale - 6} ${o.anchor[1]! * scale}h12M${o.anchor[0]! * scale} ${o.anchor[1]! * scale - 6}v12`"
          />
        </g>
        <LayerGrips v-if="last" :outline="last.points" :scale="scale" />
      </svg>
    </div>
    <p class="said">
      board {{ stage.board?.width }}×{{ stage.board?.height }} · {{ Math.round(100 * scale) }} %<label
        ><span>plate through it</span
        ><AppRange
          v-model="stage.through"
          label="How much of the plate is seen through"
          :min="0"
          :max="1"
          :step="0.05"
          @pointerdown.stop
      /></label>
    </p>
  </div>
</template>

<style scoped>
.stage {
  position: absolute;
  inset: 0;
  background: var(--surround);
  display: grid;
  place-items: center;
  cursor: default;
}
.sheet {
  position: relative;
  box-shadow: 0 0 0 1px var(--mark-under);
}
canvas,
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
svg {
  overflow: visible;
}
.under,
.over {
  fill: transparent;
  stroke-width: 1.2;
  stroke: none;
  pointer-events: all;
  cursor: move;
}
.picked .under {
  stroke: var(--mark-under);
  stroke-width: 2.2;
}
.picked .over {
  stroke: var(--mark-surface);
  stroke-dasharray: 7 5;
  stroke-width: 2.2;
}
.layer:hover .over {
  stroke: var(--mark);
  stroke-dasharray: 3 4;
}
.layer:focus-visible {
  outline: none;
}
.layer:focus-visible .over {
  stroke: var(--accent);
}
.anchor {
  stroke: var(--mark);
  stroke-width: 2;
  fill: none;
  pointer-events: none;
}
.said {
  position: absolute;
  left: 12px;
  bottom: 10px;
  margin: 0;
  padding: 2px 9px;
  border-radius: 3px;
  background: var(--label-back);
  color: var(--mark);
  font-size: 13px;
  display: flex;
  gap: 16px;
  align-items: center;
}
label {
  display: flex;
  gap: 8px;
  align-items: center;
}
.form-range {
  width: 110px;
}
</style>
