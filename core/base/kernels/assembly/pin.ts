/**
 * Places of a row's pixels on a flat surface; the twin of `fillFlatRow` in ../../composite/surface-map.ts. `map`: nine numbers of the homography, then a, b, c
 * and feather of each side. Planes u, v, su, sv, covered, plain lie `plane` bytes apart; `weights` are what is covered times `share`, and `cover`, where
 * not 0, takes as much of what is plainly covered.
 */
export function flatRow(map: usize, faded: i32, row: i32, from: i32, to: i32, dx: f64, dy: f64, places: usize, plane: usize, share: f32, weights: usize, cover: usize): void {
  const count = <usize>(to - from) << 2;
  // Columns whose centres lie half a pixel or more inside of all sides are wholly covered.
  let inner = from, outer = to;
  for (let k: usize = 0; k < 4; k++) {
    const side = map + 72 + (k << 5), a = load<f64>(side), rest = load<f64>(side, 8) * (<f64>row + 0.5) + load<f64>(side, 16) - 0.5 - 1e-9 - (faded ? load<f64>(side, 24) : 0);
    if (a > 1e-12) inner = <i32>Math.max(<f64>inner, Math.min(<f64>to, Math.ceil(-rest / a - 0.5)));
    else if (a < -1e-12) outer = <i32>Math.min(<f64>outer, Math.max(<f64>from, Math.floor(rest / -a - 0.5) + 1));
    else if (rest < 0) outer = from;
  }
  const first = (<usize>(inner - from)) << 2, last = (<usize>(outer - from)) << 2, covered = places + (plane << 2), plain = covered + plane;
  for (let i: usize = 0; i < count; i += 4) {
    if (i >= first && i < last) {
      const all = f32x4.splat(1);
      for (; i + 16 <= last; i += 16) {
        v128.store(covered + i, all);
        v128.store(plain + i, all);
      }
      for (; i < last; i += 4) {
        store<f32>(covered + i, 1);
        store<f32>(plain + i, 1);
      }
      if (i >= count) break;
    }
    let part: f64 = 1, whole: f64 = 1;
    const x = <f64>(from + <i32>(i >> 2)) + 0.5, y = <f64>row + 0.5;
    for (let k: usize = 0; k < 4; k++) {
      const side = map + 72 + (k << 5), inside = load<f64>(side) * x + load<f64>(side, 8) * y + load<f64>(side, 16);
      if (inside < 0.5) whole = inside <= -0.5 ? 0 : whole * (inside + 0.5);
      if (faded) part *= shareInside(inside, load<f64>(side, 24));
    }
    if (!faded || whole == 0) part = whole;
    store<f32>(covered + i, <f32>part);
    store<f32>(plain + i, <f32>whole);
  }
  const h0 = load<f64>(map), h3 = load<f64>(map, 24), h6 = load<f64>(map, 48), y = <f64>row + dy, one = f64x2.splat(1), two = f64x2.splat(2);
  const a0 = f64x2.splat(h0), a3 = f64x2.splat(h3), a6 = f64x2.splat(h6), a1 = f64x2.splat(load<f64>(map, 8)), a4 = f64x2.splat(load<f64>(map, 32)), a7 = f64x2.splat(load<f64>(map, 56));
  const nu = f64x2.splat(load<f64>(map, 8) * y + load<f64>(map, 16)), nv = f64x2.splat(load<f64>(map, 32) * y + load<f64>(map, 40)), nw = f64x2.splat(load<f64>(map, 56) * y + load<f64>(map, 64));
  let x = f64x2.add(f64x2.splat(<f64>from + dx), f64x2(0, 1));
  // Places in doubles, the extents of a pixel, which need no more, in singles.
  const s0 = f32x4.splat(<f32>h0), s3 = f32x4.splat(<f32>h3), s6 = f32x4.splat(<f32>h6), s1 = f32x4.splat(<f32>load<f64>(map, 8)), s4 = f32x4.splat(<f32>load<f64>(map, 32)), s7 = f32x4.splat(<f32>load<f64>(map, 56)), least = f32x4.splat(1e-12), nothing = f32x4.splat(0);
  for (let i: usize = 0; i < count; i += 16) {
    const w = f64x2.add(f64x2.mul(a6, x), nw), inverse = f64x2.div(one, w), u = f64x2.mul(f64x2.add(f64x2.mul(a0, x), nu), inverse), v = f64x2.mul(f64x2.add(f64x2.mul(a3, x), nv), inverse);
    x = f64x2.add(x, two);
    const w2 = f64x2.add(f64x2.mul(a6, x), nw), inverse2 = f64x2.div(one, w2), u2 = f64x2.mul(f64x2.add(f64x2.mul(a0, x), nu), inverse2), v2 = f64x2.mul(f64x2.add(f64x2.mul(a3, x), nv), inverse2);
    x = f64x2.add(x, two);
    const u4 = both(u, u2), v4 = both(v, v2), i4 = both(inverse, inverse2), at = places + i;
    const ux = f32x4.sub(s0, f32x4.mul(u4, s6)), uy = f32x4.sub(s1, f32x4.mul(u4, s7)), vx = f32x4.sub(s3, f32x4.mul(v4, s6)), vy = f32x4.sub(s4, f32x4.mul(v4, s7));
    // Planes have scratch for three more.
    v128.store(at, u4);
    v128.store(at + plane, v4);
    v128.store(at + (plane << 1), f32x4.mul(f32x4.sqrt(f32x4.add(f32x4.mul(ux, ux), f32x4.mul(uy, uy))), i4));
    v128.store(at + plane * 3, f32x4.mul(f32x4.sqrt(f32x4.add(f32x4.mul(vx, vx), f32x4.mul(vy, vy))), i4));
    const behind = f32x4.lt(both(w, w2), least);
    if (v128.any_true(behind)) v128.store(covered + i, v128.bitselect(nothing, v128.load(covered + i), behind));
  }
  const part = f32x4.splat(share);
  let i: usize = 0;
  for (; i + 16 <= count; i += 16) {
    v128.store(weights + i, f32x4.mul(v128.load(covered + i), part));
    if (cover) v128.store(cover + i, f32x4.add(v128.load(cover + i), f32x4.mul(v128.load(plain + i), part)));
  }
  for (; i < count; i += 4) {
    store<f32>(weights + i, load<f32>(covered + i) * share);
    if (cover) store<f32>(cover + i, load<f32>(cover + i) + load<f32>(plain + i) * share);
  }
}

