import { PictureLevels, openMemory } from '../motion/follow/image-pyramid.ts';
import type { Plane } from '../base/image/plane.ts';
import { plainKernels, type KernelFactory } from '../base/kernels/index.ts';

/** Signals as pictures of one room, ready to be followed in. */
export function picturesOf(signals: readonly Plane[], factory: KernelFactory = plainKernels): PictureLevels[] {
  const { width, height } = signals[0]!;
  const memory = openMemory(width, height, signals.length, 60_000, factory);
  return signals.map((signal) => new PictureLevels(memory, width, height).fillSignal(signal));
}
