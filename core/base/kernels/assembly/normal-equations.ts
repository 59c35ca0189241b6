/** Bytes that `accumulate` works in: ten columns, then the sums. */
export const ACCUMULATE_ROOM: i32 = 80 * 16;

/** Sums of the weighted normal equations of pieces first…last of the points; the twin of `accumulate` in ../plain-normal-equations.ts. */
export function accumulate(
  first: i32, last: i32, starts: usize, count: i32, xs: usize, ys: usize, blurred: usize, sampled: usize, prior: usize,
  scaleX: f32, offsetX: f32, scaleY: f32, offsetY: f32, gain: f32, tolerance: f32, sigma: f32, mix: f32, redescending: i32, ownScratch: usize, out: usize,
): void {
  const columns = ownScratch, sums = ownScratch + (12 << 4);
  const plane = <usize>count << 2;
  const one = f32x4.splat(1), zero = f32x4.splat(0), g = f32x4.splat(gain * (1 - mix)), own = f32x4.splat(mix);
  const sx = f32x4.splat(scaleX), ox = f32x4.splat(offsetX), sy = f32x4.splat(scaleY), oy = f32x4.splat(offsetY);
  const toX = f32x4.splat(1 / scaleX), toY = f32x4.splat(1 / scaleY), slack = f32x4.splat((gain * tolerance / sigma) * (gain * tolerance / sigma));
  const perScale = f32x4.splat(1 / sigma), tukey = f32x4.splat(1 / (4.685 * 4.685)), huber = f32x4.splat(1.345);
  store<v128>(columns + (9 << 4), f32x4.splat(-1));
  for (let piece = first; piece < last; piece++) {
    const from = load<i32>(starts + (<usize>piece << 2)), to = load<i32>(starts + (<usize>piece << 2), 4);
    memory.fill(sums, 0, 67 << 4);
    for (let i = from; i < to; i += 4) {
      const at = <usize>i << 2;
      const r = v128.load(sampled + at), inside = v128.load(sampled + at + plane * 3);
      const t = v128.load(blurred + at), tx = v128.load(blurred + at + plane), ty = v128.load(blurred + at + plane * 2);
      const n = f32x4.mul(r, perScale), spread = f32x4.add(one, f32x4.mul(slack, f32x4.add(f32x4.mul(tx, tx), f32x4.mul(ty, ty))));
      const squared = f32x4.div(f32x4.mul(n, n), spread);
      let weight: v128;
      if (redescending) {
        const rest = f32x4.max(zero, f32x4.sub(one, f32x4.mul(squared, tukey)));
        weight = f32x4.mul(rest, rest);
      } else {
        weight = f32x4.min(one, f32x4.div(huber, f32x4.max(f32x4.sqrt(squared), f32x4.splat(1e-20))));
      }
      weight = f32x4.div(f32x4.mul(f32x4.mul(weight, inside), v128.load(prior + at)), spread);
      if (!v128.any_true(f32x4.gt(weight, zero))) continue;
      const x = f32x4.add(f32x4.mul(sx, v128.load(xs + at)), ox), y = f32x4.add(f32x4.mul(sy, v128.load(ys + at)), oy);
      const gx = f32x4.mul(f32x4.add(f32x4.mul(g, tx), f32x4.mul(own, v128.load(sampled + at + plane))), toX);
      const gy = f32x4.mul(f32x4.add(f32x4.mul(g, ty), f32x4.mul(own, v128.load(sampled + at + plane * 2))), toY);
      const gxx = f32x4.mul(gx, x), gyy = f32x4.mul(gy, y), along = f32x4.neg(f32x4.add(gxx, gyy));
      store<v128>(columns, gx);
      store<v128>(columns + 16, gy);
      store<v128>(columns + 32, gxx);
      store<v128>(columns + 48, f32x4.mul(gx, y));
      store<v128>(columns + 64, f32x4.mul(gy, x));
      store<v128>(columns + 80, gyy);
      store<v128>(columns + 96, f32x4.mul(x, along));
      store<v128>(columns + 112, f32x4.mul(y, along));
      store<v128>(columns + 128, f32x4.neg(t));
      let to16 = sums;
      const wr = f32x4.mul(weight, r);
      for (let a: usize = 0; a < 160; a += 16) {
        const c = v128.load(columns + a), wc = f32x4.mul(weight, c);
        for (let b: usize = 0; b <= a; b += 16) {
          store<v128>(to16, f32x4.add(v128.load(to16), f32x4.mul(wc, v128.load(columns + b))));
          to16 += 16;
        }
        store<v128>(sums + (55 << 4) + a, f32x4.sub(v128.load(sums + (55 << 4) + a), f32x4.mul(wr, c)));
      }
      store<v128>(sums + (65 << 4), f32x4.add(v128.load(sums + (65 << 4)), weight));
      store<v128>(sums + (66 << 4), f32x4.add(v128.load(sums + (66 << 4)), f32x4.mul(wr, r)));
    }
    for (let k = 0; k < 67; k++) {
      const s = v128.load(sums + (<usize>k << 4));
      store<f64>(out + (<usize>(piece * 67 + k) << 3), <f64>f32x4.extract_lane(s, 0) + <f64>f32x4.extract_lane(s, 1) + <f64>f32x4.extract_lane(s, 2) + <f64>f32x4.extract_lane(s, 3));
    }
  }
}