// @ts-ignore: a decorator of the compiler
@inline
function both(a: v128, b: v128): v128 {
  const low = f32x4.demote_f64x2_zero(a), high = f32x4.demote_f64x2_zero(b);
  return v128.shuffle<f32>(low, high, 0, 1, 4, 5);
}

function shareInside(inside: f64, feather: f64): f64 {
  if (inside <= -0.5) return 0;
  if (feather <= 0) return inside < 0.5 ? inside + 0.5 : 1;
  const t = inside <= 0 ? 0 : inside >= feather ? 1 : inside / feather;
  return t * t * (3 - 2 * t);
}

const MOST_TAPS = 68;
const weightsU = memory.data(MOST_TAPS * 4, 16), weightsV = memory.data(MOST_TAPS * 4, 16);

/** Adds content at each place by patches; the twin of `samplePatches` in ../../composite/content-sampler.ts. `levels`: place, width and height of each level, place 0 where it is not at hand. Returns the first pixel that could not be done for want of its level, or `count`. */
export function addPatches(levels: usize, coarsest: i32, places: usize, plane: usize, weights: usize, first: i32, count: i32, out: usize): i32 {
  const zero = f32x4.splat(0);
  let lastY: f32 = Infinity, lastV: f32 = -1, firstV = 0, rows = 0;
  for (let i = first; i < count; i++) {
    const weight = load<f32>(weights + (<usize>i << 2));
    if (weight == 0) continue;
    const at = places + (<usize>i << 2), su = load<f32>(at + (plane << 1)), sv = load<f32>(at + plane * 3), l = levelFor(su, sv, coarsest), level = levels + <usize>l * 12, data = <usize>load<u32>(level);
    if (data == 0) return i;
    const width = load<i32>(level, 4), height = load<i32>(level, 8), scale: f32 = 1 / <f32>(1 << l);
    const x = load<f32>(at) * scale - 0.5, y = load<f32>(at + plane) * scale - 0.5;
    const firstU = kernelWeights(x, su * scale, weightsU), taps = lastTaps;
    // Along a row of an upright picture these stay.
    if (y != lastY || sv * scale != lastV) {
      firstV = kernelWeights(y, sv * scale, weightsV);
      rows = lastTaps;
      lastY = y;
      lastV = sv * scale;
    }
    const within = firstU >= 0 && firstU + taps <= width;
    let sum = zero;
    for (let j = 0; j < rows; j++) {
      const row = firstV + j, line = data + (<usize>((row < 0 ? 0 : row >= height ? height - 1 : row) * width) << 4);
      let across = zero;
      if (within) {
        for (let k = 0, p = line + (<usize>firstU << 4); k < taps; k++, p += 16) across = f32x4.add(across, f32x4.mul(v128.load_splat<f32>(weightsU + (<usize>k << 2)), v128.load(p)));
      } else {
        for (let k = 0; k < taps; k++) {
          const col = firstU + k;
          across = f32x4.add(across, f32x4.mul(v128.load_splat<f32>(weightsU + (<usize>k << 2)), v128.load(line + (<usize>(col < 0 ? 0 : col >= width ? width - 1 : col) << 4))));
        }
      }
      sum = f32x4.add(sum, f32x4.mul(v128.load_splat<f32>(weightsV + (<usize>j << 2)), across));
    }
    sum = f32x4.pmax(sum, zero);
    const alpha = f32x4.extract_lane(sum, 3);
    if (alpha > 1) sum = f32x4.replace_lane(sum, 3, 1);
    const to = out + (<usize>i << 4);
    v128.store(to, f32x4.add(v128.load(to), f32x4.mul(sum, f32x4.splat(weight))));
  }
  return count;
}

