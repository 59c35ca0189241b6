import { grownOutline } from '../geometry/grow-outline.ts';
import { distance } from '../geometry/quad.ts';
import type { Point } from '../geometry/homography.ts';
import { luminanceOfLight } from '../image/primaries.ts';
import { encodeLight } from '../image/transfer.ts';
import { filledBlocks } from './coarse-fill.ts';
import { coverageOf } from './coverage.ts';
import type { LightRegion } from './light-region.ts';
import { lowestAround } from './soft-edge-alpha.ts';

/** So far to both sides of the surface's border, px, a coarsely recorded colour bleeds. */
const BAND = 2.5;
/** A border that goes farther than this, px, from the frame's middle while the shutter is open is a smear, which its colour tells well enough. */
const SMEARED = 2.5;
/** Screen and frame must differ in brightness by this, display-referred, for it to tell how much of each there is. */
const LEAST = 0.3;
/** What is in front is grown inward from blocks of so many px. */
const KNOWN = 2;
const SOFT = 0.001, SOLID = 0.999;
const ROUNDS = 12;

/**
 * At the surface's own border the matte told by brightness instead of colour. Most plates hold colour at half the picture's fineness or less, so that a key sees a
 * border two pixels too wide, but brightness (luma) at all of it: of a pixel that is M screen and 1 − M frame, M follows from the luma of the three. Changes
 * `matte` in place and returns 1 where it did; null where nothing was to be done. `screen`: the screen's light alone at every pixel; `marked`: 1 where a marker on it is seen, whose brightness says nothing.
 *
 * Source: Rec. ITU-R BT.709-6 item 3.2 (luma's weights, of codes); how colour is subsampled: Rec. ITU-R BT.601-7, annex 1.
 */
export function borderByLuma(matte: Float32Array, region: LightRegion, screen: LightRegion['planes'], outline: readonly Point[], smeared: readonly (readonly Point[])[], marked: Float32Array | null): Float32Array | null {
  const { box, width, height, planes } = region;
  const moves = Math.max(0, ...smeared.flatMap((other) => (other.length === outline.length ? other.map((p, i) => distance(p, outline[i]!)) : [Infinity])));
  if (moves > SMEARED) return null;
  const outer = coverageOf([grownOutline(outline, BAND + moves)], box).data, inner = coverageOf([grownOutline(outline, -BAND - moves)], box).data, solid = lowestAround(matte, width, height);
  // What lies beside a soft pixel is told anew with it, else the border is ragged where the key calls one clear and the next soft.
  const hard = lowestAround(matte.map((v) => (v > SOFT && v < SOLID ? 0 : 1)), width, height);
  for (let i = 0; i < solid.length; i++) solid[i] = solid[i]! >= SOLID ? 1 : 0;
  const known = filledBlocks(planes, solid, width, height, KNOWN), done = new Float32Array(matte.length);
  let changed = false;
  for (let row = 0, i = 0; row < height; row++) {
    for (let col = 0; col < width; col++, i++) {
      if (outer[i]! < 0.5 || inner[i]! > 0.5 || (marked && marked[i]! > 0) || hard[i]! >= 1) continue;
      const f = known.map((plane) => plane.at(col, row)), b = screen.map((plane) => plane[i]!), from = luma(f[0]!, f[1]!, f[2]!), to = luma(b[0]!, b[1]!, b[2]!);
      if (Math.abs(to - from) < LEAST) continue;
      const here = luma(planes[0][i]!, planes[1][i]!, planes[2][i]!);
      let low = 0, high = 1;
      for (let k = 0; k < ROUNDS; k++) {
        const m = (low + high) / 2, value = luma(f[0]! + m * (b[0]! - f[0]!), f[1]! + m * (b[1]! - f[1]!), f[2]! + m * (b[2]! - f[2]!));
        if (value < here === to > from) low = m;
        else high = m;
      }
      matte[i] = 1 - (low + high) / 2;
      done[i] = 1;
      changed = true;
    }
  }
  return changed ? done : null;
}

/** Luma of light: of its display codes. */
const luma = (r: number, g: number, b: number) => luminanceOfLight([encodeLight(r), encodeLight(g), encodeLight(b)]);
