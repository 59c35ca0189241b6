/** Adds content at each place bilinearly; the twin of `sampleSmooth`. Otherwise as `addPatches` (pin.ts). Four pixels at a time where they are looked at on the same levels. */
export function addSmooth(levels: usize, coarsest: i32, detail: f32, between: i32, places: usize, plane: usize, weights: usize, first: i32, count: i32, out: usize): i32 {
  const nothing = f32x4.splat(0);
  for (let i = first; i < count;) {
    const at = places + (<usize>i << 2), own = weights + (<usize>i << 2);
    if (i + 4 <= count) {
      const share4 = v128.load(own), counts = f32x4.ne(share4, nothing);
      if (!v128.any_true(counts)) {
        i += 4;
        continue;
      }
      // Where one of four has no weight its place may be no number.
      const done = i32x4.all_true(counts) ? fourSmooth(levels, coarsest, detail, between, at, plane, share4, out + (<usize>i << 4)) : 0;
      if (done < 0) return i;
      if (done > 0) {
        i += 4;
        continue;
      }
    }
    const weight = load<f32>(own);
    if (weight != 0) {
      const su = load<f32>(at + (plane << 1)), sv = load<f32>(at + plane * 3), u = load<f32>(at), v = load<f32>(at + plane), to = out + (<usize>i << 4);
      let size: f32 = (su > sv ? su : sv) * detail;
      let lower = 0;
      while (size >= 2 && lower < coarsest) {
        size *= 0.5;
        lower++;
      }
      let share: f32 = size <= 1 || lower == coarsest ? 0 : size - 1;
      if (!between) {
        if (share >= NEARER) lower++;
        share = 0;
      }
      const low = levels + <usize>lower * 12, high = low + 12;
      if (load<u32>(low) == 0 || (share > 0 && load<u32>(high) == 0)) return i;
      const back: f32 = 1 / <f32>(1 << lower);
      let sum = f32x4.mul(bilinear(<usize>load<u32>(low), load<i32>(low, 4), load<i32>(low, 8), u * back, v * back), f32x4.splat(weight * (1 - share)));
      if (share > 0) sum = f32x4.add(sum, f32x4.mul(bilinear(<usize>load<u32>(high), load<i32>(high, 4), load<i32>(high, 8), u * back * 0.5, v * back * 0.5), f32x4.splat(weight * share)));
      v128.store(to, f32x4.add(v128.load(to), sum));
    }
    i++;
  }
  return count;
}

/** Four pixels of `addSmooth`: 1 where done, 0 where they are not alike enough, −1 where a level is not at hand. */
function fourSmooth(levels: usize, coarsest: i32, detail: f32, between: i32, at: usize, plane: usize, weights: v128, to: usize): i32 {
  const sizes = f32x4.mul(f32x4.pmax(v128.load(at + (plane << 1)), v128.load(at + plane * 3)), f32x4.splat(detail));
  let size = f32x4.extract_lane(sizes, 0), lower = 0;
  while (size >= 2 && lower < coarsest) {
    size *= 0.5;
    lower++;
  }
  // All four between the same two levels: as many halvings for each.
  const back: f32 = 1 / <f32>(1 << lower), halved = f32x4.mul(sizes, f32x4.splat(back)), two = f32x4.splat(2), one = f32x4.splat(1);
  if (lower < coarsest && v128.any_true(f32x4.ge(halved, two))) return 0;
  if (lower > 0 && v128.any_true(f32x4.lt(halved, one))) return 0;
  let share = lower == coarsest ? f32x4.splat(0) : f32x4.pmax(f32x4.sub(halved, one), f32x4.splat(0));
  if (!between) {
    const nearer = f32x4.ge(share, f32x4.splat(NEARER));
    if (v128.any_true(nearer)) {
      if (!i32x4.all_true(nearer)) return 0;
      lower++;
    }
    share = f32x4.splat(0);
  }
  const low = levels + <usize>lower * 12, mixed = v128.any_true(f32x4.gt(share, f32x4.splat(0)));
  if (load<u32>(low) == 0 || (mixed && load<u32>(low, 12) == 0)) return -1;
  if (load<i32>(low, 4) < 2 || load<i32>(low, 8) < 2 || (mixed && (load<i32>(low, 16) < 2 || load<i32>(low, 20) < 2))) return 0;
  const u = v128.load(at), v = v128.load(at + plane), scale: f32 = 1 / <f32>(1 << lower);
  fourBilinear(low, f32x4.mul(u, f32x4.splat(scale)), f32x4.mul(v, f32x4.splat(scale)), f32x4.mul(weights, f32x4.sub(one, share)), to);
  if (mixed) fourBilinear(low + 12, f32x4.mul(u, f32x4.splat(scale * 0.5)), f32x4.mul(v, f32x4.splat(scale * 0.5)), f32x4.mul(weights, share), to);
  return 1;
}