function levelFor(su: f32, sv: f32, coarsest: i32): i32 {
  const low = su < sv ? su : sv, high: f32 = (su < sv ? sv : su) * 0.25, narrow = low > high ? low : high;
  let level = 0;
  for (let widest: f32 = 2.8; widest < narrow && level < coarsest; widest *= 2) level++;
  return level;
}

let lastTaps: i32 = 0;
function kernelWeights(x: f32, patch: f32, out: usize): i32 {
  const wider: f32 = patch <= 1 ? 1 : patch >= 1.25 ? 1.15 : 1 + 0.6 * (patch - 1);
  let half: f32 = patch * wider;
  half = half < 1 ? 1 : half > 15 ? 15 : half;
  const first = <i32>ceil<f32>(x - 2 * half), last = <i32>floor<f32>(x + 2 * half), inverse: f32 = 1 / half, one = f32x4.splat(1), scale = f32x4.splat(inverse), step = f32x4.splat(4 * inverse);
  lastTaps = last - first + 1;
  let d = f32x4.mul(f32x4.add(f32x4.splat(<f32>first - x), f32x4(0, 1, 2, 3)), scale), sums = f32x4.splat(0);
  for (let k = 0; k < lastTaps; k += 4) {
    const e = f32x4.abs(d);
    const near = f32x4.add(f32x4.mul(f32x4.mul(f32x4.sub(f32x4.mul(e, f32x4.splat(1.5)), f32x4.splat(2.5)), e), e), one);
    const far = f32x4.add(f32x4.mul(f32x4.sub(f32x4.mul(f32x4.add(f32x4.mul(e, f32x4.splat(-0.5)), f32x4.splat(2.5)), e), f32x4.splat(4)), e), f32x4.splat(2));
    const value = v128.and(v128.bitselect(near, far, f32x4.lt(e, one)), f32x4.lt(e, f32x4.splat(2)));
    v128.store(out + (<usize>k << 2), value);
    sums = f32x4.add(sums, value);
    d = f32x4.add(d, step);
  }
  const share = f32x4.splat(1 / (f32x4.extract_lane(sums, 0) + f32x4.extract_lane(sums, 1) + f32x4.extract_lane(sums, 2) + f32x4.extract_lane(sums, 3)));
  for (let k = 0; k < lastTaps; k += 4) v128.store(out + (<usize>k << 2), f32x4.mul(v128.load(out + (<usize>k << 2)), share));
  return first;
}

