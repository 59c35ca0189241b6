// Written by scripts/kernel-calls.mjs from the signatures in assembly: change those, then run it.

/** What assembly's module offers, by position; places are byte offsets. */
export interface FollowingExports {
  readonly ACCUMULATE_ROOM: { readonly value: number };
  readonly PATCH_ROOM: { readonly value: number };
  readonly WINDOW_ROOM: { readonly value: number };
  readonly heapBase: { readonly value: number };
  signal8(first: number, last: number, codes: number, width: number, height: number, table: number, ownRows: number, out: number): void;
  signal16(first: number, last: number, codes: number, width: number, height: number, table: number, ownRows: number, out: number): void;
  pyramidDown(first: number, last: number, from: number, width: number, height: number, ownColumn: number, to: number): void;
  texels(first: number, last: number, value: number, width: number, height: number, mask: number, maskWidth: number, level: number, left: number, top: number, right: number, out: number): void;
  blurTemplate(first: number, last: number, texels: number, width: number, height: number, xs: number, ys: number, count: number, back: number, ahead: number, taps: number, tapCount: number, darkest: number, out: number): void;
  residuals(first: number, last: number, texels: number, width: number, height: number, xs: number, ys: number, count: number, blurred: number, prior: number, h: number, gain: number, offset: number, steep: number, ownHistogram: number, bins: number, binsPerUnit: number, binsPerSample: number, sampled: number): number;
  accumulate(first: number, last: number, starts: number, count: number, xs: number, ys: number, blurred: number, sampled: number, prior: number, scaleX: number, offsetX: number, scaleY: number, offsetY: number, gain: number, tolerance: number, sigma: number, mix: number, redescending: number, ownScratch: number, out: number): void;
  correlate(value: number, width: number, height: number, xs: number, ys: number, count: number, blurred: number, prior: number, h: number, step: number, out: number): void;
  sampleCubic(data: number, width: number, height: number, xs: number, ys: number, count: number, x: number, y: number, alongX: number, alongY: number, taps: number, out: number): void;
  patchEquations(planes: number, count: number, geometric: number, terms: number, gain: number, sigma: number, redescending: number, scratch: number, out: number): void;
  correlateBox(data: number, width: number, offsets: number, pattern: number, n: number, energy: number, left: number, top: number, across: number, down: number, out: number): void;
  takeWindow(data: number, width: number, height: number, x: number, y: number, out: number): number;
  shiftWindow(before: number, beforeWidth: number, beforeHeight: number, x: number, y: number, data: number, width: number, height: number, at: number, rounds: number, scratch: number): number;
  fitWindow(data: number, width: number, height: number, anchor: number, mean: number, factor: number, fit: number, rounds: number, scratch: number): number;
}

export interface Signal8Call {
  readonly codes: number;
  readonly width: number;
  readonly height: number;
  readonly table: number;
  readonly ownRows: readonly [number, number];
  readonly out: number;
}

export interface Signal16Call {
  readonly codes: number;
  readonly width: number;
  readonly height: number;
  readonly table: number;
  readonly ownRows: readonly [number, number];
  readonly out: number;
}

export interface PyramidDownCall {
  readonly from: number;
  readonly width: number;
  readonly height: number;
  readonly ownColumn: readonly [number, number];
  readonly to: number;
}

export interface TexelsCall {
  readonly value: number;
  readonly width: number;
  readonly height: number;
  readonly mask: number;
  readonly maskWidth: number;
  readonly level: number;
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly out: number;
}

export interface BlurTemplateCall {
  readonly texels: number;
  readonly width: number;
  readonly height: number;
  readonly xs: number;
  readonly ys: number;
  readonly count: number;
  readonly back: number;
  readonly ahead: number;
  readonly taps: number;
  readonly tapCount: number;
  readonly darkest: number;
  readonly out: number;
}

export interface ResidualsCall {
  readonly texels: number;
  readonly width: number;
  readonly height: number;
  readonly xs: number;
  readonly ys: number;
  readonly count: number;
  readonly blurred: number;
  readonly prior: number;
  readonly h: number;
  readonly gain: number;
  readonly offset: number;
  readonly steep: number;
  readonly ownHistogram: readonly [number, number];
  readonly bins: number;
  readonly binsPerUnit: number;
  readonly binsPerSample: number;
  readonly sampled: number;
}

