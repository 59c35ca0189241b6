import { DARKEST_LIGHT } from './plain-template.ts';
import { followingCalls, given, runShared, SHARED, type FollowingExports } from './kernel-calls.ts';
import { SharedWork, workBlock, type RunPart, type WorkBlock } from './shared-work.ts';
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

/** Points, pieces of points, and rows of a picture that a thread takes at a time. */
const POINTS = 2048;
const PIECES = 16;
const ROWS = 64;
const TEXEL_ROWS = 16;

/** How a part of shared work is run by an instance of the module. */
export function runPartOf(exports: object): RunPart {
  const wasm = exports as FollowingExports;
  return (kernel, from, to, numbers, thread) => runShared(wasm, kernel, from, to, numbers, thread);
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
  const wasm = exports as FollowingExports;
  const call = followingCalls(wasm);
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
      const kernel = codes.BYTES_PER_ELEMENT === 1 ? 'signal8' : 'signal16';
      work.share(
        SHARED[kernel],
        height,
        ROWS,
        given[kernel]({
          codes: codesRoom.byteOffset,
          width,
          height,
          table: table.byteOffset,
          ownRows: [rowsRooms[0].byteOffset, rowsRooms[1].byteOffset],
          out: place(out),
        }),
      );
    },
    pyramidDown(from, width, height, to) {
      needRows(width);
      work.share(
        SHARED.pyramidDown,
        (height + 1) >> 1,
        ROWS,
        given.pyramidDown({
          from: place(from),
          width,
          height,
          ownColumn: [rowsRooms[0].byteOffset, rowsRooms[1].byteOffset],
          to: place(to),
        }),
      );
    },
    texels(value, width, height, mask, maskWidth, level, { left, top, right, bottom }, out) {
      work.share(
        SHARED.texels,
        bottom - top,
        TEXEL_ROWS,
        given.texels({
          value: place(value),
          width,
          height,
          mask: mask ? place(mask) : 0,
          maskWidth,
          level,
          left,
          top,
          right,
          out: place(out),
        }),
      );
    },
    blurTemplate({ texels, width, height }, { xs, ys, count }, back, ahead, taps, tapCount, out) {
      tapRoom.set(taps.subarray(0, 4 * tapCount));
      work.share(
        SHARED.blurTemplate,
        count,
        POINTS,
        given.blurTemplate({
          texels: place(texels),
          width,
          height,
          xs: place(xs),
          ys: place(ys),
          count,
          back: put(back, 0),
          ahead: put(ahead, 1),
          taps: tapRoom.byteOffset,
          tapCount,
          darkest: DARKEST_LIGHT,
          out: place(out),
        }),
      );
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
      const visible = work.share(
        SHARED.residuals,
        count,
        POINTS,
        given.residuals({
          texels: place(texels),
          width,
          height,
          xs: place(xs),
          ys: place(ys),
          count,
          blurred: place(blurred),
          prior: place(prior),
          h: put(h, 0),
          gain,
          offset,
          steep,
          ownHistogram: histograms,
          bins: RESIDUAL_BINS,
          binsPerUnit: 1 / RESIDUAL_BIN,
          binsPerSample: 1 / OFFSET_BIN,
          sampled: place(sampled),
        }),
      );
      const [own, other] = histogramViews;
      for (let bin = 0; bin < histogram.length; bin++) histogram[bin] = own![bin]! + other![bin]!;
      return visible;
    },
    accumulate({ xs, ys, prior, count }, starts, blurred, sampled, s, out) {
      work.share(
        SHARED.accumulate,
        starts.length - 1,
        PIECES,
        given.accumulate({
          starts: place(starts),
          count,
          xs: place(xs),
          ys: place(ys),
          blurred: place(blurred),
          sampled: place(sampled),
          prior: place(prior),
          scaleX: s.scaleX,
          offsetX: s.offsetX,
          scaleY: s.scaleY,
          offsetY: s.offsetY,
          gain: s.gain,
          tolerance: s.tolerance,
          sigma: s.scale,
          mix: s.mix,
          redescending: s.redescending ? 1 : 0,
          ownScratch: rooms,
          out: place(out),
        }),
      );
    },
    correlate(value, width, height, { xs, ys, prior, count }, blurred, h, step, out) {
      call.correlate({
        value: place(value),
        width,
        height,
        xs: place(xs),
        ys: place(ys),
        count,
        blurred: place(blurred),
        prior: place(prior),
        h: put(h, 0),
        step,
        out: resultAt,
      });
      out.set(resultView.subarray(0, 6));
    },
    sampleCubic({ data, width, height }, xs, ys, count, x, y, along, taps, out) {
      call.sampleCubic({
        data: place(data),
        width,
        height,
        xs: place(xs),
        ys: place(ys),
        count,
        x,
        y,
        alongX: along[0],
        alongY: along[1],
        taps,
        out: place(out),
      });
    },
    patchEquations(planes, count, geometric, terms, gain, scale, redescending, out) {
      call.patchEquations({
        planes: place(planes),
        count,
        geometric,
        terms,
        gain,
        sigma: scale,
        redescending: redescending ? 1 : 0,
        scratch: patchMemory,
        out: patchAt,
      });
      out.set(patchView);
    },
    correlateBox({ data, width }, offsets, pattern, n, energy, left, top, across, down, out) {
      call.correlateBox({
        data: place(data),
        width,
        offsets: place(offsets),
        pattern: place(pattern),
        n,
        energy,
        left,
        top,
        across,
        down,
        out: place(out),
      });
    },
    takeWindow({ data, width, height }, x, y, out) {
      if (call.takeWindow({ data: place(data), width, height, x, y, out: windowView.byteOffset }) === 0) return false;
      out.set(windowView);
      return true;
    },
    shiftWindow(before, x, y, now, at, rounds) {
      fitView.set(at);
      const found =
        call.shiftWindow({
          before: place(before.data),
          beforeWidth: before.width,
          beforeHeight: before.height,
          x,
          y,
          data: place(now.data),
          width: now.width,
          height: now.height,
          at: fitView.byteOffset,
          rounds,
          scratch: windowRoom,
        }) === 1;
      for (let k = 0; k < 3; k++) at[k] = fitView[k]!;
      return found;
    },
    fitWindow({ data, width, height }, anchor, mean, factor, fit, rounds) {
      windowView.set(anchor);
      factorView.set(factor);
      fitView.set(fit);
      const found =
        call.fitWindow({
          data: place(data),
          width,
          height,
          anchor: windowView.byteOffset,
          mean,
          factor: factorView.byteOffset,
          fit: fitView.byteOffset,
          rounds,
          scratch: windowRoom,
        }) === 1;
      fit.set(fitView);
      return found;
    },
  };
}

function wasmRoom({ ACCUMULATE_ROOM }: FollowingExports): number {
  return ACCUMULATE_ROOM.value;
}
