import { clamp } from '../geometry/clamp.ts';

/**
 * How a value goes from one key to the next: `linear`, `hold` (the first key's value until the next), or a cubic curve
 * [x1, y1, x2, y2] through (0, 0) and (1, 1). Source: W3C, CSS Easing Functions Level 1, §2.1 and §2.2.
 */
export type Easing = 'linear' | 'hold' | CubicEasing;
export type CubicEasing = readonly [x1: number, y1: number, x2: number, y2: number];

/** The named curves of CSS Easing Functions Level 1, §2.2.1. */
export const NAMED_CURVES: Readonly<Record<'ease' | 'ease-in' | 'ease-out' | 'ease-in-out', CubicEasing>> = {
  ease: [0.25, 0.1, 0.25, 1],
  'ease-in': [0.42, 0, 1, 1],
  'ease-out': [0, 0, 0.58, 1],
  'ease-in-out': [0.42, 0, 0.58, 1],
};

/** Output progress for an input progress 0…1. A curve's x1 and x2 must lie in 0…1; its output may leave 0…1. */
export function eased(easing: Easing, progress: number): number {
  const t = clamp(progress, 0, 1);
  if (easing === 'linear') return t;
  if (easing === 'hold') return t < 1 ? 0 : 1;
  if (t === 0 || t === 1) return t;
  const [x1, y1, x2, y2] = easing;
  return bernstein(y1, y2, parameterAt(x1, x2, t));
}

function bernstein(a: number, b: number, s: number): number {
  const r = 1 - s;
  return 3 * r * r * s * a + 3 * r * s * s * b + s * s * s;
}

/** Where on the curve x is: Newton's steps, halving where they leave the bracket (x grows all the way along). */
function parameterAt(x1: number, x2: number, x: number): number {
  let low = 0;
  let high = 1;
  let s = x;
  for (let i = 0; i < 60; i++) {
    const off = bernstein(x1, x2, s) - x;
    if (Math.abs(off) < 1e-12) break;
    if (off > 0) high = s;
    else low = s;
    const slope = 3 * (1 - s) * (1 - s) * x1 + 6 * (1 - s) * s * (x2 - x1) + 3 * s * s * (1 - x2);
    const next = s - off / slope;
    s = next > low && next < high ? next : (low + high) / 2;
  }
  return s;
}