export interface AccumulateCall {
  readonly starts: number;
  readonly count: number;
  readonly xs: number;
  readonly ys: number;
  readonly blurred: number;
  readonly sampled: number;
  readonly prior: number;
  readonly scaleX: number;
  readonly offsetX: number;
  readonly scaleY: number;
  readonly offsetY: number;
  readonly gain: number;
  readonly tolerance: number;
  readonly sigma: number;
  readonly mix: number;
  readonly redescending: number;
  readonly ownScratch: readonly [number, number];
  readonly out: number;
}

export interface CorrelateCall {
  readonly value: number;
  readonly width: number;
  readonly height: number;
  readonly xs: number;
  readonly ys: number;
  readonly count: number;
  readonly blurred: number;
  readonly prior: number;
  readonly h: number;
  readonly step: number;
  readonly out: number;
}

export interface SampleCubicCall {
  readonly data: number;
  readonly width: number;
  readonly height: number;
  readonly xs: number;
  readonly ys: number;
  readonly count: number;
  readonly x: number;
  readonly y: number;
  readonly alongX: number;
  readonly alongY: number;
  readonly taps: number;
  readonly out: number;
}

export interface PatchEquationsCall {
  readonly planes: number;
  readonly count: number;
  readonly geometric: number;
  readonly terms: number;
  readonly gain: number;
  readonly sigma: number;
  readonly redescending: number;
  readonly scratch: number;
  readonly out: number;
}

export interface CorrelateBoxCall {
  readonly data: number;
  readonly width: number;
  readonly offsets: number;
  readonly pattern: number;
  readonly n: number;
  readonly energy: number;
  readonly left: number;
  readonly top: number;
  readonly across: number;
  readonly down: number;
  readonly out: number;
}

export interface TakeWindowCall {
  readonly data: number;
  readonly width: number;
  readonly height: number;
  readonly x: number;
  readonly y: number;
  readonly out: number;
}

export interface ShiftWindowCall {
  readonly before: number;
  readonly beforeWidth: number;
  readonly beforeHeight: number;
  readonly x: number;
  readonly y: number;
  readonly data: number;
  readonly width: number;
  readonly height: number;
  readonly at: number;
  readonly rounds: number;
  readonly scratch: number;
}

export interface FitWindowCall {
  readonly data: number;
  readonly width: number;
  readonly height: number;
  readonly anchor: number;
  readonly mean: number;
  readonly factor: number;
  readonly fit: number;
  readonly rounds: number;
  readonly scratch: number;
}

export const followingCalls = (wasm: FollowingExports) => ({
  correlate: (call: CorrelateCall) => wasm.correlate(call.value, call.width, call.height, call.xs, call.ys, call.count, call.blurred, call.prior, call.h, call.step, call.out),
  sampleCubic: (call: SampleCubicCall) => wasm.sampleCubic(call.data, call.width, call.height, call.xs, call.ys, call.count, call.x, call.y, call.alongX, call.alongY, call.taps, call.out),
  patchEquations: (call: PatchEquationsCall) => wasm.patchEquations(call.planes, call.count, call.geometric, call.terms, call.gain, call.sigma, call.redescending, call.scratch, call.out),
  correlateBox: (call: CorrelateBoxCall) => wasm.correlateBox(call.data, call.width, call.offsets, call.pattern, call.n, call.energy, call.left, call.top, call.across, call.down, call.out),
  takeWindow: (call: TakeWindowCall) => wasm.takeWindow(call.data, call.width, call.height, call.x, call.y, call.out),
  shiftWindow: (call: ShiftWindowCall) => wasm.shiftWindow(call.before, call.beforeWidth, call.beforeHeight, call.x, call.y, call.data, call.width, call.height, call.at, call.rounds, call.scratch),
  fitWindow: (call: FitWindowCall) => wasm.fitWindow(call.data, call.width, call.height, call.anchor, call.mean, call.factor, call.fit, call.rounds, call.scratch),
});

