<script setup lang="ts">
import { Chart, Filler, LinearScale, LineController, LineElement, PointElement, Tooltip } from 'chart.js';
import { onBeforeUnmount, useTemplateRef, watch } from 'vue';
import { useWorkspace } from '../stores/workspace.ts';

/** One small chart of the content (strong line) over the plate (grey area), with what both come to in words. */
export interface ScopePoint {
  readonly x: number;
  readonly y: number;
}
const props = defineProps<{
  name: string;
  unit: string;
  content: readonly ScopePoint[];
  plate: readonly ScopePoint[];
  range: readonly [number, number];
  from?: number;
  to?: number;
}>();
Chart.register(Filler, LinearScale, LineController, LineElement, PointElement, Tooltip);
const workspace = useWorkspace();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
let chart: Chart | null = null;
watch(
  [() => props.content, () => props.plate, canvas, () => workspace.dim],
  () => {
    const element = canvas.value;
    if (!element) return;
    const style = getComputedStyle(element);
    const colour = (name: string) => style.getPropertyValue(`--${name}`).trim();
    const line = (points: readonly ScopePoint[]) => points.map(({ x, y }) => ({ x, y }));
    const data = {
      datasets: [
        {
          label: 'content',
          data: line(props.content),
          borderColor: colour('accent'),
          borderWidth: 1.8,
          pointRadius: 0,
          tension: 0,
        },
        {
          label: 'plate',
          data: line(props.plate),
          borderColor: colour('ink-soft'),
          backgroundColor: colour('line'),
          borderWidth: 1.2,
          pointRadius: 0,
          tension: 0,
          fill: 'origin',
        },
      ],
    };
    if (chart) {
      chart.data = data;
      chart.update();
      return;
    }
    const axis = {
      ticks: { color: colour('ink-soft'), font: { size: 12, family: style.fontFamily }, maxTicksLimit: 4 },
      grid: { color: colour('line') },
    };
    chart = new Chart(element, {
      type: 'line',
      data,
      options: {
        animation: false,
        maintainAspectRatio: false,
        parsing: false,
        interaction: { mode: 'nearest', axis: 'x', intersect: false },
        scales: {
          x: { type: 'linear', min: props.range[0], max: props.range[1], ...axis },
          y: {
            type: 'linear',
            ...(props.from === undefined ? {} : { min: props.from }),
            ...(props.to === undefined ? {} : { max: props.to }),
            ...axis,
            display: false,
          },
        },
        plugins: {
          tooltip: {
            displayColors: false,
            callbacks: {
              title: () => '',
              label: (item) =>
                `${item.dataset.label} ${(item.parsed.y ?? 0).toFixed(3)} at ${(item.parsed.x ?? 0).toFixed(2)} ${props.unit}`,
            },
          },
        },
      },
    });
  },
  { flush: 'post', immediate: true },
);
onBeforeUnmount(() => chart?.destroy());
</script>

<template>
  <figure class="scope">
    <figcaption><b>{{ name }}</b> <span class="quiet">{{ unit }}</span></figcaption>
    <div class="chart"><canvas ref="canvas" role="img" :aria-label="`${name} of the content and of the plate`" /></div>
    <slot />
  </figure>
</template>

<style scoped>
.scope {
  margin: 0;
}
figcaption {
  display: flex;
  justify-content: space-between;
}
.chart {
  position: relative;
  height: 84px;
}
</style>