/** Four bilinear looks at a level of at least two pixels each way, added with their weights. */
// @ts-ignore: a decorator of the compiler
@inline
function fourBilinear(level: usize, x: v128, y: v128, weights: v128, to: usize): void {
  const data = <usize>load<u32>(level), width = load<i32>(level, 4), height = load<i32>(level, 8), half = f32x4.splat(0.5), nothing = f32x4.splat(0);
  const px = f32x4.pmin(f32x4.splat(<f32>(width - 1)), f32x4.pmax(nothing, f32x4.sub(x, half))), py = f32x4.pmin(f32x4.splat(<f32>(height - 1)), f32x4.pmax(nothing, f32x4.sub(y, half)));
  // At the last pixel the one before it is looked at from its other side.
  const ix = i32x4.min_s(i32x4.trunc_sat_f32x4_s(px), i32x4.splat(width - 2)), iy = i32x4.min_s(i32x4.trunc_sat_f32x4_s(py), i32x4.splat(height - 2));
  const fx = f32x4.sub(px, f32x4.convert_i32x4_s(ix)), fy = f32x4.sub(py, f32x4.convert_i32x4_s(iy)), offsets = i32x4.shl(i32x4.add(i32x4.mul(iy, i32x4.splat(width)), ix), 4), line = <usize>width << 4;
  let a = data + <usize>i32x4.extract_lane(offsets, 0);
  v128.store(to, f32x4.add(v128.load(to), f32x4.mul(look(a, a + line, v128.shuffle<f32>(fx, fx, 0, 0, 0, 0), v128.shuffle<f32>(fy, fy, 0, 0, 0, 0)), v128.shuffle<f32>(weights, weights, 0, 0, 0, 0))));
  a = data + <usize>i32x4.extract_lane(offsets, 1);
  v128.store(to, f32x4.add(v128.load(to, 16), f32x4.mul(look(a, a + line, v128.shuffle<f32>(fx, fx, 1, 1, 1, 1), v128.shuffle<f32>(fy, fy, 1, 1, 1, 1)), v128.shuffle<f32>(weights, weights, 1, 1, 1, 1))), 16);
  a = data + <usize>i32x4.extract_lane(offsets, 2);
  v128.store(to, f32x4.add(v128.load(to, 32), f32x4.mul(look(a, a + line, v128.shuffle<f32>(fx, fx, 2, 2, 2, 2), v128.shuffle<f32>(fy, fy, 2, 2, 2, 2)), v128.shuffle<f32>(weights, weights, 2, 2, 2, 2))), 32);
  a = data + <usize>i32x4.extract_lane(offsets, 3);
  v128.store(to, f32x4.add(v128.load(to, 48), f32x4.mul(look(a, a + line, v128.shuffle<f32>(fx, fx, 3, 3, 3, 3), v128.shuffle<f32>(fy, fy, 3, 3, 3, 3)), v128.shuffle<f32>(weights, weights, 3, 3, 3, 3))), 48);
}

// @ts-ignore: a decorator of the compiler
@inline
function look(a: usize, b: usize, fx: v128, fy: v128): v128 {
  const a0 = v128.load(a), b0 = v128.load(b), top = f32x4.add(a0, f32x4.mul(fx, f32x4.sub(v128.load(a, 16), a0))), bottom = f32x4.add(b0, f32x4.mul(fx, f32x4.sub(v128.load(b, 16), b0)));
  return f32x4.add(top, f32x4.mul(fy, f32x4.sub(bottom, top)));
}

/** √2 − 1: from there on the next level is the nearer one. */
const NEARER: f32 = 0.41421356;

// @ts-ignore: a decorator of the compiler
@inline
function bilinear(data: usize, width: i32, height: i32, x: f32, y: f32): v128 {
  let px = x - 0.5, py = y - 0.5;
  px = px < 0 ? 0 : px > <f32>(width - 1) ? <f32>(width - 1) : px;
  py = py < 0 ? 0 : py > <f32>(height - 1) ? <f32>(height - 1) : py;
  const ix = <i32>px, iy = <i32>py, fx = f32x4.splat(px - <f32>ix), fy = f32x4.splat(py - <f32>iy);
  const a = data + (<usize>(iy * width + ix) << 4), right: usize = ix < width - 1 ? 16 : 0, b = iy < height - 1 ? a + (<usize>width << 4) : a;
  const a0 = v128.load(a), b0 = v128.load(b), top = f32x4.add(a0, f32x4.mul(fx, f32x4.sub(v128.load(a + right), a0))), bottom = f32x4.add(b0, f32x4.mul(fx, f32x4.sub(v128.load(b + right), b0)));
  return f32x4.add(top, f32x4.mul(fy, f32x4.sub(bottom, top)));
}
