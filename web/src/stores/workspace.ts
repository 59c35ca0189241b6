import { defineStore } from 'pinia';
import { ref, shallowRef, watch } from 'vue';
import type { FrontView } from '../preview/compose-request.ts';
import type { LedgerScale } from '../ledger/ledger-scale.ts';
import type { StepName } from '../rail/steps.ts';
import type { LookReason } from '../../../core/base/schemas/types.ts';
import type { OutlineKind } from '../steps/follow/outlines-of.ts';

/** What the hand does in the viewer. */
export type Tool =
  | 'look'
  | 'measure'
  | 'draw-region'
  | 'draw-keep-out'
  | 'draw-shape'
  | 'draw-area'
  | 'draw-cast'
  | 'draw-reflection'
  | 'draw-fix'
  | 'brush-fix'
  | 'draw-split'
  | 'draw-join-region'
  | 'draw-straight'
  | 'draw-plane'
  | 'pick-colour'
  | 'place-corners'
  | 'put-point';

/** Whether a tool draws an outline point by point. */
export const isDrawing = (tool: Tool): boolean => tool.startsWith('draw-');

/** The state of the bench itself: step, tool, what is picked, what is shown. Not saved. */
export const useWorkspace = defineStore('bench', () => {
  const step = ref<StepName>('plate');
  const tool = ref<Tool>('look');
  /** The outline that is picked: kind and place in its list. */
  const picked = ref<{ list: OutlineKind; index: number } | null>(null);
  /** The point of it that was picked last. */
  const point = ref<number | null>(null);
  /** Whether the picked shape is shown a frame before and after too. */
  const showGhosts = ref(false);
  /** Width of the brush that paints things out, plate pixels. */
  const brush = ref(24);
  /** On the frame on show, fixes around which nothing is seen. */
  const unfilled = ref<{ frame: number; fixes: number[] }>({ frame: 0, fixes: [] });
  const corner = ref(0);
  /** What of the seat is picked: 0–3 a corner, 4–7 a side (top, right, bottom, left), 8 all of it. */
  const part = ref(0);
  /** Whether moving a corner sets it for all frames, or as a fix on the frame on show. */
  const seatMode = ref<'everywhere' | 'here'>('everywhere');
  /** Looks at the seat as if there were no fixes, lock or smoothing. */
  const withoutFixes = ref(false);
  /** The surface unwarped to its own upright pixels in place of the plate. */
  const flat = ref(false);
  /** The picture with the surface's motion taken out of it, in place of the plate. */
  const steadied = ref(false);
  /** Which page of the Seat column is open. */
  const seatPage = ref<'set' | 'drift' | 'check'>('set');
  /** Which page of the Follow column is open. */
  const followPage = ref<'region' | 'points' | 'keys' | 'scene' | 'spans'>('region');
  /** Names of the corner points that a run, or clearing, is for; and the one that was picked last. */
  const pickedPoints = ref<readonly string[]>([]);
  /** Whether a point that was put right by hand is followed on at once. */
  const runsOn = ref(false);
  const slices = ref<'sides' | 'corners' | 'off'>('sides');
  /** How far a slice shows either way, px of the reference. */
  const sliceReach = ref<12 | 6 | 3>(6);
  const sliceFits = ref(true);
  /** The ledger's scale, for what lines up with it. */
  const ledgerScale = shallowRef<LedgerScale | null>(null);
  const showOutlines = ref(true);
  const showResult = ref(true);
  const showGrid = ref(false);
  /** Whether levels, edges and noise of the content beside the plate's are shown by the picture. */
  const showScopes = ref(false);
  /** Whether the content's outline is shown to be moved by hand. */
  const placeOpen = ref(false);
  /** Whether the mesh of curved glass is shown to be bent by its points, and whether the opposite side goes along. */
  const meshOpen = ref(false);
  const meshSymmetric = ref(false);
  /** What the Front step shows in place of the finished picture. */
  const frontView = ref<FrontView>('finished');
  /** A square of plate pixels that is measured. */
  const measured = ref<{ x: number; y: number; width: number; height: number } | null>(null);
  /** Where a point is being dragged, in plate pixels: a magnifier shows there. */
  const dragPoint = ref<{ x: number; y: number } | null>(null);
  /** A measured value that is pointed at: the viewer and the ledger mark where it was measured. */
  const reason = shallowRef<{ title: string; why: LookReason } | null>(null);
  const pointer = ref<{ x: number; y: number } | null>(null);
  /** Asks the viewer to show everything, or one point closely. */
  const viewRequest = ref<
    | { kind: 'fit' }
    | { kind: 'actual' }
    | { kind: 'zoom'; factor: number }
    | { kind: 'close'; x: number; y: number }
    | null
  >(null);
  /** Screen pixels for a plate pixel, as the viewer has it. */
  const scale = ref(1);
  const dim = ref(localStorage.getItem('yarlop-dim') === '1');

  watch(picked, () => (point.value = null), { flush: 'sync' });

  function enter(next: StepName): void {
    step.value = next;
    tool.value = 'look';
    picked.value = null;
    measured.value = null;
    dragPoint.value = null;
    reason.value = null;
    flat.value = false;
    withoutFixes.value = false;
  }
  function setDim(on: boolean): void {
    dim.value = on;
    localStorage.setItem('yarlop-dim', on ? '1' : '0');
  }
  return {
    step,
    tool,
    picked,
    point,
    showGhosts,
    brush,
    unfilled,
    corner,
    part,
    seatMode,
    seatPage,
    followPage,
    pickedPoints,
    runsOn,
    withoutFixes,
    flat,
    steadied,
    slices,
    sliceReach,
    sliceFits,
    ledgerScale,
    showOutlines,
    showResult,
    showGrid,
    showScopes,
    placeOpen,
    meshOpen,
    meshSymmetric,
    frontView,
    measured,
    dragPoint,
    reason,
    pointer,
    viewRequest,
    scale,
    dim,
    enter,
    setDim,
  };
});
