import { DARKEST_LIGHT } from './plain-template.ts';
import {
  ACCUMULATE,
  BLUR,
  PYRAMID,
  RESIDUALS,
  SharedWork,
  SIGNAL16,
  SIGNAL8,
  TEXELS,
  workBlock,
  type RunPart,
  type WorkBlock,
} from './shared-work.ts';
import {
  ANCHOR_UNKNOWNS,
  EQUATION_ENTRIES,
  PATCH_ENTRIES,
  MOST_TAPS,
  OFFSET_BIN,
  RESIDUAL_BIN,
  RESIDUAL_BINS,
  WINDOW,
  type KernelFactory,
  type KernelSet,
} from './kernel-set.ts';

/** What assembly/index.ts exports; places are byte offsets. */
interface Exports {
  heapBase: { readonly value: number };
  ACCUMULATE_ROOM: { readonly value: number };
  texels(
    value: number,
    width: number,
    height: number,
    mask: number,
    maskWidth: number,
    level: number,
    left: number,
    top: number,
    right: number,
    bottom: number,
    out: number,
  ): void;
  /** from, to, then as the functions below give them. */
  signal8(first: number, last: number, ...given: number[]): void;
  signal16(first: number, last: number, ...given: number[]): void;
  pyramidDown(first: number, last: number, ...given: number[]): void;
  blurTemplate(from: number, to: number, ...given: number[]): void;
  residuals(from: number, to: number, ...given: number[]): number;
  accumulate(first: number, last: number, ...given: number[]): void;
  correlate(
    value: number,
    width: number,
    height: number,
    xs: number,
    ys: number,
    count: number,
    blurred: number,
    prior: number,
    h: number,
    step: number,
    out: number,
  ): void;
  PATCH_ROOM: { readonly value: number };
  sampleCubic(
    data: number,
    width: number,
    height: number,
    xs: number,
    ys: number,
    count: number,
    x: number,
    y: number,
    alongX: number,
    alongY: number,
    taps: number,
    out: number,
  ): void;
  patchEquations(
    planes: number,
    count: number,
    geometric: number,
    terms: number,
    gain: number,
    scale: number,
    redescending: number,
    scratch: number,
    out: number,
  ): void;
  correlateBox(
    data: number,
    width: number,
    offsets: number,
    pattern: number,
    n: number,
    energy: number,
    left: number,
    top: number,
    across: number,
    down: number,
    out: number,
  ): void;
  WINDOW_ROOM: { readonly value: number };
  takeWindow(data: number, width: number, height: number, x: number, y: number, out: number): number;
  shiftWindow(
    before: number,
    beforeWidth: number,
    beforeHeight: number,
    x: number,
    y: number,
    now: number,
    width: number,
    height: number,
    at: number,
    rounds: number,
    scratch: number,
  ): number;
  fitWindow(
    data: number,
    width: number,
    height: number,
    anchor: number,
    mean: number,
    factor: number,
    fit: number,
    rounds: number,
    scratch: number,
  ): number;
}

/** Points, pieces of points, and rows of a picture that a thread takes at a time. */
const POINTS = 2048;
const PIECES = 16;
const ROWS = 64;
const TEXEL_ROWS = 16;

/**
 * How a part of shared work is run by an instance. What each thread needs for itself is given twice, one after the other:
 * a histogram for `residuals`, room to work in for others.
 */
