import { shareOf } from './colour-key.ts';
import { filledBlocks } from './coarse-fill.ts';

/** Pixels with so much of the colour of what is in front, or less, are estimated from a wider neighbourhood. */
const SURE = 0.999;
/** What is in front is grown outward from blocks of so many px. */
const BLOCK = 2;

/**
 * The matte of a key, its soft band reckoned anew with what is in front just there: instead of the one excess that the ceiling stands for, that of
 * the nearest solid pixels. A glove that the screen shines on and a dark frame both end exactly where they end. `matte` is keyMatte's, `excesses`
 * and `screen` as it was given. Pixels that are solid together with their eight neighbours stay solid, clear ones clear.
 *
 * Source: A. R. Smith, J. F. Blinn, Blue screen matting, SIGGRAPH 1996 (the matting equation solved for α with a known front).
 */
export function softEdgeAlpha(
  matte: Float32Array,
  excesses: Float32Array,
  screen: Float32Array,
  floor: number,
  width: number,
  height: number,
): Float32Array {
  const solid = new Float32Array(matte.length);
  const least = lowestAround(matte, width, height);
  let seeds = 0;
  for (let i = 0; i < solid.length; i++)
    if (least[i]! >= SURE) {
      solid[i] = 1;
      seeds++;
    }
  if (seeds === 0) return matte;
  const [front] = filledBlocks([excesses], solid, width, height, BLOCK);
  const out = new Float32Array(matte.length);
  for (let row = 0, i = 0; row < height; row++) {
    for (let col = 0; col < width; col++, i++) {
      const m = matte[i]!;
      if (m <= 0 || solid[i] === 1) {
        out[i] = m <= 0 ? 0 : 1;
        continue;
      }
      const s = screen[i]!;
      const f = front!.at(col, row);
      out[i] = s - f > 0.2 * s ? shareOf((s - excesses[i]!) / s, floor, (s - f) / s) : m;
    }
  }
  return out;
}

/** The lowest value among each pixel and its eight neighbours. */
export function lowestAround(values: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(values.length);
  for (let row = 0, at = 0; row < height; row++) {
    const above = row > 0 ? -width : 0;
    const below = row < height - 1 ? width : 0;
    // Of each column of three the least; of three such the one before, this and the next.
    const column = (i: number) => {
      const v = values[i]!;
      const a = values[i + above]!;
      const b = values[i + below]!;
      const least = a < v ? a : v;
      return b < least ? b : least;
    };
    let before = Infinity;
    let here = column(at);
    for (const end = at + width - 1; at < end; at++) {
      const next = column(at + 1);
      const least = before < here ? before : here;
      out[at] = next < least ? next : least;
      before = here;
      here = next;
    }
    out[at++] = before < here ? before : here;
  }
  return out;
}
