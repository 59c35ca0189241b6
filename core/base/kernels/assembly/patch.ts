/** Cubic samples of a window along a short way, averaged, with their slopes; the twin of `sampleCubic` in ../plain-patch.ts. */
export function sampleCubic(data: usize, width: i32, height: i32, xs: usize, ys: usize, count: i32, x: f32, y: f32, alongX: f32, alongY: f32, taps: i32, out: usize): void {
  const c3 = f32x4(-0.5, 1.5, -1.5, 0.5), c2 = f32x4(1, -2.5, 2, -0.5), c1 = f32x4(-0.5, 0, 0.5, 0), c0 = f32x4(0, 1, 0, 0);
  const d3 = f32x4(-1.5, 4.5, -4.5, 1.5), d2 = f32x4(2, -5, 4, -1);
  const plane = <usize>count << 2, stride = <usize>width << 2, share: f32 = 1 / <f32>taps;
  for (let i = 0; i < count; i++) {
    const at = <usize>i << 2, px = load<f32>(xs + at) + x, py = load<f32>(ys + at) + y;
    let value: f32 = 0, dx: f32 = 0, dy: f32 = 0, taken = 0;
    for (let k = 0; k < taps; k++) {
      const go = (<f32>k + 0.5) * share - 0.5, qx = px + go * alongX, qy = py + go * alongY, fx = Mathf.floor(qx), fy = Mathf.floor(qy), ix = <i32>fx, iy = <i32>fy;
      if (!(ix >= 1 && iy >= 1 && ix < width - 2 && iy < height - 2)) continue;
      const t = f32x4.splat(qx - fx), s = f32x4.splat(qy - fy);
      const a = cubic(c3, c2, c1, c0, t), d = f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(d3, t), d2), t), c1), b = cubic(c3, c2, c1, c0, s), e = f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(d3, s), d2), s), c1);
      const from = data + (((<usize>(iy - 1)) * <usize>width + <usize>(ix - 1)) << 2);
      const r0 = v128.load(from), r1 = v128.load(from + stride), r2 = v128.load(from + stride * 2), r3 = v128.load(from + stride * 3);
      const down = f32x4.add(f32x4.add(f32x4.mul(r0, f32x4.splat(f32x4.extract_lane(b, 0))), f32x4.mul(r1, f32x4.splat(f32x4.extract_lane(b, 1)))), f32x4.add(f32x4.mul(r2, f32x4.splat(f32x4.extract_lane(b, 2))), f32x4.mul(r3, f32x4.splat(f32x4.extract_lane(b, 3)))));
      const slope = f32x4.add(f32x4.add(f32x4.mul(r0, f32x4.splat(f32x4.extract_lane(e, 0))), f32x4.mul(r1, f32x4.splat(f32x4.extract_lane(e, 1)))), f32x4.add(f32x4.mul(r2, f32x4.splat(f32x4.extract_lane(e, 2))), f32x4.mul(r3, f32x4.splat(f32x4.extract_lane(e, 3)))));
      value += sum(f32x4.mul(down, a));
      dx += sum(f32x4.mul(down, d));
      dy += sum(f32x4.mul(slope, a));
      taken++;
    }
    const part: f32 = taken > 0 ? 1 / <f32>taken : 0;
    store<f32>(out + at, value * part);
    store<f32>(out + at + plane, dx * part);
    store<f32>(out + at + plane * 2, dy * part);
    store<f32>(out + at + plane * 3, <f32>taken * share);
  }
}

