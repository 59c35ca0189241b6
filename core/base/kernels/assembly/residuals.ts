/** Samples the picture under a map and forms residuals of points first…last (multiples of four), counted on top of what the histogram holds; the twin of `residuals` in ../plain-residuals.ts. */
export function residuals(
  first: i32, last: i32, texels: usize, width: i32, height: i32, xs: usize, ys: usize, count: i32, blurred: usize, prior: usize, h: usize, gain: f32, offset: f32,
  steep: f32, ownHistogram: usize, bins: i32, binsPerUnit: f32, binsPerSample: f32, sampled: usize,
): i32 {
  const h0 = f32x4.splat(load<f32>(h)), h1 = f32x4.splat(load<f32>(h, 4)), h2 = f32x4.splat(load<f32>(h, 8));
  const h3 = f32x4.splat(load<f32>(h, 12)), h4 = f32x4.splat(load<f32>(h, 16)), h5 = f32x4.splat(load<f32>(h, 20));
  const h6 = f32x4.splat(load<f32>(h, 24)), h7 = f32x4.splat(load<f32>(h, 28)), h8 = f32x4.splat(load<f32>(h, 32));
  const limitX = f32x4.splat(<f32>(width - 1)), limitY = f32x4.splat(<f32>(height - 1)), zero = f32x4.splat(0), one = f32x4.splat(1);
  const stride = <usize>width << 4;
  const steepBins = ownHistogram + (<usize>bins << 2);
  let visible = 0;
  // Counts are multiples of four: the arrays are padded with points whose prior is 0.
  for (let i = first; i < last; i += 4) {
    const at = <usize>i << 2;
    const x = v128.load(xs + at), y = v128.load(ys + at);
    const w = f32x4.add(f32x4.add(f32x4.mul(h6, x), f32x4.mul(h7, y)), h8);
    const inverse = f32x4.div(one, w);
    const u = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(h0, x), f32x4.mul(h1, y)), h2), inverse);
    const v = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(h3, x), f32x4.mul(h4, y)), h5), inverse);
    let ok = v128.and(f32x4.gt(w, zero), f32x4.gt(v128.load(prior + at), zero));
    ok = v128.and(ok, v128.and(v128.and(f32x4.ge(u, zero), f32x4.lt(u, limitX)), v128.and(f32x4.ge(v, zero), f32x4.lt(v, limitY))));
    const sees = i32x4.bitmask(ok);
    const iu = i32x4.trunc_sat_f32x4_s(u), iv = i32x4.trunc_sat_f32x4_s(v);
    const fu = f32x4.sub(u, f32x4.convert_i32x4_s(iu)), fv = f32x4.sub(v, f32x4.convert_i32x4_s(iv));
    const cell = i32x4.add(i32x4.mul(iv, i32x4.splat(width)), iu);
    // The map's derivatives: ∂u/∂x = (h0 − u·h6)/w and so on.
    const ux = f32x4.mul(f32x4.sub(h0, f32x4.mul(u, h6)), inverse), uy = f32x4.mul(f32x4.sub(h1, f32x4.mul(u, h7)), inverse);
    const vx = f32x4.mul(f32x4.sub(h3, f32x4.mul(v, h6)), inverse), vy = f32x4.mul(f32x4.sub(h4, f32x4.mul(v, h7)), inverse);
    let t0 = zero, t1 = zero, t2 = zero, t3 = zero;
    if (sees & 1) t0 = texelAt(texels, stride, i32x4.extract_lane(cell, 0), f32x4.extract_lane(fu, 0), f32x4.extract_lane(fv, 0));
    if (sees & 2) t1 = texelAt(texels, stride, i32x4.extract_lane(cell, 1), f32x4.extract_lane(fu, 1), f32x4.extract_lane(fv, 1));
    if (sees & 4) t2 = texelAt(texels, stride, i32x4.extract_lane(cell, 2), f32x4.extract_lane(fu, 2), f32x4.extract_lane(fv, 2));
    if (sees & 8) t3 = texelAt(texels, stride, i32x4.extract_lane(cell, 3), f32x4.extract_lane(fu, 3), f32x4.extract_lane(fv, 3));
    // Four texels to four channels.
    const a = i8x16.shuffle(t0, t1, 0, 1, 2, 3, 16, 17, 18, 19, 4, 5, 6, 7, 20, 21, 22, 23), b = i8x16.shuffle(t2, t3, 0, 1, 2, 3, 16, 17, 18, 19, 4, 5, 6, 7, 20, 21, 22, 23);
    const c = i8x16.shuffle(t0, t1, 8, 9, 10, 11, 24, 25, 26, 27, 12, 13, 14, 15, 28, 29, 30, 31), d = i8x16.shuffle(t2, t3, 8, 9, 10, 11, 24, 25, 26, 27, 12, 13, 14, 15, 28, 29, 30, 31);
    const value = i8x16.shuffle(a, b, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 20, 21, 22, 23), gu = i8x16.shuffle(a, b, 8, 9, 10, 11, 12, 13, 14, 15, 24, 25, 26, 27, 28, 29, 30, 31);
    const gv = i8x16.shuffle(c, d, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 20, 21, 22, 23), allowed = i8x16.shuffle(c, d, 8, 9, 10, 11, 12, 13, 14, 15, 24, 25, 26, 27, 28, 29, 30, 31);
    const expected = v128.load(blurred + at), complete = v128.load(blurred + at + (<usize>count << 2) * 3);
    const use = v128.and(ok, v128.and(f32x4.gt(allowed, f32x4.splat(0.999)), f32x4.gt(complete, f32x4.splat(0.5))));
    const r = f32x4.sub(value, f32x4.add(f32x4.mul(f32x4.splat(gain), expected), f32x4.splat(offset)));
    const dx = f32x4.add(f32x4.mul(gu, ux), f32x4.mul(gv, vx)), dy = f32x4.add(f32x4.mul(gu, uy), f32x4.mul(gv, vy));
    const plane = <usize>count << 2;
    v128.store(sampled + at, v128.and(use, r));
    v128.store(sampled + at + plane, v128.and(use, dx));
    v128.store(sampled + at + plane * 2, v128.and(use, dy));
    v128.store(sampled + at + plane * 3, v128.and(use, one));
    const usable = i32x4.bitmask(use);
    if (usable == 0) continue;
    const bin = i32x4.min_s(i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.abs(r), f32x4.splat(binsPerUnit))), i32x4.splat(bins - 1));
    if (usable & 1) { count1(ownHistogram, i32x4.extract_lane(bin, 0)); visible++; }
    if (usable & 2) { count1(ownHistogram, i32x4.extract_lane(bin, 1)); visible++; }
    if (usable & 4) { count1(ownHistogram, i32x4.extract_lane(bin, 2)); visible++; }
    if (usable & 8) { count1(ownHistogram, i32x4.extract_lane(bin, 3)); visible++; }
    const tx = v128.load(blurred + at + plane), ty = v128.load(blurred + at + plane * 2);
    const slope = f32x4.sqrt(f32x4.add(f32x4.mul(tx, tx), f32x4.mul(ty, ty)));
    const counts = usable & i32x4.bitmask(f32x4.ge(slope, f32x4.splat(steep)));
    if (counts == 0) continue;
    const off = f32x4.div(f32x4.abs(r), f32x4.max(slope, f32x4.splat(1e-20)));
    const offBin = i32x4.min_s(i32x4.trunc_sat_f32x4_s(f32x4.mul(off, f32x4.splat(binsPerSample))), i32x4.splat(bins - 1));
    if (counts & 1) count1(steepBins, i32x4.extract_lane(offBin, 0));
    if (counts & 2) count1(steepBins, i32x4.extract_lane(offBin, 1));
    if (counts & 4) count1(steepBins, i32x4.extract_lane(offBin, 2));
    if (counts & 8) count1(steepBins, i32x4.extract_lane(offBin, 3));
  }
  return visible;
}

