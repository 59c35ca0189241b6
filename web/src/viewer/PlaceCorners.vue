<script setup lang="ts">
import { applyToPoint, invert } from '../../../core/base/geometry/homography.ts';
import { CORNER_NAMES, quadFault, type Quad } from '../../../core/base/geometry/quad.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { useNotices } from '../stores/notices.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useDocument } from '../stores/document.ts';
import { useTrack } from '../stores/track.ts';
import { CORNER_SHAPES } from './corner-shapes.ts';
import { usePointByPoint } from './point-by-point.ts';
import { useViewport } from './viewport.ts';

/** Four clicks set the corners in the content's own order. Enter at once sets them in the middle, to be moved by keys. */
const viewport = useViewport();
const doc = useDocument();
const track = useTrack();
const head = usePlayhead();
const workspace = useWorkspace();
const notices = useNotices();
const { points, hover, page, line, pageAt, add } = usePointByPoint(() => viewport.view, finish);

function onDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  add(event);
  if (points.value.length === 4) finish(points.value.splice(0));
}
function finish(four: [number, number][]): void {
  if (four.length !== 4) {
    points.value = four;
    return;
  }
  if (quadFault(four as unknown as Quad)) {
    notices.add(
      'These four corners cross or make a dented shape. Click them again: top-left, top-right, bottom-right, bottom-left of the content.',
    );
    return;
  }
  const fresh = track.rows.length === 0 && doc.document!.regions.length === 0;
  const h = track.homographyAt(head.frame);
  const back = h && invert(h);
  if (!back && !fresh) {
    notices.add('The track does not reach this frame. Go to the reference frame, or follow up to here first.');
    workspace.tool = 'look';
    return;
  }
  doc.edit((draft) => {
    if (fresh) draft.referenceFrame = head.frame;
    draft.corners = four.map(([x, y]) =>
      back && !fresh ? applyToPoint(back, [x, y]) : [x, y],
    ) as typeof draft.corners;
  });
  workspace.corner = 0;
  workspace.tool = 'look';
}
</script>

<template>
  <g>
    <rect
      class="catcher"
      :width="viewport.width"
      :height="viewport.height"
      data-place
      @pointerdown="onDown"
      @pointermove="hover = pageAt($event)"
    />
    <polyline class="under" :points="line" />
    <polyline class="over" :points="line" />
    <g v-for="(p, i) in page" :key="i" :transform="`translate(${p[0]} ${p[1]})`"
      ><path class="halo" :d="CORNER_SHAPES[i]" /><path class="mark" :d="CORNER_SHAPES[i]"
    /></g>
    <g v-if="hover" :transform="`translate(${hover[0] + 16} ${hover[1] + 24})`"
      ><rect class="label" x="-6" y="-15" width="112" height="21" rx="3" /><text>{{
        CORNER_NAMES[points.length]
      }}</text></g
    >
  </g>
</template>

<style scoped>
.catcher {
  fill: transparent;
  pointer-events: all;
  cursor: crosshair;
}
.under,
.over {
  fill: none;
  stroke-width: 1.8;
  pointer-events: none;
}
.under {
  stroke: var(--mark-under);
}
.over {
  stroke: var(--mark-surface);
  stroke-dasharray: 6 5;
}
.halo {
  fill: none;
  stroke: var(--mark-under);
  stroke-width: 4;
}
.mark {
  fill: none;
  stroke: var(--mark);
  stroke-width: 1.8;
}
.label {
  fill: var(--label-back);
}
text {
  fill: var(--mark);
  font-size: 13px;
}
g {
  pointer-events: none;
}
g > .catcher {
  pointer-events: all;
}
</style>