/** Kernels whose work can be shared; numbers, because both threads must name them alike. */
export const SHARED = {
  signal8: 0,
  signal16: 1,
  pyramidDown: 2,
  texels: 3,
  blurTemplate: 4,
  residuals: 5,
  accumulate: 6,
} as const;

/** The arguments of a shared kernel in the order in which both threads read them. */
export const given = {
  signal8: (call: Signal8Call) => [call.codes, call.width, call.height, call.table, ...call.ownRows, call.out],
  signal16: (call: Signal16Call) => [call.codes, call.width, call.height, call.table, ...call.ownRows, call.out],
  pyramidDown: (call: PyramidDownCall) => [call.from, call.width, call.height, ...call.ownColumn, call.to],
  texels: (call: TexelsCall) => [call.value, call.width, call.height, call.mask, call.maskWidth, call.level, call.left, call.top, call.right, call.out],
  blurTemplate: (call: BlurTemplateCall) => [call.texels, call.width, call.height, call.xs, call.ys, call.count, call.back, call.ahead, call.taps, call.tapCount, call.darkest, call.out],
  residuals: (call: ResidualsCall) => [call.texels, call.width, call.height, call.xs, call.ys, call.count, call.blurred, call.prior, call.h, call.gain, call.offset, call.steep, ...call.ownHistogram, call.bins, call.binsPerUnit, call.binsPerSample, call.sampled],
  accumulate: (call: AccumulateCall) => [call.starts, call.count, call.xs, call.ys, call.blurred, call.sampled, call.prior, call.scaleX, call.offsetX, call.scaleY, call.offsetY, call.gain, call.tolerance, call.sigma, call.mix, call.redescending, ...call.ownScratch, call.out],
};

/** Runs units from…to of a shared kernel on what was given; what is to be added up. */
export function runShared(
  wasm: FollowingExports, kernel: number, from: number, to: number, given: Float64Array, thread: 0 | 1,
): number {
  switch (kernel) {
    case 0:
      wasm.signal8(from, to, given[0]!, given[1]!, given[2]!, given[3]!, given[4 + thread]!, given[6]!);
      return 0;
    case 1:
      wasm.signal16(from, to, given[0]!, given[1]!, given[2]!, given[3]!, given[4 + thread]!, given[6]!);
      return 0;
    case 2:
      wasm.pyramidDown(from, to, given[0]!, given[1]!, given[2]!, given[3 + thread]!, given[5]!);
      return 0;
    case 3:
      wasm.texels(from, to, given[0]!, given[1]!, given[2]!, given[3]!, given[4]!, given[5]!, given[6]!, given[7]!, given[8]!, given[9]!);
      return 0;
    case 4:
      wasm.blurTemplate(from, to, given[0]!, given[1]!, given[2]!, given[3]!, given[4]!, given[5]!, given[6]!, given[7]!, given[8]!, given[9]!, given[10]!, given[11]!);
      return 0;
    case 5:
      return wasm.residuals(from, to, given[0]!, given[1]!, given[2]!, given[3]!, given[4]!, given[5]!, given[6]!, given[7]!, given[8]!, given[9]!, given[10]!, given[11]!, given[12 + thread]!, given[14]!, given[15]!, given[16]!, given[17]!);
    case 6:
      wasm.accumulate(from, to, given[0]!, given[1]!, given[2]!, given[3]!, given[4]!, given[5]!, given[6]!, given[7]!, given[8]!, given[9]!, given[10]!, given[11]!, given[12]!, given[13]!, given[14]!, given[15]!, given[16 + thread]!, given[18]!);
      return 0;
    default:
      throw new RangeError(`there is no kernel ${kernel}`);
  }
}

