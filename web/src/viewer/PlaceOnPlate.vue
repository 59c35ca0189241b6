<script setup lang="ts">
import { computed } from 'vue';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { compose } from '../../../core/base/geometry/homography.ts';
import { UNIT_SQUARE } from '../../../core/base/geometry/quad.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { usePlayhead } from '../stores/playhead.ts';
import PlaceHandles from './PlaceHandles.vue';
import { useViewport } from './viewport.ts';

/** The content's place by hand, where the surface is known on the frame on show. */
const placed = usePlacedCorners();
const head = usePlayhead();
const viewport = useViewport();
/** The surface's unit square to the page. */
const map = computed(() => {
  const quad = placed.cornersAt(head.frame);
  const toPlate = quad && homographyBetweenQuads(UNIT_SQUARE, quad);
  const { scale, aspect, x, y } = viewport.view;
  return toPlate && compose([scale * aspect, 0, x, 0, scale, y, 0, 0, 1], toPlate);
});
</script>

<template><PlaceHandles v-if="map" :map="map" /></template>