/** Separable convolution in place; the twin of `convolveSeparable` in ../../image/gaussian.ts. `scratch` takes radius + 2 rows, 2·radius samples, and 2·radius + 8 numbers. */
export function convolve(data: usize, width: i32, height: i32, channels: i32, kernel: usize, radius: i32, repeat: i32, scratch: usize): void {
  const row = <usize>(width * channels), bytes = row << 2, pad = <usize>(radius * channels) << 2, taps = 2 * radius + 1, step = <usize>channels << 2, wide = row & ~3;
  for (let y = 0; y < height; y++) {
    const line = data + <usize>y * bytes;
    memory.copy(scratch + pad, line, bytes);
    for (let k = 0; k < radius; k++) {
      const left = scratch + <usize>k * step, right = scratch + pad + bytes + <usize>k * step;
      if (repeat) {
        memory.copy(left, line, step);
        memory.copy(right, line + bytes - step, step);
      } else {
        memory.fill(left, 0, step);
        memory.fill(right, 0, step);
      }
    }
    let i: usize = 0;
    for (; i < wide; i += 4) {
      let sum = f32x4.splat(0);
      for (let k = 0, p = scratch + (i << 2); k < taps; k++, p += step) sum = f32x4.add(sum, f32x4.mul(v128.load_splat<f32>(kernel + (<usize>k << 2)), v128.load(p)));
      v128.store(line + (i << 2), sum);
    }
    for (; i < row; i++) {
      let sum: f32 = 0;
      for (let k = 0, p = scratch + (i << 2); k < taps; k++, p += step) sum += load<f32>(kernel + (<usize>k << 2)) * load<f32>(p);
      store<f32>(line + (i << 2), sum);
    }
  }
  // Rows that were written over are kept in a ring of radius + 1; before it, the places of the rows that a row is made from, 0 for none.
  const ring = radius + 1, rows = scratch, kept = scratch + ((<usize>taps + 3 & ~3) << 2);
  for (let y = 0; y < height; y++) {
    const line = data + <usize>y * bytes;
    memory.copy(kept + <usize>(y % ring) * bytes, line, bytes);
    for (let k = 0; k < taps; k++) {
      const asked = y + k - radius, within = asked >= 0 && asked < height, from = asked < 0 ? 0 : asked >= height ? height - 1 : asked;
      store<u32>(rows + (<usize>k << 2), !within && !repeat ? 0 : <u32>(from > y ? data + <usize>from * bytes : kept + <usize>(from % ring) * bytes));
    }
    let i: usize = 0;
    for (; i < wide; i += 4) {
      let sum = f32x4.splat(0);
      for (let k: usize = 0; k < <usize>taps; k++) {
        const from = <usize>load<u32>(rows + (k << 2));
        if (from) sum = f32x4.add(sum, f32x4.mul(v128.load_splat<f32>(kernel + (k << 2)), v128.load(from + (i << 2))));
      }
      v128.store(line + (i << 2), sum);
    }
    for (; i < row; i++) {
      let sum: f32 = 0;
      for (let k: usize = 0; k < <usize>taps; k++) {
        const from = <usize>load<u32>(rows + (k << 2));
        if (from) sum += load<f32>(kernel + (k << 2)) * load<f32>(from + (i << 2));
      }
      store<f32>(line + (i << 2), sum);
    }
  }
}