/** What assembly's module offers, by position; places are byte offsets. */
export interface CompositeExports {
  readonly heapBase: { readonly value: number };
  flatRow(map: number, faded: number, row: number, from: number, to: number, dx: number, dy: number, places: number, plane: number, share: number, weights: number, cover: number): void;
  addPatches(levels: number, coarsest: number, places: number, plane: number, weights: number, first: number, count: number, out: number): number;
  convolve(data: number, width: number, height: number, channels: number, kernel: number, radius: number, repeat: number, scratch: number): void;
  addSmooth(levels: number, coarsest: number, detail: number, between: number, places: number, plane: number, weights: number, first: number, count: number, out: number): number;
  halve(from: number, width: number, height: number, weights: number, to: number, scratch: number): void;
  enlarge(plane: number, across: number, down: number, block: number, width: number, height: number, out: number, line: number): void;
  filledBlocks(count: number, values: number, stride: number, weight: number, width: number, height: number, block: number, to: number): void;
  grainField(left: number, top: number, width: number, height: number, stride: number, across: number, rx: number, down: number, ry: number, seed: number, white: number, lines: number, out: number): void;
  layGrain(codes: number, shown: number, width: number, height: number, stride: number, fields: number, plane: number, own: number, shared: number, tables: number, levels: number): void;
  keyFront(planes: number, plane: number, width: number, height: number, order: number, inside: number, marked: number, values: number, matte: number, screen: number, scratch: number): void;
  laySeen(count: number, planes: number, plane: number, front: number, limit: number, screen: number, layer: number, cover: number, seen: number, sums: number): void;
  holdToKnown(width: number, height: number, planes: number, plane: number, front: number, seen: number, marked: number, order: number, scratch: number): void;
  layMix(width: number, height: number, planes: number, plane: number, screen: number, layer: number, seen: number, opacity: number, encode: number, codes: number, across: number, result: number): void;
  replaceSpill(codes: number, out: number, weight: number, near: number, width: number, height: number, order: number, front: number, frontPlane: number, frontTop: number, frontBottom: number, left: number, right: number, values: number, table: number, encode: number, scratch: number): void;
}

export interface FlatRowCall {
  readonly map: number;
  readonly faded: number;
  readonly row: number;
  readonly from: number;
  readonly to: number;
  readonly dx: number;
  readonly dy: number;
  readonly places: number;
  readonly plane: number;
  readonly share: number;
  readonly weights: number;
  readonly cover: number;
}

export interface AddPatchesCall {
  readonly levels: number;
  readonly coarsest: number;
  readonly places: number;
  readonly plane: number;
  readonly weights: number;
  readonly first: number;
  readonly count: number;
  readonly out: number;
}

export interface ConvolveCall {
  readonly data: number;
  readonly width: number;
  readonly height: number;
  readonly channels: number;
  readonly kernel: number;
  readonly radius: number;
  readonly repeat: number;
  readonly scratch: number;
}

export interface AddSmoothCall {
  readonly levels: number;
  readonly coarsest: number;
  readonly detail: number;
  readonly between: number;
  readonly places: number;
  readonly plane: number;
  readonly weights: number;
  readonly first: number;
  readonly count: number;
  readonly out: number;
}

export interface HalveCall {
  readonly from: number;
  readonly width: number;
  readonly height: number;
  readonly weights: number;
  readonly to: number;
  readonly scratch: number;
}

export interface EnlargeCall {
  readonly plane: number;
  readonly across: number;
  readonly down: number;
  readonly block: number;
  readonly width: number;
  readonly height: number;
  readonly out: number;
  readonly line: number;
}

export interface FilledBlocksCall {
  readonly count: number;
  readonly values: number;
  readonly stride: number;
  readonly weight: number;
  readonly width: number;
  readonly height: number;
  readonly block: number;
  readonly to: number;
}

export interface GrainFieldCall {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  readonly stride: number;
  readonly across: number;
  readonly rx: number;
  readonly down: number;
  readonly ry: number;
  readonly seed: number;
  readonly white: number;
  readonly lines: number;
  readonly out: number;
}

export interface LayGrainCall {
  readonly codes: number;
  readonly shown: number;
  readonly width: number;
  readonly height: number;
  readonly stride: number;
  readonly fields: number;
  readonly plane: number;
  readonly own: number;
  readonly shared: number;
  readonly tables: number;
  readonly levels: number;
}

export interface KeyFrontCall {
  readonly planes: number;
  readonly plane: number;
  readonly width: number;
  readonly height: number;
  readonly order: number;
  readonly inside: number;
  readonly marked: number;
  readonly values: number;
  readonly matte: number;
  readonly screen: number;
  readonly scratch: number;
}

