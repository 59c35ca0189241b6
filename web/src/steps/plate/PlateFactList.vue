<script setup lang="ts">
import { computed } from 'vue';
import { decimalRate } from '../../../../core/base/time/frame-rate.ts';
import { PRIMARIES } from '../../../../core/base/image/primaries.ts';
import { TRANSFERS } from '../../../../core/base/image/transfer-curves.ts';
import type { PlateFacts } from '../../../../core/base/schemas/types.ts';

/** What the file says of itself, and in sentences what it left open or has that is unusual. */
const props = defineProps<{ facts: PlateFacts; lut: string | null }>();
const lines = computed(() => {
  const f = props.facts;
  const seconds = (f.frames * f.rate[1]) / f.rate[0];
  const depth = f.bits === 32 ? 'floating point' : `${f.bits} bit`;
  return [
    [
      'Size',
      `${f.width} × ${f.height}${f.pixelAspect[0] === f.pixelAspect[1] ? '' : `, pixels ${f.pixelAspect.join(':')}`}`,
    ],
    ['Length', `${f.frames} frames, ${seconds.toFixed(2)} s`],
    ['Rate', `${decimalRate(f.rate)} (${f.rate.join('/')})`],
    ...(f.timecode ? [['Timecode', f.timecode]] : []),
    ...(f.fieldOrder === 'top-first' || f.fieldOrder === 'bottom-first'
      ? [['Fields', f.deinterlace ? 'made progressive' : f.fieldOrder.replace('-', ' field ')]]
      : []),
    ['Coding', `${f.codec}, ${f.pixelFormat}`],
    ['Depth', `${depth}, ${f.range} range${f.alpha ? ', alpha' : ''}`],
    ['Colour', f.matrix === 'rgb' ? PRIMARIES[f.primaries].label : `${PRIMARIES[f.primaries].label}, ${f.matrix}`],
    ['Transfer', TRANSFERS[f.transfer].label],
    ...(props.lut ? [['Seen through', props.lut]] : []),
  ];
});
const says = (text: string): string => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
</script>

<template>
  <dl class="facts" data-facts>
    <template v-for="[name, value] in lines" :key="name"
      ><dt>{{ name }}</dt>
      <dd>{{ value }}</dd></template
    >
  </dl>
  <p v-for="note in facts.notes" :key="note" class="notice mt-2 mb-0" data-note>{{ says(note) }}</p>
  <p v-for="note in facts.assumed" :key="note" class="notice calm mt-2 mb-0" data-assumed>{{ says(note) }}</p>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 14px;
  margin: 0;
}
dt {
  font-weight: 400;
  color: var(--ink-soft);
}
dd {
  margin: 0;
  text-align: right;
  overflow-wrap: anywhere;
}
</style>
