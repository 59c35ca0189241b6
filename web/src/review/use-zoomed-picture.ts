import { computed, ref } from 'vue';
import { clamp } from '../../../core/base/geometry/clamp.ts';

/** Where a picture lies in its pane, as parts of the pane's size; several panes share one, so that all are looked at the same place. */
export function useZoomedPicture() {
  const scale = ref(1);
  const offset = ref<[number, number]>([0, 0]);
  const transform = computed(() => ({
    transform: `translate(${100 * offset.value[0]}%, ${100 * offset.value[1]}%) scale(${scale.value})`,
  }));

  /** The pointer's place in the pane. */
  function within(event: MouseEvent): [number, number] {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  }
  /** The pointer's place in the picture. */
  function inPicture(event: MouseEvent): [number, number] {
    const [x, y] = within(event);
    return [(x - offset.value[0]) / scale.value, (y - offset.value[1]) / scale.value];
  }
  function moveTo([x, y]: [number, number], to = scale.value): void {
    scale.value = to;
    offset.value = [Math.min(0, Math.max(1 - to, x)), Math.min(0, Math.max(1 - to, y))];
  }
  /** A turn of the wheel keeps what is under the pointer where it is. */
  function zoom(event: WheelEvent): void {
    const [x, y] = within(event);
    const next = clamp(scale.value * 1.2 ** -Math.sign(event.deltaY), 1, 16);
    moveTo([x - ((x - offset.value[0]) * next) / scale.value, y - ((y - offset.value[1]) * next) / scale.value], next);
  }
  return { scale, offset, transform, inPicture, moveTo, zoom };
}
