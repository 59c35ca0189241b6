/** The compiled kernels of compositing, a module by itself: its memory is not shared. Places are byte offsets in the memory that the caller provides. */
export { flatRow, addPatches, convolve } from './pin';
export { addSmooth } from './smooth';
export { halve } from './halve';
export { enlarge, filledBlocks } from './coarse';
export { grainField, layGrain } from './grain';
export { keyFront } from './key';
export { laySeen, holdToKnown, layMix } from './lay';
export { replaceSpill } from './spill';
/** The first byte that the module itself does not use. */
export const heapBase: i32 = <i32>__heap_base;
