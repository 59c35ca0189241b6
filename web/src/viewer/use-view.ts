import { useElementSize } from '@vueuse/core';
import { computed, reactive, ref, watch, type Ref } from 'vue';
import { useWorkspace } from '../stores/workspace.ts';
import { useShot } from '../stores/shot.ts';
import { fitView, toPlate, zoomAt, type ViewTransform } from './view-transform.ts';
import type { Viewport } from './viewport.ts';

/** Plate pixels are shown so many times their size where one looks closely. */
const CLOSE = 8;

/** How the plate lies in a viewer's box: fitted until a hand zooms or moves it. */
export function useView(box: Readonly<Ref<HTMLElement | null>>) {
  const shot = useShot();
  const workspace = useWorkspace();
  const { width, height } = useElementSize(box);
  const view = ref<ViewTransform>({ scale: 1, aspect: 1, x: 0, y: 0 });
  const facts = computed(() => shot.plate?.facts ?? null);
  /** Width of a plate pixel over its height. */
  const aspect = computed(() => (facts.value ? facts.value.pixelAspect[0] / facts.value.pixelAspect[1] : 1));

  /** The view as it was fitted last: where it is another, a hand has chosen it. */
  let fitted: ViewTransform | null = null;
  function fit(): void {
    if (facts.value && width.value > 0)
      view.value = fitted = fitView(width.value, height.value, facts.value.width, facts.value.height, aspect.value);
  }
  watch([() => shot.plate?.id, aspect], fit, { immediate: true });
  watch([width, height], ([wide, high], [wasWide, wasHigh]) => {
    const same = fitted && (['scale', 'x', 'y'] as const).every((key) => view.value[key] === fitted![key]);
    // What was looked at closely stays in the middle when what is around the picture takes more or less room.
    if (same || !fitted || !(wasWide > 0)) fit();
    else view.value = { ...view.value, x: view.value.x + (wide - wasWide) / 2, y: view.value.y + (high - wasHigh) / 2 };
  });
  watch(
    () => workspace.viewRequest,
    (request) => {
      if (!request) return;
      if (request.kind === 'fit') fit();
      else if (request.kind === 'close')
        view.value = {
          scale: CLOSE,
          aspect: aspect.value,
          x: width.value / 2 - request.x * CLOSE * aspect.value,
          y: height.value / 2 - request.y * CLOSE,
        };
      else {
        const factor = request.kind === 'actual' ? 1 / view.value.scale : request.factor;
        view.value = zoomAt(view.value, factor, width.value / 2, height.value / 2);
      }
      workspace.viewRequest = null;
    },
  );
  watch(
    () => view.value.scale,
    (scale) => (workspace.scale = scale),
    { immediate: true },
  );

  function onWheel(event: WheelEvent): void {
    const rect = box.value!.getBoundingClientRect();
    const factor = Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0015));
    view.value = zoomAt(view.value, factor, event.clientX - rect.left, event.clientY - rect.top);
  }
  let panFrom: { x: number; y: number } | null = null;
  function onDown(event: PointerEvent): void {
    if (event.button === 1 || (event.button === 0 && workspace.tool === 'look')) {
      panFrom = { x: event.clientX - view.value.x, y: event.clientY - view.value.y };
      box.value!.setPointerCapture(event.pointerId);
    }
  }
  function onMove(event: PointerEvent): void {
    const rect = box.value!.getBoundingClientRect();
    const [x, y] = toPlate(view.value, event.clientX - rect.left, event.clientY - rect.top);
    workspace.pointer = { x, y };
    if (panFrom) view.value = { ...view.value, x: event.clientX - panFrom.x, y: event.clientY - panFrom.y };
  }
  const onUp = () => (panFrom = null);
  const viewport: Viewport = reactive({ view, width, height });
  return { viewport, facts, onWheel, onDown, onMove, onUp };
}
