import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { DARK_OFFSET, signalTable } from '../follow/signal.ts';
import { kernels, type KernelSet, type SampledWindow } from '../../base/kernels/index.ts';

/** Levels of half the size each that features are looked for on. */
const LEVELS = 5;
const SHORTEST = 24;
const BYTES_A_PIXEL = 4 * 1.34 + 2;

/** A picture as features are followed on it: the pyramid of its signal, to be filled again for every frame. */
export class ScenePicture {
  readonly levels: readonly SampledWindow[];

  constructor(
    readonly set: KernelSet,
    readonly width: number,
    readonly height: number,
  ) {
    const levels: SampledWindow[] = [];
    for (
      let w = width, h = height;
      levels.length < LEVELS && (levels.length === 0 || Math.min(w, h) >= SHORTEST);
      w = (w + 1) >> 1, h = (h + 1) >> 1
    )
      levels.push({ width: w, height: h, data: set.floats(w * h) });
    this.levels = levels;
  }

  fill({ width, height, codes, peak, light }: LumaFrame): this {
    if (width !== this.width || height !== this.height)
      throw new RangeError(`a frame of ${width}×${height} among those of ${this.width}×${this.height}`);
    this.set.signal(codes, width, height, light ? offset(light) : signalTable(peak), this.levels[0]!.data);
    for (let i = 1; i < this.levels.length; i++) {
      const from = this.levels[i - 1]!;
      this.set.pyramidDown(from.data, from.width, from.height, this.levels[i]!.data);
    }
    return this;
  }
}

/** Light of codes as the signal wants it: never zero (core/motion/follow/signal.ts). */
const offsets = new WeakMap<Float32Array, Float32Array>();
function offset(light: Float32Array): Float32Array {
  let table = offsets.get(light);
  if (!table) {
    table = light.map((v) => Math.max(0, v) + DARK_OFFSET);
    offsets.set(light, table);
  }
  return table;
}

/** Room for some pictures of a size. */
export function openPictures(width: number, height: number, count: number): ScenePicture[] {
  const set = kernels().open(Math.ceil(count * width * height * BYTES_A_PIXEL) + 4_000_000);
  return Array.from({ length: count }, () => new ScenePicture(set, width, height));
}
