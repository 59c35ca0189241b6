import type { Look } from '../../base/schemas/types.ts';

export type BlendMode = NonNullable<Look['blend']>;

/** What a backdrop and a source of one channel become, both 0…1 where the way is defined for those alone. */
export type BlendFunction = (backdrop: number, source: number) => number;

/** D of the soft-light formula. */
const softened = (b: number): number => (b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b));

/**
 * B(cb, cs) of each way to blend. Source: W3C, Compositing and Blending Level 1, §9.1 (normal, multiply, screen, lighten, soft-light) and
 * §8.2.13 of the Porter–Duff operators there for `add` (plus). In light values may exceed 1: `screen` and `soft-light`, which are defined within
 * 0…1, hold the part beyond as it is.
 */
export const BLEND_FUNCTIONS: Readonly<Record<BlendMode, BlendFunction>> = {
  over: (_, s) => s,
  multiply: (b, s) => b * s,
  screen: (b, s) => (b >= 1 || s >= 1 ? Math.max(b, s) : b + s - b * s),
  add: (b, s) => b + s,
  lighten: Math.max,
  'soft-light': (b, s) => {
    if (s <= 0.5) return b >= 1 ? b : b - (1 - 2 * s) * b * (1 - b);
    return b >= 1 ? b : b + (2 * Math.min(1, s) - 1) * (softened(b) - b);
  },
};