export function runPartOf(exports: object): RunPart {
  const wasm = exports as Exports;
  return (kernel, from, to, g, thread) => {
    switch (kernel) {
      case BLUR:
        wasm.blurTemplate(
          from,
          to,
          g[0]!,
          g[1]!,
          g[2]!,
          g[3]!,
          g[4]!,
          g[5]!,
          g[6]!,
          g[7]!,
          g[8]!,
          g[9]!,
          g[10]!,
          g[11]!,
        );
        return 0;
      case RESIDUALS:
        return wasm.residuals(
          from,
          to,
          g[0]!,
          g[1]!,
          g[2]!,
          g[3]!,
          g[4]!,
          g[5]!,
          g[6]!,
          g[7]!,
          g[8]!,
          g[9]!,
          g[10]!,
          g[11]!,
          g[12 + thread]!,
          g[14]!,
          g[15]!,
          g[16]!,
          g[17]!,
        );
      case ACCUMULATE:
        wasm.accumulate(
          from,
          to,
          g[0]!,
          g[1]!,
          g[2]!,
          g[3]!,
          g[4]!,
          g[5]!,
          g[6]!,
          g[7]!,
          g[8]!,
          g[9]!,
          g[10]!,
          g[11]!,
          g[12]!,
          g[13]!,
          g[14]!,
          g[15]!,
          g[16 + thread]!,
          g[18]!,
        );
        return 0;
      case SIGNAL8:
        wasm.signal8(from, to, g[0]!, g[1]!, g[2]!, g[3]!, g[4 + thread]!, g[6]!);
        return 0;
      case SIGNAL16:
        wasm.signal16(from, to, g[0]!, g[1]!, g[2]!, g[3]!, g[4 + thread]!, g[6]!);
        return 0;
      case PYRAMID:
        wasm.pyramidDown(from, to, g[0]!, g[1]!, g[2]!, g[3 + thread]!, g[5]!);
        return 0;
      case TEXELS:
        wasm.texels(g[0]!, g[1]!, g[2]!, g[3]!, g[4]!, g[5]!, g[6]!, g[7]! + from, g[8]!, g[7]! + to, g[9]!);
        return 0;
      default:
        throw new RangeError(`there is no kernel ${kernel}`);
    }
  };
}

const PAGE = 65_536;
/** Room for small arguments, tables and the module's own use. */
const SMALL_ROOM = 1_000_000;

/**
 * The kernels of a compiled module (assembly/, built by scripts/build-kernels.mjs). Each set has a memory of its own, of
 * fixed size, so that the arrays given out stay valid; pages that are never touched cost nothing.
 */
export function compiledKernels(instantiate: Instantiate): KernelFactory {
  return { name: 'compiled', open: (bytes, shared = false) => openSet(instantiate, bytes, shared) };
}

/**
 * Makes an instance of the module with a fixed, shared memory of so many pages of 64 KiB: what the platform around core
 * does. `lend` asks a second thread to take part in what is agreed on in a block.
 */
export type Instantiate = (pages: number) => {
  readonly exports: object;
  readonly buffer: ArrayBufferLike;
  readonly lend?: (block: WorkBlock) => void;
};

