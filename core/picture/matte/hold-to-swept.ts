/** From so many px of smear on a surface's ends are determined by how long it covers a pixel: on markers, and elsewhere. */
export const SWEPT = 3;
export const LONG = 8;
/** Where the cover changes by less than this from pixel to pixel an end is smeared, rather than a side that goes along itself. */
const GENTLE = 1 / LONG;
/** A key that differs by more than the first from what the surface covers sees something in front, and is believed in part up to the second. */
const ALIKE = 0.2;
const UNLIKE = 0.3;
/** A pixel of which less than this is left uncovered is covered all the time; sums of areas are not exact. */
const ALL = 1e-4;
/** Where less than this is screen by the key, something solid may stand before a faint end: as little is taken from it. */
const SOLID = 0.1;

/**
 * At the smeared ends of a surface a key's matte is taken from how much the surface covers of each pixel, `cover`, where the two are alike: a key stretches
 * the faint end of a long ramp, and its floor and ceiling move it. On a marker, where the matte is only grown over from around, no more is screen than the
 * surface covers. In place.
 */
export function holdToSwept(
  matte: Float32Array,
  marked: Float32Array | null,
  cover: Float32Array,
  width: number,
): void {
  for (let i = 0; i < matte.length; i++) {
    const rest = 1 - cover[i]!;
    if (marked && marked[i]! > 0) {
      if (rest > matte[i]!) matte[i] = rest;
      continue;
    }
    const off = Math.abs(rest - matte[i]!);
    if (off === 0 || off >= UNLIKE || rest < ALL) continue;
    const col = i % width;
    const here = cover[i]!;
    if (col > 0 && Math.abs(cover[i - 1]! - here) > GENTLE) continue;
    if (col < width - 1 && Math.abs(cover[i + 1]! - here) > GENTLE) continue;
    if (i >= width && Math.abs(cover[i - width]! - here) > GENTLE) continue;
    if (i + width < cover.length && Math.abs(cover[i + width]! - here) > GENTLE) continue;
    const alike = off <= ALIKE ? 1 : (UNLIKE - off) / (UNLIKE - ALIKE);
    const trust = rest < matte[i]! ? alike * Math.min(1, (1 - matte[i]!) / SOLID) : alike;
    matte[i]! += trust * (rest - matte[i]!);
  }
}
