import {
  kernels,
  PATCH_ENTRIES,
  PATCH_PLANE_COUNT,
  type KernelFactory,
  type KernelSet,
  type SampledWindow,
} from '../../base/kernels/index.ts';
import type { LightWindow } from './light-window.ts';

/** Samples of a pattern at most, filled up to a multiple of four. */
export const MOST_SAMPLES = 2048;
const LEAST_WINDOW = 120_000;
const BYTES_OF_WINDOW = 12;

/** Memory of the kernels in which patterns are drawn, looked for and compared: one at a time, so that one memory serves all. */
export interface PatchMemory {
  readonly set: KernelSet;
  /** Where a pattern's samples lie in its own window, and on the frame about the point. */
  readonly xs: Float32Array;
  readonly ys: Float32Array;
  readonly drawnXs: Float32Array;
  readonly drawnYs: Float32Array;
  /** What `sampleCubic` leaves, four planes; what `patchEquations` reads; and what it leaves. */
  readonly sampled: Float32Array;
  readonly planes: Float32Array;
  readonly equations: Float64Array;
  /** For a search: where a pattern's values lie, the values, and the scores. */
  readonly offsets: Int32Array;
  readonly values: Float32Array;
  readonly scores: Float32Array;
  /** Takes a window in, in place of the last one of its kind; what it holds is copied only when it is another. */
  window(kind: 'pattern' | 'picture', window: LightWindow): SampledWindow;
  /** Room for the samples of a search, which may be overwritten. */
  readonly grid: Float32Array;
}

let open: { readonly factory: KernelFactory; readonly size: number; readonly memory: PatchMemory } | null = null;

/** The memory, with place for windows of so many samples. */
export function patchMemory(samples = LEAST_WINDOW): PatchMemory {
  const factory = kernels();
  if (!open || open.factory !== factory || open.size < samples) {
    const size = Math.max(LEAST_WINDOW, 2 ** Math.ceil(Math.log2(samples)));
    open = { factory, size, memory: build(factory.open(4 * BYTES_OF_WINDOW * size + 200 * MOST_SAMPLES), size) };
  }
  return open.memory;
}

function build(set: KernelSet, size: number): PatchMemory {
  const held = {
    pattern: { of: null as Float32Array | null, place: set.floats(size) },
    picture: { of: null as Float32Array | null, place: set.floats(size) },
  };
  return {
    set,
    xs: set.floats(MOST_SAMPLES),
    ys: set.floats(MOST_SAMPLES),
    drawnXs: set.floats(MOST_SAMPLES),
    drawnYs: set.floats(MOST_SAMPLES),
    sampled: set.floats(4 * MOST_SAMPLES),
    planes: set.floats(PATCH_PLANE_COUNT * MOST_SAMPLES),
    equations: new Float64Array(PATCH_ENTRIES),
    offsets: set.ints(MOST_SAMPLES),
    values: set.floats(MOST_SAMPLES),
    scores: set.floats(size),
    grid: set.floats(size),
    window(kind, { width, height, data }) {
      const slot = held[kind];
      if (slot.of !== data) slot.place.set(data);
      slot.of = data;
      return { width, height, data: slot.place };
    },
  };
}
