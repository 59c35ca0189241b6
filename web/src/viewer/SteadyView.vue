<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue';
import { compose, invert } from '../../../core/geometry/homography.ts';
import type { Quad } from '../../../core/geometry/quad.ts';
import { steadyOf } from '../../../core/steady/steadied-luma.ts';
import { seatWorker } from '../preview/seat-desk.ts';
import { useNotices } from '../stores/notices.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { latestOnly } from './latest-only.ts';
import type { ViewTransform } from './view-transform.ts';

/** The picture with the surface's motion taken out of it, through the same view: a slip moves, all else stands. */
const props = defineProps<{ view: ViewTransform; width: number; height: number }>();
const shot = useShot(), head = usePlayhead(), notices = useNotices();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const painted = ref(-1);
const corners = computed(() => (shot.document?.corners ?? shot.document?.regions[0]?.points.slice(0, 4) ?? null) as Quad | null);
const maps = computed(() => (corners.value && shot.frames > 0 ? steadyOf(shot.document?.steady, corners.value, shot.heldMaps, shot.frames) : null));

const paint = latestOnly(() => notices.guard(draw), () => head.markPainted());
async function draw(): Promise<void> {
  const at = head.frame, { plate } = shot, map = maps.value?.get(at), back = map && invert(map), { view } = props, columns = Math.round(props.width), rows = Math.round(props.height);
  if (!plate?.facts || !back || columns < 2 || rows < 2) return;
  const toSteadied = [1 / (view.scale * view.aspect), 0, -view.x / (view.scale * view.aspect), 0, 1 / view.scale, -view.y / view.scale, 0, 0, 1];
  const bitmap = await seatWorker().flatten({ source: { id: plate.id, view: plate.view }, frame: at, kind: head.playing ? 'jpg' : 'png', width: plate.facts.width, map: compose(back, toSteadied), columns, rows });
  if (canvas.value) {
    canvas.value.width = columns;
    canvas.value.height = rows;
    canvas.value.getContext('2d')!.drawImage(bitmap, 0, 0);
  }
  bitmap.close();
  painted.value = at;
}
watch([() => head.frame, () => head.playing, maps, () => props.view, () => props.width, () => props.height, canvas], () => void paint(), { immediate: true });
const said = computed(() => {
  const steady = shot.document?.steady, removed = steady ? steady.remove : ['position', 'rotation', 'scale', 'perspective'];
  return removed.length === 0 ? 'nothing is taken out' : `${removed.join(', ')} taken out${steady?.smooth ? `, slow motion left (σ ${steady.smooth} frames)` : ''}`;
});
</script>

<template>
  <div class="steady" data-steadied :data-steadied-frame="painted">
    <canvas ref="canvas" />
    <p class="said">{{ maps && maps.size > 0 ? `steadied: ${said}` : 'nothing is followed yet, so nothing can be steadied' }} <kbd>G</kbd></p>
  </div>
</template>

<style scoped>
.steady { position: absolute; inset: 0; background: var(--surround); pointer-events: none; }
canvas { position: absolute; inset: 0; width: 100%; height: 100%; }
.said { position: absolute; left: 12px; top: 10px; margin: 0; padding: 2px 9px; border-radius: 3px; background: rgb(23 25 27 / 82%); color: #fff; font-size: 13px; }
</style>