// @ts-ignore: decorator
@inline function count1(histogram: usize, bin: i32): void {
  const at = histogram + (<usize>bin << 2);
  store<u32>(at, load<u32>(at) + 1);
}

/** A texel between four, linear but for the value, which is bent to the cubic with the texels' slopes along each axis. */
// @ts-ignore: decorator
@inline function texelAt(texels: usize, stride: usize, cell: i32, fu: f32, fv: f32): v128 {
  const at = texels + (<usize>cell << 4);
  const p = v128.load(at), p1 = v128.load(at, 16), q = v128.load(at + stride), q1 = v128.load(at + stride, 16), f = f32x4.splat(fu);
  const upper = f32x4.add(p, f32x4.mul(f32x4.sub(p1, p), f));
  const lower = f32x4.add(q, f32x4.mul(f32x4.sub(q1, q), f));
  const texel = f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), f32x4.splat(fv)));
  // Four bends at once: upper, lower, left, right.
  const ps = i8x16.shuffle(i8x16.shuffle(p, q, 0, 1, 2, 3, 16, 17, 18, 19, 0, 1, 2, 3, 0, 1, 2, 3), p1, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 16, 17, 18, 19);
  const qs = i8x16.shuffle(i8x16.shuffle(p1, q1, 0, 1, 2, 3, 16, 17, 18, 19, 16, 17, 18, 19, 16, 17, 18, 19), q, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 12, 13, 14, 15);
  const dps = i8x16.shuffle(i8x16.shuffle(p, q, 4, 5, 6, 7, 20, 21, 22, 23, 8, 9, 10, 11, 8, 9, 10, 11), p1, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 24, 25, 26, 27);
  const dqs = i8x16.shuffle(i8x16.shuffle(p1, q1, 4, 5, 6, 7, 20, 21, 22, 23, 24, 25, 26, 27, 24, 25, 26, 27), q, 0, 1, 2, 3, 4, 5, 6, 7, 24, 25, 26, 27, 12, 13, 14, 15);
  const fs = f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(fu), 2, fv), 3, fv), gs = f32x4.sub(f32x4.splat(1), fs);
  const slope = f32x4.sub(qs, ps);
  const bends = f32x4.mul(f32x4.mul(fs, gs), f32x4.add(f32x4.mul(f32x4.sub(dps, slope), gs), f32x4.mul(f32x4.sub(slope, dqs), fs)));
  const across = f32x4.extract_lane(bends, 0) * (1 - fv) + f32x4.extract_lane(bends, 1) * fv, down = f32x4.extract_lane(bends, 2) * (1 - fu) + f32x4.extract_lane(bends, 3) * fu;
  return f32x4.replace_lane(texel, 0, f32x4.extract_lane(texel, 0) + across + down);
}
