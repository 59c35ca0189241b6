/** Outlines of the four corner marks about the origin, 7 units in size: each corner has a shape of its own. */
export const CORNER_SHAPES = [
  'M-6 -6 H6 V6 H-6 Z',
  'M0 -7 A7 7 0 1 1 0 7 A7 7 0 1 1 0 -7 Z',
  'M0 -8 L7.5 6 L-7.5 6 Z',
  'M0 -8.5 L8.5 0 L0 8.5 L-8.5 0 Z',
] as const;