function openSet(instantiate: Instantiate, bytes: number, shared: boolean): KernelSet {
  const { exports, buffer: memory, lend } = instantiate(Math.ceil((bytes + SMALL_ROOM) / PAGE));
  const wasm = exports as Exports;
  // Views on shared memory are used as any others: what two threads write is agreed on in shared-work.ts.
  const buffer = memory as ArrayBuffer;
  let free = (wasm.heapBase.value + 15) & ~15;
  let used = 0;
  const take = (size: number): number => {
    const at = free;
    free += (size + 15) & ~15;
    if (free > buffer.byteLength) throw new RangeError(`kernel memory of ${buffer.byteLength} bytes is full`);
    // What was given out before the set was cleared is not zero any more.
    if (at < used) new Uint8Array(buffer, at, Math.min(used, free) - at).fill(0);
    used = Math.max(used, free);
    return at;
  };
  const floats = (length: number) => new Float32Array(buffer, take(length * 4), length);
  const bytesOf = (length: number) => new Uint8Array(buffer, take(length), length);
  const place = (array: Float32Array | Uint8Array | Int32Array | Float64Array): number => {
    if (array.buffer !== buffer) throw new TypeError('the array is not of this set’s memory');
    return array.byteOffset;
  };
  const maps = [floats(9), floats(9)] as const;
  const table = floats(65_536);
  const tapRoom = floats(4 * MOST_TAPS);
  const histograms = [take(RESIDUAL_BINS * 8), take(RESIDUAL_BINS * 8)] as const;
  const histogramViews = histograms.map((at) => new Uint32Array(buffer, at, 2 * RESIDUAL_BINS));
  const rooms = [take(wasmRoom(wasm)), take(wasmRoom(wasm))] as const;
  const block = workBlock();
  const work = new SharedWork(block, runPartOf(exports));
  if (shared) lend?.(block);
  const resultAt = take(EQUATION_ENTRIES * 8);
  const resultView = new Float64Array(buffer, resultAt, EQUATION_ENTRIES);
  const patchMemory = take(wasm.PATCH_ROOM.value);
  const patchAt = take(PATCH_ENTRIES * 8);
  const patchView = new Float64Array(buffer, patchAt, PATCH_ENTRIES);
  const windowRoom = take(wasm.WINDOW_ROOM.value);
  const windowView = floats(3 * WINDOW);
  const factorView = new Float64Array(buffer, take(8 * ANCHOR_UNKNOWNS ** 2), ANCHOR_UNKNOWNS ** 2);
  const fitView = new Float64Array(buffer, take(7 * 8), 7);
  const first = free;
  let codesRoom = new Uint8Array(0);
  let rowsRooms: readonly [Float32Array, Float32Array] = [new Float32Array(0), new Float32Array(0)];
  let lastTable: Float32Array | null = null;
  const needRows = (width: number): void => {
    if (rowsRooms[0].length < 3 * width) rowsRooms = [floats(3 * width), floats(3 * width)];
  };
  const put = (map: ArrayLike<number> | null, into: 0 | 1): number => {
    if (!map) return 0;
    maps[into].set(map);
    return maps[into].byteOffset;
  };
  return {
    name: 'compiled',
    floats,
    bytes: bytesOf,
    ints: (length) => new Int32Array(buffer, take(length * 4), length),
    doubles: (length) => new Float64Array(buffer, take(length * 8), length),
    clear() {
      free = first;
      codesRoom = new Uint8Array(0);
      rowsRooms = [new Float32Array(0), new Float32Array(0)];
    },
    signal(codes, width, height, lookUp, out) {
      if (codesRoom.length < codes.byteLength) codesRoom = bytesOf(codes.byteLength);
      needRows(width);
      if (lastTable !== lookUp) table.set(lookUp);
      lastTable = lookUp;
      codesRoom.set(new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength));
      work.share(codes.BYTES_PER_ELEMENT === 1 ? SIGNAL8 : SIGNAL16, height, ROWS, [
        codesRoom.byteOffset,
        width,
        height,
        table.byteOffset,
        rowsRooms[0].byteOffset,
        rowsRooms[1].byteOffset,
        place(out),
      ]);
    },
    pyramidDown(from, width, height, to) {
      needRows(width);
      work.share(PYRAMID, (height + 1) >> 1, ROWS, [
        place(from),
        width,
        height,
        rowsRooms[0].byteOffset,
        rowsRooms[1].byteOffset,
        place(to),
      ]);
    },
    texels(value, width, height, mask, maskWidth, level, { left, top, right, bottom }, out) {
      work.share(TEXELS, bottom - top, TEXEL_ROWS, [
        place(value),
        width,
        height,
        mask ? place(mask) : 0,
        maskWidth,
        level,
        left,
        top,
        right,
        place(out),
      ]);
    },
    blurTemplate({ texels, width, height }, { xs, ys, count }, back, ahead, taps, tapCount, out) {
      tapRoom.set(taps.subarray(0, 4 * tapCount));
      work.share(BLUR, count, POINTS, [
        place(texels),
        width,
        height,
        place(xs),
        place(ys),
        count,
        put(back, 0),
        put(ahead, 1),
        tapRoom.byteOffset,
        tapCount,
        DARKEST_LIGHT,
        place(out),
      ]);
    },
    residuals(
      { texels, width, height },
      { xs, ys, prior, count },
      blurred,
      h,
      gain,
      offset,
      steep,
      histogram,
      sampled,
    ) {
      for (const view of histogramViews) view.fill(0);
      const visible = work.share(RESIDUALS, count, POINTS, [
        place(texels),
        width,
        height,
        place(xs),
        place(ys),
        count,
        place(blurred),
        place(prior),
        put(h, 0),
        gain,
        offset,
        steep,
        ...histograms,
        RESIDUAL_BINS,
        1 / RESIDUAL_BIN,
        1 / OFFSET_BIN,
        place(sampled),
      ]);
      const [own, other] = histogramViews;
      for (let bin = 0; bin < histogram.length; bin++) histogram[bin] = own![bin]! + other![bin]!;
      return visible;
    },
    accumulate({ xs, ys, prior, count }, starts, blurred, sampled, s, out) {
      work.share(ACCUMULATE, starts.length - 1, PIECES, [
        place(starts),
        count,
        place(xs),
        place(ys),
        place(blurred),
        place(sampled),
        place(prior),
        s.scaleX,
        s.offsetX,
        s.scaleY,
        s.offsetY,
        s.gain,
        s.tolerance,
        s.scale,
        s.mix,
        s.redescending ? 1 : 0,
        ...rooms,
        place(out),
      ]);
    },
    correlate(value, width, height, { xs, ys, prior, count }, blurred, h, step, out) {
      wasm.correlate(
        place(value),
        width,
        height,
        place(xs),
        place(ys),
        count,
        place(blurred),
        place(prior),
        put(h, 0),
        step,
        resultAt,
      );
      out.set(resultView.subarray(0, 6));
    },
    sampleCubic({ data, width, height }, xs, ys, count, x, y, along, taps, out) {
      wasm.sampleCubic(
        place(data),
        width,
        height,
        place(xs),
        place(ys),
        count,
        x,
        y,
        along[0],
        along[1],
        taps,
        place(out),
      );
    },
    patchEquations(planes, count, geometric, terms, gain, scale, redescending, out) {
      wasm.patchEquations(
        place(planes),
        count,
        geometric,
        terms,
        gain,
        scale,
        redescending ? 1 : 0,
        patchMemory,
        patchAt,
      );
      out.set(patchView);
    },
    correlateBox({ data, width }, offsets, pattern, n, energy, left, top, across, down, out) {
      wasm.correlateBox(
        place(data),
        width,
        place(offsets),
        place(pattern),
        n,
        energy,
        left,
        top,
        across,
        down,
        place(out),
      );
    },
    takeWindow({ data, width, height }, x, y, out) {
      if (wasm.takeWindow(place(data), width, height, x, y, windowView.byteOffset) === 0) return false;
      out.set(windowView);
      return true;
    },
    shiftWindow(before, x, y, now, at, rounds) {
      fitView.set(at);
      const found =
        wasm.shiftWindow(
          place(before.data),
          before.width,
          before.height,
          x,
          y,
          place(now.data),
          now.width,
          now.height,
          fitView.byteOffset,
          rounds,
          windowRoom,
        ) === 1;
      for (let k = 0; k < 3; k++) at[k] = fitView[k]!;
      return found;
    },
    fitWindow({ data, width, height }, anchor, mean, factor, fit, rounds) {
      windowView.set(anchor);
      factorView.set(factor);
      fitView.set(fit);
      const found =
        wasm.fitWindow(
          place(data),
          width,
          height,
          windowView.byteOffset,
          mean,
          factorView.byteOffset,
          fitView.byteOffset,
          rounds,
          windowRoom,
        ) === 1;
      fit.set(fitView);
      return found;
    },
  };
}

function wasmRoom({ ACCUMULATE_ROOM }: Exports): number {
  return ACCUMULATE_ROOM.value;
}
