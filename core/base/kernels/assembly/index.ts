/** The compiled kernels. Places are byte offsets in the memory that the caller provides. */
export { signal8, signal16 } from './signal';
export { pyramidDown } from './pyramid';
export { texels } from './texels';
export { blurTemplate } from './blur';
export { residuals } from './residuals';
export { accumulate, ACCUMULATE_ROOM } from './normal-equations';
export { correlate } from './correlate';
export { sampleCubic, patchEquations, correlateBox, PATCH_ROOM } from './patch';
export { takeWindow, shiftWindow, fitWindow, WINDOW_ROOM } from './window';
/** The first byte that the module itself does not use. */
export const heapBase: i32 = <i32>__heap_base;
