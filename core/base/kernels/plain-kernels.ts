import type { KernelFactory } from './kernel-set.ts';
import { accumulate } from './plain-normal-equations.ts';
import { correlateBox, patchEquations, sampleCubic } from './plain-patch.ts';
import { pyramidDown, signal, texels } from './plain-picture.ts';
import { correlate, residuals } from './plain-residuals.ts';
import { blurTemplate } from './plain-template.ts';
import { fitWindow, shiftWindow, takeWindow } from './plain-window.ts';

/** The kernels in TypeScript: what the compiled ones are held to. */
export const plainKernels: KernelFactory = {
  name: 'plain',
  open: () => ({
    name: 'plain',
    floats: (length) => new Float32Array(length),
    bytes: (length) => new Uint8Array(length),
    ints: (length) => new Int32Array(length),
    doubles: (length) => new Float64Array(length),
    clear: () => {},
    signal,
    pyramidDown,
    texels,
    blurTemplate,
    residuals,
    accumulate,
    correlate,
    sampleCubic,
    patchEquations,
    correlateBox,
    takeWindow,
    shiftWindow,
    fitWindow,
  }),
};
