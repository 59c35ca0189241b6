import { DARKEST_LIGHT } from './plain-template.ts';
import { EQUATION_ENTRIES, MOST_TAPS, OFFSET_BIN, RESIDUAL_BIN, RESIDUAL_BINS, type KernelFactory, type KernelSet } from './kernel-set.ts';

/** What assembly/index.ts exports; places are byte offsets. */
interface Exports {
  heapBase: { readonly value: number };
  signal8(codes: number, width: number, height: number, table: number, rows: number, out: number): void;
  signal16(codes: number, width: number, height: number, table: number, rows: number, out: number): void;
  pyramidDown(from: number, width: number, height: number, column: number, to: number): void;
  texels(value: number, width: number, height: number, mask: number, maskWidth: number, level: number, left: number, top: number, right: number, bottom: number, out: number): void;
  blurTemplate(texels: number, width: number, height: number, xs: number, ys: number, count: number, back: number, ahead: number, taps: number, tapCount: number, darkest: number, out: number): void;
  residuals(
    texels: number, width: number, height: number, xs: number, ys: number, count: number, blurred: number, prior: number, h: number, gain: number, offset: number,
    steep: number, histogram: number, bins: number, binsPerUnit: number, binsPerSample: number, sampled: number,
  ): number;
  accumulate(
    from: number, to: number, count: number, xs: number, ys: number, blurred: number, sampled: number, prior: number,
    scaleX: number, offsetX: number, scaleY: number, offsetY: number, gain: number, tolerance: number, sigma: number, mix: number, redescending: number, out: number,
  ): void;
  correlate(value: number, width: number, height: number, xs: number, ys: number, count: number, blurred: number, prior: number, h: number, step: number, out: number): void;
}

const PAGE = 65_536;
/** Room for small arguments, tables and the module's own use. */
const SMALL_ROOM = 1_000_000;

/**
 * The kernels of a compiled module (assembly/, built by scripts/build-kernels.mjs). Each set has a memory of its own, of
 * fixed size, so that the arrays given out stay valid; pages that are never touched cost nothing.
 */
export function compiledKernels(instantiate: Instantiate): KernelFactory {
  return { name: 'compiled', open: (bytes) => openSet(instantiate, bytes) };
}

/** Makes an instance of the module with a fixed memory of so many pages of 64 KiB: what the platform around core does. */
export type Instantiate = (pages: number) => { readonly exports: object; readonly buffer: ArrayBuffer };

function openSet(instantiate: Instantiate, bytes: number): KernelSet {
  const { exports, buffer } = instantiate(Math.ceil((bytes + SMALL_ROOM) / PAGE)), wasm = exports as Exports;
  let free = (wasm.heapBase.value + 15) & ~15;
  const take = (size: number): number => {
    const at = free;
    free += (size + 15) & ~15;
    if (free > buffer.byteLength) throw new RangeError(`kernel memory of ${buffer.byteLength} bytes is full`);
    return at;
  };
  const floats = (length: number) => new Float32Array(buffer, take(length * 4), length);
  const bytesOf = (length: number) => new Uint8Array(buffer, take(length), length);
  const place = (array: Float32Array | Uint8Array): number => {
    if (array.buffer !== buffer) throw new TypeError('the array is not of this set’s memory');
    return array.byteOffset;
  };
  const maps = [floats(9), floats(9)] as const, table = floats(65_536), tapRoom = floats(4 * MOST_TAPS), histogramAt = take(RESIDUAL_BINS * 8);
  const histogramView = new Uint32Array(buffer, histogramAt, 2 * RESIDUAL_BINS), resultAt = take(EQUATION_ENTRIES * 8);
  const resultView = new Float64Array(buffer, resultAt, EQUATION_ENTRIES);
  let codesRoom = new Uint8Array(0), rowsRoom = new Float32Array(0), lastTable: Float32Array | null = null;
  const put = (map: ArrayLike<number> | null, into: 0 | 1): number => {
    if (!map) return 0;
    maps[into].set(map);
    return maps[into].byteOffset;
  };
  return {
    name: 'compiled', floats, bytes: bytesOf,
    signal(codes, width, height, lookUp, out) {
      if (codesRoom.length < codes.byteLength) codesRoom = bytesOf(codes.byteLength);
      if (rowsRoom.length < 3 * width) rowsRoom = floats(3 * width);
      if (lastTable !== lookUp) table.set(lookUp);
      lastTable = lookUp;
      codesRoom.set(new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength));
      wasm[codes.BYTES_PER_ELEMENT === 1 ? 'signal8' : 'signal16'](codesRoom.byteOffset, width, height, table.byteOffset, rowsRoom.byteOffset, place(out));
    },
    pyramidDown(from, width, height, to) {
      if (rowsRoom.length < 3 * width) rowsRoom = floats(3 * width);
      wasm.pyramidDown(place(from), width, height, rowsRoom.byteOffset, place(to));
    },
    texels(value, width, height, mask, maskWidth, level, { left, top, right, bottom }, out) {
      wasm.texels(place(value), width, height, mask ? place(mask) : 0, maskWidth, level, left, top, right, bottom, place(out));
    },
    blurTemplate({ texels, width, height }, { xs, ys, count }, back, ahead, taps, tapCount, out) {
      tapRoom.set(taps.subarray(0, 4 * tapCount));
      wasm.blurTemplate(place(texels), width, height, place(xs), place(ys), count, put(back, 0), put(ahead, 1), tapRoom.byteOffset, tapCount, DARKEST_LIGHT, place(out));
    },
    residuals({ texels, width, height }, { xs, ys, prior, count }, blurred, h, gain, offset, steep, histogram, sampled) {
      const visible = wasm.residuals(
        place(texels), width, height, place(xs), place(ys), count, place(blurred), place(prior), put(h, 0), gain, offset, steep, histogramAt, RESIDUAL_BINS, 1 / RESIDUAL_BIN, 1 / OFFSET_BIN, place(sampled));
      histogram.set(histogramView);
      return visible;
    },
    accumulate({ xs, ys, prior, count }, from, to, blurred, sampled, s, out) {
      wasm.accumulate(
        from, to, count, place(xs), place(ys), place(blurred), place(sampled), place(prior), s.scaleX, s.offsetX, s.scaleY, s.offsetY,
        s.gain, s.tolerance, s.scale, s.mix, s.redescending ? 1 : 0, resultAt);
      out.set(resultView);
    },
    correlate(value, width, height, { xs, ys, prior, count }, blurred, h, step, out) {
      wasm.correlate(place(value), width, height, place(xs), place(ys), count, place(blurred), place(prior), put(h, 0), step, resultAt);
      out.set(resultView.subarray(0, 6));
    },
  };
}
