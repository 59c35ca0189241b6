import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { StepName } from '../rail/steps.ts';

/** What the hand does in the viewer. */
export type Tool = 'look' | 'measure' | 'draw-region' | 'draw-keep-out' | 'place-corners';

/** The state of the bench itself: step, tool, what is picked, what is shown. Not saved. */
export const useBench = defineStore('bench', () => {
  const step = ref<StepName>('plate');
  const tool = ref<Tool>('look');
  /** The outline that is picked: kind and place in its list. */
  const picked = ref<{ list: 'regions' | 'keepOut'; index: number } | null>(null);
  const corner = ref(0);
  const showOutlines = ref(true);
  const showResult = ref(true);
  const showGrid = ref(false);
  /** A square of plate pixels that is measured. */
  const measured = ref<{ x: number; y: number; width: number; height: number } | null>(null);
  /** Where a point is being dragged, in plate pixels: a magnifier shows there. */
  const dragPoint = ref<{ x: number; y: number } | null>(null);
  const pointer = ref<{ x: number; y: number } | null>(null);
  /** Asks the viewer to show everything, or one point closely. */
  const viewRequest = ref<{ kind: 'fit' } | { kind: 'actual' } | { kind: 'zoom'; factor: number } | { kind: 'close'; x: number; y: number } | null>(null);
  /** Screen pixels for a plate pixel, as the viewer has it. */
  const scale = ref(1);
  const dim = ref(localStorage.getItem('yarlop-dim') === '1');

  function enter(next: StepName): void {
    step.value = next;
    tool.value = 'look';
    picked.value = null;
    measured.value = null;
    dragPoint.value = null;
  }
  function setDim(on: boolean): void {
    dim.value = on;
    localStorage.setItem('yarlop-dim', on ? '1' : '0');
  }
  return { step, tool, picked, corner, showOutlines, showResult, showGrid, measured, dragPoint, pointer, viewRequest, scale, dim, enter, setDim };
});
