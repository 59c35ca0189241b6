<script setup lang="ts">
import { ref, watchEffect } from 'vue';
import { smoothShares } from '../../../core/motion/follow/disagreement.ts';
import { applyToPoint, keepsInFront } from '../../../core/base/geometry/homography.ts';
import { useDisagreement } from '../stores/disagreement.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useTrack } from '../stores/track.ts';
import { toPage } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** A soft layer over what does not go with the surface: the more disagrees, the denser. */
const viewport = useViewport();
const track = useTrack();
const head = usePlayhead();
const disagreement = useDisagreement();
const canvas = ref<HTMLCanvasElement | null>(null);
/** Less is not shown; and how dense it gets. */
const SHOWN_FROM = 0.15;
const DENSEST = 0.62;

watchEffect(() => {
  const { seen } = disagreement;
  const map = track.homographyAt(head.frame);
  if (!canvas.value) return;
  // Setting the size clears it.
  [canvas.value.width, canvas.value.height] = [viewport.width, viewport.height];
  const context = canvas.value.getContext('2d')!;
  if (!seen || !map) return;
  const { cell, left, top, columns, cells } = seen;
  const right = left + columns * cell;
  const bottom = top + (cells.length / columns) * cell;
  if (
    !keepsInFront(map, [
      [left, top],
      [right, top],
      [right, bottom],
      [left, bottom],
    ])
  )
    return;
  smoothShares(seen).forEach((share, at) => {
    if (share < SHOWN_FROM) return;
    const x = left + (at % columns) * cell;
    const y = top + Math.floor(at / columns) * cell;
    const corners = [
      [x, y],
      [x + cell, y],
      [x + cell, y + cell],
      [x, y + cell],
    ] as const;
    context.beginPath();
    for (const corner of corners) context.lineTo(...toPage(viewport.view, applyToPoint(map, corner)));
    context.fillStyle = `rgb(255 122 26 / ${DENSEST * share})`;
    context.fill();
  });
});
</script>

<template><canvas ref="canvas" class="disagreement" aria-hidden="true" /></template>

<style scoped>
/* The blur takes away the squares' borders. */
.disagreement {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
  filter: blur(2px);
}
</style>
