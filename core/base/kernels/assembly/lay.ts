import { coarseAt, filledBlocks } from './coarse';
import { storeCodes } from './spill';

const LEAST_COVER: f32 = 0.02, SOLID: f32 = 0.998, KNOWN = 2;

/**
 * Makes the insert's light that of whole pixels, tells how much of each pixel of the box is seen to be screen, and takes the screen off what is in front; the twin of contentInBox and
 * takeScreenOff in ../../composite/occlusion.ts. `layer` holds four channels of `count` pixels. `sums` takes the content's red, green, blue and alpha in all.
 */
export function laySeen(count: i32, planes: usize, plane: usize, front: usize, limit: usize, screen: usize, layer: usize, cover: usize, seen: usize, sums: usize): void {
  let red: f64 = 0, green: f64 = 0, blue: f64 = 0, total: f64 = 0;
  for (let i: usize = 0; i < <usize>count << 2; i += 4) {
    const covered = load<f32>(cover + i), at = layer + (i << 2);
    store<f32>(seen + i, 0);
    if (!(covered > LEAST_COVER)) {
      v128.store(at, f32x4.splat(0));
      continue;
    }
    let light = f32x4.mul(v128.load(at), f32x4.splat(1 / covered));
    if (f32x4.extract_lane(light, 3) > 1) light = f32x4.replace_lane(light, 3, 1);
    v128.store(at, light);
    const alpha = f32x4.extract_lane(light, 3);
    red += f32x4.extract_lane(light, 0);
    green += f32x4.extract_lane(light, 1);
    blue += f32x4.extract_lane(light, 2);
    total += alpha;
    if (alpha <= 0) continue;
    const share = load<f32>(front + i), m: f32 = (1 - share) * load<f32>(limit + i);
    store<f32>(seen + i, m);
    if (m <= 0) continue;
    for (let c: usize = 0; c < 3; c++) {
      const p = planes + c * plane + i, rest: f32 = load<f32>(p) - m * load<f32>(screen + c * plane + i);
      store<f32>(p, share <= 0 || rest < 0 ? 0 : rest);
    }
  }
  store<f64>(sums, red);
  store<f64>(sums, green, 8);
  store<f64>(sums, blue, 16);
  store<f64>(sums, total, 24);
}

/** Holds soft edges to the colours of the solid parts beside them; the twin of holdToKnown. `order`: the screen's main channel and the two others, two bits each. */
export function holdToKnown(width: i32, height: i32, planes: usize, plane: usize, front: usize, seen: usize, marked: usize, order: i32, scratch: usize): void {
  const n = <usize>(width * height) << 2, solid = scratch, known = scratch + plane, across = (width + KNOWN - 1) / KNOWN, down = (height + KNOWN - 1) / KNOWN, cells = <usize>(across * down) << 2;
  let soft = false;
  for (let i: usize = 0; i < n; i += 4) {
    const share = load<f32>(front + i);
    store<f32>(solid + i, share >= SOLID ? 1 : 0);
    if (share > 0 && load<f32>(seen + i) > 0) soft = true;
  }
  if (!soft) return;
  filledBlocks(3, planes, plane, solid, width, height, KNOWN, known);
  const main = <usize>(order & 3), a = <usize>((order >> 2) & 3), b = <usize>((order >> 4) & 3), m = planes + main * plane, p = planes + a * plane, q = planes + b * plane;
  for (let row = 0, i: usize = 0; row < height; row++) {
    for (let col = 0; col < width; col++, i += 4) {
      const share = load<f32>(front + i);
      if (share <= 0 || load<f32>(seen + i) <= 0) continue;
      if (marked && load<f32>(marked + i) > 0) {
        for (let c: usize = 0; c < 3; c++) store<f32>(planes + c * plane + i, share * coarseAt(known + c * cells, across, down, KNOWN, col, row));
        continue;
      }
      const most: f32 = share * (coarseAt(known + main * cells, across, down, KNOWN, col, row) - 0.5 * (coarseAt(known + a * cells, across, down, KNOWN, col, row) + coarseAt(known + b * cells, across, down, KNOWN, col, row)));
      const own = load<f32>(m + i), over: f32 = own - 0.5 * (load<f32>(p + i) + load<f32>(q + i)) - (most > 0 ? most : 0);
      if (over > 0) store<f32>(m + i, own > over ? own - over : 0);
    }
  }
}

/** Mixes what is in front with the content where screen is seen, and writes it as codes, `across` pixels a row of them; `result` takes how much content each pixel shows. */
export function layMix(width: i32, height: i32, planes: usize, plane: usize, screen: usize, layer: usize, seen: usize, opacity: f32, encode: usize, codes: usize, across: i32, result: usize): void {
  for (let row = 0, i: usize = 0; row < height; row++) {
    let to = codes + <usize>(row * across) * 3;
    for (let col = 0; col < width; col++, i += 4, to += 3) {
      const m = load<f32>(seen + i);
      store<f32>(result + i, 0);
      if (m <= 0) continue;
      const at = layer + (i << 2), shown: f32 = opacity * load<f32>(at, 12), left: f32 = 1 - shown, s = screen + i, p = planes + i;
      storeCodes(to, load<f32>(p) + m * (opacity * load<f32>(at) + left * load<f32>(s)), load<f32>(p + plane) + m * (opacity * load<f32>(at, 4) + left * load<f32>(s + plane)), load<f32>(p + (plane << 1)) + m * (opacity * load<f32>(at, 8) + left * load<f32>(s + (plane << 1))), encode);
      store<f32>(result + i, m * shown);
    }
  }
}
