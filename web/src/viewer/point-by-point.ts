import { onKeyStroke } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useWorkspace } from '../stores/workspace.ts';
import { useShot } from '../stores/shot.ts';
import { middleOutline, toPage, toPlate, type ViewTransform } from './view-transform.ts';

type Pair = [number, number];

/**
 * Setting points one after the other in the viewer: a click sets one, Backspace takes it back, Esc gives up,
 * Enter closes; Enter at once offers four points in the middle, to be moved by keys.
 */
export function usePointByPoint(view: () => ViewTransform, finish: (points: Pair[]) => void) {
  const shot = useShot();
  const workspace = useWorkspace();
  /** Plate pixels. */
  const points = ref<Pair[]>([]);
  const hover = ref<Pair | null>(null);
  const page = computed(() => points.value.map((p) => toPage(view(), p)));
  const line = computed(() => [...page.value, ...(hover.value ? [hover.value] : [])].join(' '));

  function pageAt(event: PointerEvent): Pair {
    const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
    return [event.clientX - rect.left, event.clientY - rect.top];
  }
  function add(event: PointerEvent): void {
    points.value.push(toPlate(view(), ...pageAt(event)));
  }
  function close(): void {
    const facts = shot.plate?.facts;
    const set = points.value.length === 0 && facts ? middleOutline(facts.width, facts.height) : points.value;
    points.value = [];
    finish(set);
  }
  onKeyStroke('Enter', (event) => {
    event.preventDefault();
    close();
  });
  onKeyStroke('Escape', () => (workspace.tool = 'look'));
  onKeyStroke('Backspace', () => points.value.pop());
  return { points, hover, page, line, pageAt, add, close };
}
