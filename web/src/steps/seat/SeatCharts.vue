<script setup lang="ts">
import { Chart, LinearScale, LineController, LineElement, PointElement, Tooltip } from 'chart.js';
import { computed, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import { useWorkspace } from '../../stores/workspace.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useSeat } from '../../stores/seat.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { useTrack } from '../../stores/track.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';
import { cornerMotion } from './corner-motion.ts';

/** Figures of the corners over the shot; a press goes to the frame. */
Chart.register(LinearScale, LineController, LineElement, PointElement, Tooltip);
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const placed = usePlacedCorners();
const seat = useSeat();
const head = usePlayhead();
const workspace = useWorkspace();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const KINDS = ['residual', 'bound', 'speed', 'acceleration', 'jitter'] as const;
const UNITS = {
  residual: 'px from the border',
  bound: 'px, 95 %',
  speed: 'px a frame',
  acceleration: 'px a frame²',
  jitter: 'px off the neighbours’ middle',
} as const;
const kind = ref<(typeof KINDS)[number]>('residual');
const points = computed((): { x: number; y: number }[] => {
  const frames = [...track.heldMaps.keys()].sort((a, b) => a - b);
  if (kind.value === 'residual') return frames.flatMap((x) => point(x, seat.leftAt(x)?.worst));
  if (kind.value === 'bound')
    return frames.flatMap((x) => point(x, doc.document?.lock ? seat.leftAt(x)?.bound : worst(track.boundsAt(x))));
  const motion = cornerMotion(frames, (f) => placed.cornersAt(f));
  return motion.flatMap((m) => point(m.frame, m[kind.value as 'speed' | 'acceleration' | 'jitter'] ?? undefined));
});
const worst = (values: readonly number[] | null) => (values ? Math.max(...values) : undefined);
const point = (x: number, y: number | undefined) => (y === undefined ? [] : [{ x: x + shot.firstNumber, y }]);
const highest = computed(() =>
  points.value.reduce<{ x: number; y: number } | null>((a, b) => (a && a.y >= b.y ? a : b), null),
);

let chart: Chart | null = null;
watch(
  [points, canvas, () => workspace.dim, () => head.frame],
  () => {
    const element = canvas.value;
    if (!element) return;
    const style = getComputedStyle(element);
    const colour = (name: string) => style.getPropertyValue(`--${name}`).trim();
    const here = points.value.filter((p) => p.x === head.frame + shot.firstNumber);
    const data = {
      datasets: [
        { data: points.value, borderColor: colour('ink'), borderWidth: 1.3, pointRadius: 0, tension: 0 },
        {
          data: here,
          borderColor: colour('accent'),
          backgroundColor: colour('accent'),
          pointRadius: 4,
          showLine: false,
        },
      ],
    };
    const axis = {
      ticks: { color: colour('ink-soft'), font: { size: 13, family: style.fontFamily }, maxTicksLimit: 5 },
      grid: { color: colour('line') },
    };
    if (chart) {
      chart.data = data;
      chart.update();
      return;
    }
    chart = new Chart(element, {
      type: 'line',
      data,
      options: {
        animation: false,
        maintainAspectRatio: false,
        parsing: false,
        interaction: { mode: 'nearest', axis: 'x', intersect: false },
        scales: { x: { type: 'linear', ...axis }, y: { type: 'linear', beginAtZero: true, ...axis } },
        plugins: {
          tooltip: {
            displayColors: false,
            callbacks: {
              title: (items) => `frame ${String(items[0]?.parsed.x ?? '')}`,
              label: (item) => `${(item.parsed.y ?? 0).toFixed(3)} px`,
            },
          },
        },
        onClick: (_event, items) => {
          const at = items[0] && chart?.data.datasets[items[0].datasetIndex]?.data[items[0].index];
          if (at && typeof at === 'object' && 'x' in at && at.x !== null) head.goTo(at.x - shot.firstNumber);
        },
      },
    });
  },
  { flush: 'post', immediate: true },
);
onBeforeUnmount(() => chart?.destroy());
</script>

<template>
  <section class="section">
    <header>
      <h2>Over the shot</h2>
      <span class="quiet">{{ UNITS[kind] }}</span>
    </header>
    <ChoiceRow class="mb-2 tight" label="Figure" :options="KINDS" :value="kind" @choose="kind = $event" />
    <div class="chart"><canvas ref="canvas" :aria-label="`${kind} of the corners over the shot`" role="img" /></div>
    <p v-if="points.length === 0" class="quiet mb-0">
      {{ kind === 'residual' ? 'Look at the borders first, on the Drift page.' : 'Nothing is followed yet.' }}
    </p>
    <p v-else-if="highest" class="mb-0 mt-1">
      <span class="quiet">most on</span>
      <button class="use-button" type="button" @click="head.goTo(highest.x - shot.firstNumber)">
        frame {{ highest.x }}
      </button>
      <b>{{ highest.y.toFixed(2) }} px</b>
    </p>
  </section>
</template>

<style scoped>
.chart {
  position: relative;
  height: 150px;
}
.tight :deep(button) {
  padding: 3px 2px;
}
</style>
