import { grownOutline } from '../../base/geometry/grow-outline.ts';
import { contains } from '../../base/geometry/polygon.ts';
import { distance } from '../../base/geometry/quad.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { luminanceOfLight } from '../../base/image/primaries.ts';
import { encodeLight } from '../../base/image/transfer.ts';
import { filledBlocks } from './coarse-fill.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import { lowestAround } from './soft-edge-alpha.ts';

/** So far to both sides of the surface's border, px, a coarsely recorded colour bleeds. */
const BAND = 2.5;
/** A border that goes farther than this, px, from the frame's middle while the shutter is open is a smear, which its colour tells well enough. */
const SMEARED = 2.5;
/** Screen and frame must differ in brightness by this, display-referred, for it to tell how much of each there is. */
const LEAST = 0.3;
/** What is in front is grown inward from blocks of so many px. */
const KNOWN = 2;
const SOFT = 0.001;
const SOLID = 0.999;
const ROUNDS = 12;

/**
 * At the surface's own border the matte told by brightness instead of colour. Most plates hold colour at half the picture's fineness or less, so that a key sees a
 * border two pixels too wide, but brightness (luma) at all of it: of a pixel that is M screen and 1 − M frame, M follows from the luma of the three. Changes
 * `matte` in place and returns 1 where it did; null where nothing was to be done. `screen`: the screen's light alone at every pixel; `marked`: 1 where a marker on it is seen, whose brightness says nothing.
 *
 * Source: Rec. ITU-R BT.709-6 item 3.2 (luma's weights, of codes); how colour is subsampled: Rec. ITU-R BT.601-7, annex 1.
 */
export function borderByLuma(
  matte: Float32Array,
  region: LightRegion,
  screen: LightRegion['planes'],
  outline: readonly Point[],
  smeared: readonly (readonly Point[])[],
  marked: Float32Array | null,
): Float32Array | null {
  const { box, width, height, planes } = region;
  const moves = Math.max(
    0,
    ...smeared.flatMap((other) =>
      other.length === outline.length ? other.map((p, i) => distance(p, outline[i]!)) : [Infinity],
    ),
  );
  if (moves > SMEARED) return null;
  const band = bandOf(
    matte,
    width,
    height,
    box,
    [grownOutline(outline, BAND + moves), grownOutline(outline, -BAND - moves)],
    marked,
  );
  if (band.length === 0) return null;
  const solid = lowestAround(matte, width, height);
  for (let i = 0; i < solid.length; i++) solid[i] = solid[i]! >= SOLID ? 1 : 0;
  const [r, g, b] = filledBlocks(planes, solid, width, height, KNOWN);
  const done = new Float32Array(matte.length);
  let changed = false;
  for (const i of band) {
    const col = i % width;
    const row = (i - col) / width;
    const fr = r!.at(col, row);
    const fg = g!.at(col, row);
    const fb = b!.at(col, row);
    const sr = screen[0][i]!;
    const sg = screen[1][i]!;
    const sb = screen[2][i]!;
    const from = luma(fr, fg, fb);
    const to = luma(sr, sg, sb);
    if (Math.abs(to - from) < LEAST) continue;
    const here = luma(planes[0][i]!, planes[1][i]!, planes[2][i]!);
    let low = 0;
    let high = 1;
    for (let k = 0; k < ROUNDS; k++) {
      const m = (low + high) / 2;
      const value = luma(fr + m * (sr - fr), fg + m * (sg - fg), fb + m * (sb - fb));
      if (value < here === to > from) low = m;
      else high = m;
    }
    matte[i] = 1 - (low + high) / 2;
    done[i] = 1;
    changed = true;
  }
  return changed ? done : null;
}

/** Pixels between an outer and an inner outline that are soft, or beside one that is: told on its own the border would be ragged where the key calls one clear and the next soft. */
function bandOf(
  matte: Float32Array,
  width: number,
  height: number,
  box: LightRegion['box'],
  [outer, inner]: readonly [readonly Point[], readonly Point[]],
  marked: Float32Array | null,
): number[] {
  const seen = new Uint8Array(matte.length);
  const band: number[] = [];
  for (let i = 0; i < matte.length; i++) {
    if (matte[i]! <= SOFT || matte[i]! >= SOLID) continue;
    const col = i % width;
    const row = (i - col) / width;
    for (let y = Math.max(0, row - 1); y <= Math.min(height - 1, row + 1); y++) {
      for (let x = Math.max(0, col - 1), at = y * width + x; x <= Math.min(width - 1, col + 1); x++, at++) {
        if (seen[at] === 1) continue;
        seen[at] = 1;
        if (
          !(marked && marked[at]! > 0) &&
          contains(outer, box.left + x + 0.5, box.top + y + 0.5) &&
          !contains(inner, box.left + x + 0.5, box.top + y + 0.5)
        )
          band.push(at);
      }
    }
  }
  return band;
}

/** Luma of light: of its display codes. */
const luma = (r: number, g: number, b: number) => luminanceOfLight([encodeLight(r), encodeLight(g), encodeLight(b)]);
