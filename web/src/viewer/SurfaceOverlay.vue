<script setup lang="ts">
import { computed } from 'vue';
import { applyToPoint } from '../../../core/base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { distance, UNIT_SQUARE } from '../../../core/base/geometry/quad.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useDocument } from '../stores/document.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { toPage } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** The surface's outline, two-toned, with a tab on the content's upper edge, and a grid in perspective. */
const viewport = useViewport();
const doc = useDocument();
const placed = usePlacedCorners();
const head = usePlayhead();
const workspace = useWorkspace();
const map = computed(() => {
  const corners = placed.cornersAt(head.frame);
  return corners && homographyBetweenQuads(UNIT_SQUARE, corners);
});
const at = (u: number, v: number): [number, number] => toPage(viewport.view, applyToPoint(map.value!, [u, v]));
/** Corner radius in shares of the surface's width and height. */
const round = computed(() => {
  const quad = placed.seatedBase;
  const radius = workspace.step === 'seat' ? (doc.document?.cornerRadius ?? 0) : 0;
  if (!quad || radius <= 0) return null;
  return [
    (2 * radius) / (distance(quad[0], quad[1]) + distance(quad[3], quad[2])),
    (2 * radius) / (distance(quad[0], quad[3]) + distance(quad[1], quad[2])),
  ] as const;
});
const outline = computed(() => {
  if (!map.value) return null;
  if (!round.value) return [at(0, 0), at(1, 0), at(1, 1), at(0, 1)].join(' ');
  const [ru, rv] = round.value;
  const arc = (cu: number, cv: number, from: number) =>
    Array.from({ length: 9 }, (_, i) => {
      const turn = ((from + (i * 90) / 8) * Math.PI) / 180;
      return at(cu + ru * Math.cos(turn), cv + rv * Math.sin(turn));
    });
  return [...arc(ru, rv, 180), ...arc(1 - ru, rv, 270), ...arc(1 - ru, 1 - rv, 0), ...arc(ru, 1 - rv, 90)].join(' ');
});
const tab = computed(() => map.value && [at(0.45, 0), at(0.46, -0.045), at(0.54, -0.045), at(0.55, 0)].join(' '));
const grid = computed(() => {
  if (!map.value || !workspace.showGrid || workspace.step !== 'seat') return [];
  const [across, down] = doc.document?.grid ?? [8, 8];
  return [
    ...Array.from({ length: across - 1 }, (_, i) => [at((i + 1) / across, 0), at((i + 1) / across, 1)]),
    ...Array.from({ length: down - 1 }, (_, i) => [at(0, (i + 1) / down), at(1, (i + 1) / down)]),
  ];
});
</script>

<template>
  <g v-if="outline" class="surface">
    <line
      v-for="(line, i) in grid"
      :key="i"
      class="grid"
      :x1="line[0]![0]"
      :y1="line[0]![1]"
      :x2="line[1]![0]"
      :y2="line[1]![1]"
    />
    <polygon class="under" :points="outline" />
    <polygon class="over" :points="outline" data-surface />
    <polygon class="tab" :points="tab!" />
  </g>
</template>

<style scoped>
.under,
.over {
  fill: none;
  stroke-width: 1.5;
}
.under {
  stroke: var(--mark-under);
}
.over {
  stroke: var(--mark-surface);
  stroke-dasharray: 9 6;
}
.tab {
  fill: var(--mark-strong);
  stroke: var(--mark);
  stroke-width: 1;
}
.grid {
  stroke: var(--mark-faint);
  stroke-width: 1;
  mix-blend-mode: difference;
}
</style>
