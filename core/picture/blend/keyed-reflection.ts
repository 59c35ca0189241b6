import { channelsOf, excess } from '../matte/colour-key.ts';
import { coarseFill } from '../matte/coarse-fill.ts';
import type { FrontMatte } from '../matte/front-of-frame.ts';

/** Less in front than this is clear screen. */
const CLEAR = 0.01;
const BLOCK = 2;
const MIX = 0.5;

/**
 * What a keyed screen mirrors, over the front's box: of each clear pixel the light that is not the screen's own. The screen's own is its colour, as
 * strong as the excess of its main channel tells: what is mirrored is nearly grey and has none. Under markers and what is in front it is grown from
 * around. `black` is the screen's light where it mirrors nothing.
 */
export function keyedReflection(
  { region: { planes, width, height }, front, limit, marked }: FrontMatte,
  black: readonly number[],
): [Float32Array, Float32Array, Float32Array] {
  const {
    main,
    others: [a, b],
  } = channelsOf(black);
  const own = excess(black[main]!, black[a]!, black[b]!, MIX);
  const n = width * height;
  const clear = new Float32Array(n);
  const out: [Float32Array, Float32Array, Float32Array] = [
    new Float32Array(n),
    new Float32Array(n),
    new Float32Array(n),
  ];
  for (let i = 0; i < n; i++) {
    if (front[i]! > CLEAR || limit[i]! < 1 || (marked && marked[i]! > 0)) continue;
    const strength = excess(planes[main][i]!, planes[a][i]!, planes[b][i]!, MIX) / own;
    clear[i] = 1;
    for (let c = 0; c < 3; c++) out[c]![i] = planes[c as 0 | 1 | 2][i]! - strength * black[c]!;
  }
  const grown = coarseFill(out, clear, width, height, BLOCK);
  for (let i = 0; i < n; i++) if (clear[i] === 0) for (let c = 0; c < 3; c++) out[c]![i] = grown[c]![i]!;
  return out;
}