/** Normal equations of a pattern's place and light; the twin of `patchEquations` in ../plain-patch.ts. */
export function patchEquations(planes: usize, count: i32, geometric: i32, terms: i32, gain: f32, sigma: f32, redescending: i32, scratch: usize, out: usize): void {
  const plane = <usize>count << 2, size = geometric + terms, entries = (size * (size + 1)) / 2, sums = scratch + (11 << 4);
  const zero = f32x4.splat(0), one = f32x4.splat(1), half = f32x4.splat(0.5), g = f32x4.splat(gain), tukey = f32x4.splat(1 / (4.685 * sigma)), huber = f32x4.splat(1.345 * sigma);
  memory.fill(sums, 0, <usize>(entries + size) << 4);
  for (let i = 0; i < count; i += 4) {
    const at = planes + (<usize>i << 2);
    const r = v128.load(at), root = v128.load(at + plane), used = v128.load(at + plane * 4);
    let weight: v128;
    if (redescending) {
      const n = f32x4.mul(r, tukey), rest = f32x4.max(zero, f32x4.sub(one, f32x4.mul(n, n)));
      weight = f32x4.mul(rest, rest);
    } else {
      weight = f32x4.min(one, f32x4.div(huber, f32x4.max(f32x4.abs(r), f32x4.splat(1e-12))));
    }
    weight = f32x4.mul(weight, used);
    if (!v128.any_true(f32x4.gt(weight, zero))) continue;
    const h = f32x4.mul(half, root), u = v128.load(at + plane * 8), v = v128.load(at + plane * 9);
    const gx = f32x4.mul(h, f32x4.add(v128.load(at + plane * 2), f32x4.mul(g, v128.load(at + plane * 6)))), gy = f32x4.mul(h, f32x4.add(v128.load(at + plane * 3), f32x4.mul(g, v128.load(at + plane * 7))));
    let column = scratch;
    store<v128>(column, gx);
    store<v128>(column, gy, 16);
    column += 32;
    if (geometric == 4) {
      store<v128>(column, f32x4.add(f32x4.mul(gx, u), f32x4.mul(gy, v)));
      store<v128>(column, f32x4.sub(f32x4.mul(gy, u), f32x4.mul(gx, v)), 16);
      column += 32;
    }
    if (terms > 0) {
      const less = f32x4.neg(root);
      store<v128>(column, f32x4.mul(less, v128.load(at + plane * 5)));
      store<v128>(column, less, 16);
      if (terms == 7) {
        const lu = f32x4.mul(less, u), lv = f32x4.mul(less, v);
        store<v128>(column, lu, 32);
        store<v128>(column, lv, 48);
        store<v128>(column, f32x4.mul(lu, u), 64);
        store<v128>(column, f32x4.mul(lu, v), 80);
        store<v128>(column, f32x4.mul(lv, v), 96);
      }
    }
    const wr = f32x4.mul(weight, r), right = sums + (<usize>entries << 4);
    let to = sums;
    for (let a = 0; a < size; a++) {
      const c = v128.load(scratch + (<usize>a << 4)), wc = f32x4.mul(weight, c);
      for (let b = 0; b <= a; b++) {
        store<v128>(to, f32x4.add(v128.load(to), f32x4.mul(wc, v128.load(scratch + (<usize>b << 4)))));
        to += 16;
      }
      const place = right + (<usize>a << 4);
      store<v128>(place, f32x4.sub(v128.load(place), f32x4.mul(wr, c)));
    }
  }
  for (let k = 0; k < entries + size; k++) {
    const s = v128.load(sums + (<usize>k << 4));
    store<f64>(out + (<usize>k << 3), <f64>f32x4.extract_lane(s, 0) + <f64>f32x4.extract_lane(s, 1) + <f64>f32x4.extract_lane(s, 2) + <f64>f32x4.extract_lane(s, 3));
  }
}

/** Bytes that `patchEquations` works in: eleven columns, then the sums. */
export const PATCH_ROOM: i32 = 96 * 16;

/** Normalised correlations of a pattern at the places of a box, all of which lie inside; the twin of `correlateBox` in ../plain-patch.ts. `across` is a multiple of four. */
export function correlateBox(data: usize, width: i32, offsets: usize, pattern: usize, n: i32, energy: f32, left: i32, top: i32, across: i32, down: i32, out: usize): void {
  const share = f32x4.splat(1 / <f32>n), e = f32x4.splat(energy), none = f32x4.splat(-1), least = f32x4.splat(1e-12);
  for (let j = 0; j < down; j++) {
    for (let i = 0; i < across; i += 4) {
      const from = data + (((<usize>(top + j)) * <usize>width + <usize>(left + i)) << 2);
      let total = f32x4.splat(0), square = f32x4.splat(0), cross = f32x4.splat(0);
      for (let k = 0; k < n; k++) {
        const at = <usize>k << 2, v = v128.load(from + (<isize>load<i32>(offsets + at) << 2));
        total = f32x4.add(total, v);
        square = f32x4.add(square, f32x4.mul(v, v));
        cross = f32x4.add(cross, f32x4.mul(v, v128.load32_splat(pattern + at)));
      }
      const spread = f32x4.mul(f32x4.sub(square, f32x4.mul(f32x4.mul(total, total), share)), e), tells = f32x4.gt(spread, least);
      store<v128>(out + ((<usize>(j * across + i)) << 2), v128.bitselect(f32x4.div(cross, f32x4.sqrt(f32x4.max(spread, least))), none, tells));
    }
  }
}

// @ts-ignore: decorator
@inline function cubic(c3: v128, c2: v128, c1: v128, c0: v128, t: v128): v128 {
  return f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(f32x4.add(f32x4.mul(c3, t), c2), t), c1), t), c0);
}

// @ts-ignore: decorator
@inline function sum(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3));
}