export interface LaySeenCall {
  readonly count: number;
  readonly planes: number;
  readonly plane: number;
  readonly front: number;
  readonly limit: number;
  readonly screen: number;
  readonly layer: number;
  readonly cover: number;
  readonly seen: number;
  readonly sums: number;
}

export interface HoldToKnownCall {
  readonly width: number;
  readonly height: number;
  readonly planes: number;
  readonly plane: number;
  readonly front: number;
  readonly seen: number;
  readonly marked: number;
  readonly order: number;
  readonly scratch: number;
}

export interface LayMixCall {
  readonly width: number;
  readonly height: number;
  readonly planes: number;
  readonly plane: number;
  readonly screen: number;
  readonly layer: number;
  readonly seen: number;
  readonly opacity: number;
  readonly encode: number;
  readonly codes: number;
  readonly across: number;
  readonly result: number;
}

export interface ReplaceSpillCall {
  readonly codes: number;
  readonly out: number;
  readonly weight: number;
  readonly near: number;
  readonly width: number;
  readonly height: number;
  readonly order: number;
  readonly front: number;
  readonly frontPlane: number;
  readonly frontTop: number;
  readonly frontBottom: number;
  readonly left: number;
  readonly right: number;
  readonly values: number;
  readonly table: number;
  readonly encode: number;
  readonly scratch: number;
}

export const compositeCalls = (wasm: CompositeExports) => ({
  flatRow: (call: FlatRowCall) => wasm.flatRow(call.map, call.faded, call.row, call.from, call.to, call.dx, call.dy, call.places, call.plane, call.share, call.weights, call.cover),
  addPatches: (call: AddPatchesCall) => wasm.addPatches(call.levels, call.coarsest, call.places, call.plane, call.weights, call.first, call.count, call.out),
  convolve: (call: ConvolveCall) => wasm.convolve(call.data, call.width, call.height, call.channels, call.kernel, call.radius, call.repeat, call.scratch),
  addSmooth: (call: AddSmoothCall) => wasm.addSmooth(call.levels, call.coarsest, call.detail, call.between, call.places, call.plane, call.weights, call.first, call.count, call.out),
  halve: (call: HalveCall) => wasm.halve(call.from, call.width, call.height, call.weights, call.to, call.scratch),
  enlarge: (call: EnlargeCall) => wasm.enlarge(call.plane, call.across, call.down, call.block, call.width, call.height, call.out, call.line),
  filledBlocks: (call: FilledBlocksCall) => wasm.filledBlocks(call.count, call.values, call.stride, call.weight, call.width, call.height, call.block, call.to),
  grainField: (call: GrainFieldCall) => wasm.grainField(call.left, call.top, call.width, call.height, call.stride, call.across, call.rx, call.down, call.ry, call.seed, call.white, call.lines, call.out),
  layGrain: (call: LayGrainCall) => wasm.layGrain(call.codes, call.shown, call.width, call.height, call.stride, call.fields, call.plane, call.own, call.shared, call.tables, call.levels),
  keyFront: (call: KeyFrontCall) => wasm.keyFront(call.planes, call.plane, call.width, call.height, call.order, call.inside, call.marked, call.values, call.matte, call.screen, call.scratch),
  laySeen: (call: LaySeenCall) => wasm.laySeen(call.count, call.planes, call.plane, call.front, call.limit, call.screen, call.layer, call.cover, call.seen, call.sums),
  holdToKnown: (call: HoldToKnownCall) => wasm.holdToKnown(call.width, call.height, call.planes, call.plane, call.front, call.seen, call.marked, call.order, call.scratch),
  layMix: (call: LayMixCall) => wasm.layMix(call.width, call.height, call.planes, call.plane, call.screen, call.layer, call.seen, call.opacity, call.encode, call.codes, call.across, call.result),
  replaceSpill: (call: ReplaceSpillCall) => wasm.replaceSpill(call.codes, call.out, call.weight, call.near, call.width, call.height, call.order, call.front, call.frontPlane, call.frontTop, call.frontBottom, call.left, call.right, call.values, call.table, call.encode, call.scratch),
});
