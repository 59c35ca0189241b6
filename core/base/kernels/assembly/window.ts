/** Windows of features: 15 rows of 16 columns, the last of which is not counted; the twins of ../plain-window.ts. */
const HALF: i32 = 7, SIDE: i32 = 15, STRIDE: i32 = 16, PLANE: usize = 240 << 2, UNKNOWNS: i32 = 8;
const AREA: f32 = 225, SETTLED: f64 = 0.01, SETTLED_AFFINE: f64 = 0.004, MOST_STEP: f64 = 4;

/** Bytes that the functions below work in: a window, the right side and the step. */
export const WINDOW_ROOM: i32 = 3 * 240 * 4 + 128;

// @ts-ignore: decorator
@inline function total(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3));
}

// @ts-ignore: decorator
@inline function bilinear(at: usize, line: usize, a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(a, v128.load(at)), f32x4.mul(b, v128.load(at, 4))), f32x4.add(f32x4.mul(c, v128.load(at + line)), f32x4.mul(d, v128.load(at + line, 4))));
}

// @ts-ignore: decorator
@inline function lastColumns(): v128 {
  return i32x4(-1, -1, -1, 0);
}

/** The window about a place with its slopes; 0 where it is not wholly inside. */
export function takeWindow(data: usize, width: i32, height: i32, x: f64, y: f64, out: usize): i32 {
  const x0 = <i32>Math.floor(x) - HALF, y0 = <i32>Math.floor(y) - HALF;
  if (!(x0 >= 1 && y0 >= 1 && x0 + SIDE + 2 < width && y0 + SIDE + 2 < height)) return 0;
  const u = <f32>(x - Math.floor(x)), v = <f32>(y - Math.floor(y)), line = <usize>width << 2;
  const a = f32x4.splat((1 - u) * (1 - v)), b = f32x4.splat(u * (1 - v)), c = f32x4.splat((1 - u) * v), d = f32x4.splat(u * v), half = f32x4.splat(0.5);
  for (let j = 0; j < SIDE; j++) {
    for (let i = 0; i < STRIDE; i += 4) {
      const from = data + ((<usize>(y0 + j) * <usize>width + <usize>(x0 + i)) << 2), to = out + (<usize>(j * STRIDE + i) << 2), keep = i == 12 ? lastColumns() : i32x4.splat(-1);
      store<v128>(to, v128.and(keep, bilinear(from, line, a, b, c, d)));
      store<v128>(to + PLANE, v128.and(keep, f32x4.mul(half, f32x4.sub(bilinear(from + 4, line, a, b, c, d), bilinear(from - 4, line, a, b, c, d)))));
      store<v128>(to + 2 * PLANE, v128.and(keep, f32x4.mul(half, f32x4.sub(bilinear(from + line, line, a, b, c, d), bilinear(from - line, line, a, b, c, d)))));
    }
  }
  return 1;
}

/** The mean of a plane of a window, which is taken off it. */
function centre(plane: usize): f32 {
  let sum = f32x4.splat(0);
  for (let n: usize = 0; n < PLANE; n += 16) sum = f32x4.add(sum, v128.load(plane + n));
  const mean = total(sum) / AREA, m = f32x4.splat(mean);
  for (let n: usize = 0; n < PLANE; n += 16) store<v128>(plane + n, f32x4.sub(v128.load(plane + n), (n & 63) == 48 ? v128.and(lastColumns(), m) : m));
  return mean;
}

/** Moves `at` (x, y, score) to where the second picture looks like the first about a place; 0 where that leaves the picture or is flat. */
export function shiftWindow(before: usize, beforeWidth: i32, beforeHeight: i32, x: f64, y: f64, data: usize, width: i32, height: i32, at: usize, rounds: i32, scratch: usize): i32 {
  if (takeWindow(before, beforeWidth, beforeHeight, x, y, scratch) == 0) return 0;
  const mean = f32x4.splat(centre(scratch));
  centre(scratch + PLANE);
  centre(scratch + 2 * PLANE);
  let sxx = f32x4.splat(0), sxy = f32x4.splat(0), syy = f32x4.splat(0), se = f32x4.splat(0), svx = f32x4.splat(0), svy = f32x4.splat(0);
  for (let n: usize = 0; n < PLANE; n += 16) {
    const v = v128.load(scratch + n), gx = v128.load(scratch + PLANE + n), gy = v128.load(scratch + 2 * PLANE + n);
    sxx = f32x4.add(sxx, f32x4.mul(gx, gx));
    sxy = f32x4.add(sxy, f32x4.mul(gx, gy));
    syy = f32x4.add(syy, f32x4.mul(gy, gy));
    se = f32x4.add(se, f32x4.mul(v, v));
    svx = f32x4.add(svx, f32x4.mul(v, gx));
    svy = f32x4.add(svy, f32x4.mul(v, gy));
  }
  const xx = <f64>total(sxx), xy = <f64>total(sxy), yy = <f64>total(syy), energy = <f64>total(se), vx = <f64>total(svx), vy = <f64>total(svy), det = xx * yy - xy * xy;
  if (!(det > 1e-4 * (xx + yy) * (xx + yy) / 4) || !(energy > 1e-9)) return 0;
  const line = <usize>width << 2;
  for (let round = 0; round <= rounds; round++) {
    const px = load<f64>(at), py = load<f64>(at, 8), x0 = <i32>Math.floor(px) - HALF, y0 = <i32>Math.floor(py) - HALF;
    if (!(x0 >= 0 && y0 >= 0 && x0 + STRIDE < width && y0 + SIDE + 1 < height)) return 0;
    const u = <f32>(px - Math.floor(px)), w = <f32>(py - Math.floor(py));
    const a = f32x4.splat((1 - u) * (1 - w)), b = f32x4.splat(u * (1 - w)), c = f32x4.splat((1 - u) * w), d = f32x4.splat(u * w);
    let sum = f32x4.splat(0), squares = f32x4.splat(0), cross = f32x4.splat(0), sx = f32x4.splat(0), sy = f32x4.splat(0);
    for (let j = 0; j < SIDE; j++) {
      const from = data + ((<usize>(y0 + j) * <usize>width + <usize>x0) << 2), row = scratch + (<usize>(j * STRIDE) << 2);
      for (let i: usize = 0; i < 64; i += 16) {
        let s = f32x4.sub(bilinear(from + i, line, a, b, c, d), mean);
        if (i == 48) s = v128.and(lastColumns(), s);
        sum = f32x4.add(sum, s);
        squares = f32x4.add(squares, f32x4.mul(s, s));
        cross = f32x4.add(cross, f32x4.mul(s, v128.load(row + i)));
        sx = f32x4.add(sx, f32x4.mul(s, v128.load(row + i + PLANE)));
        sy = f32x4.add(sy, f32x4.mul(s, v128.load(row + i + 2 * PLANE)));
      }
    }
    const own = <f64>total(sum), together = <f64>total(cross), theirs = <f64>total(squares) - own * own / AREA;
    store<f64>(at, theirs > 1e-9 ? together / Math.sqrt(theirs * energy) : 0, 16);
    if (round == rounds) return 1;
    const gain = Math.min(2.5, Math.max(0.4, together / energy)), bx = <f64>total(sx) / gain - vx, by = <f64>total(sy) / gain - vy;
    let dx = -(yy * bx - xy * by) / det, dy = -(xx * by - xy * bx) / det;
    const step = Math.sqrt(dx * dx + dy * dy);
    if (step > MOST_STEP) {
      dx *= MOST_STEP / step;
      dy *= MOST_STEP / step;
    }
    store<f64>(at, px + dx);
    store<f64>(at, py + dy, 8);
    if (step < SETTLED) round = rounds - 1;
  }
  return 0;
}

/** Fits an anchor's window, bent affinely, near `fit` (x, y, a, b, c, d, score); 0 where it leaves the picture or comes to nothing. */
export function fitWindow(data: usize, width: i32, height: i32, anchor: usize, mean: f32, factor: usize, fit: usize, rounds: i32, scratch: usize): i32 {
  const right = scratch, step = scratch + 64, line = <usize>width << 2, m = f32x4.splat(mean), one = f32x4.splat(1);
  let gain: f64 = 1, offset: f64 = 0, so = f32x4.splat(0);
  for (let n: usize = 0; n < PLANE; n += 16) so = f32x4.add(so, f32x4.mul(v128.load(anchor + n), v128.load(anchor + n)));
  const own = <f64>total(so);
  for (let round = 0; round <= rounds; round++) {
    const x0 = load<f64>(fit), y0 = load<f64>(fit, 8), a = load<f64>(fit, 16), b = load<f64>(fit, 24), c = load<f64>(fit, 32), d = load<f64>(fit, 40);
    const reachX = <f64>HALF * (Math.abs(a) + Math.abs(b)), reachY = <f64>HALF * (Math.abs(c) + Math.abs(d));
    if (!(x0 - reachX >= 0 && y0 - reachY >= 0 && x0 + reachX < <f64>(width - 1) && y0 + reachY < <f64>(height - 1))) return 0;
    // Places are determined from a whole sample near the window's, so that single precision is enough.
    const baseX = Math.floor(x0 - reachX), baseY = Math.floor(y0 - reachY), base = data + ((<usize>baseY * <usize>width + <usize>baseX) << 2);
    const lx = <f32>(x0 - baseX), ly = <f32>(y0 - baseY), va = f32x4.splat(<f32>a), vc = f32x4.splat(<f32>c), less = f32x4.splat(<f32>offset), share = f32x4.splat(<f32>(1 / gain));
    let r0 = f32x4.splat(0), r1 = f32x4.splat(0), r2 = f32x4.splat(0), r3 = f32x4.splat(0), r4 = f32x4.splat(0), r5 = f32x4.splat(0), r6 = f32x4.splat(0), r7 = f32x4.splat(0);
    let sum = f32x4.splat(0), squares = f32x4.splat(0), cross = f32x4.splat(0);
    for (let j = -HALF; j <= HALF; j++) {
      const rowX = f32x4.splat(lx + <f32>b * <f32>j), rowY = f32x4.splat(ly + <f32>d * <f32>j), vj = f32x4.splat(<f32>j), row = anchor + (<usize>((j + HALF) * STRIDE) << 2);
      for (let k = 0; k < STRIDE; k += 4) {
        // The sixteenth column looks where the fifteenth does, and does not count.
        const vi = f32x4.min(f32x4.splat(7), f32x4.add(f32x4.splat(<f32>(k - HALF)), f32x4(0, 1, 2, 3))), keep = k == 12 ? lastColumns() : i32x4.splat(-1);
        const x = f32x4.max(f32x4.splat(0), f32x4.add(rowX, f32x4.mul(va, vi))), y = f32x4.max(f32x4.splat(0), f32x4.add(rowY, f32x4.mul(vc, vi))), wholeX = f32x4.floor(x), wholeY = f32x4.floor(y), fx = f32x4.sub(x, wholeX), fy = f32x4.sub(y, wholeY);
        const index = i32x4.add(i32x4.mul(i32x4.trunc_sat_f32x4_s(wholeY), i32x4.splat(width)), i32x4.trunc_sat_f32x4_s(wholeX));
        const k0 = base + (<usize>i32x4.extract_lane(index, 0) << 2), k1 = base + (<usize>i32x4.extract_lane(index, 1) << 2), k2 = base + (<usize>i32x4.extract_lane(index, 2) << 2), k3 = base + (<usize>i32x4.extract_lane(index, 3) << 2);
        const t01 = v128.load64_lane(k1, v128.load64_zero(k0), 1), t23 = v128.load64_lane(k3, v128.load64_zero(k2), 1), b01 = v128.load64_lane(k1 + line, v128.load64_zero(k0 + line), 1), b23 = v128.load64_lane(k3 + line, v128.load64_zero(k2 + line), 1);
        const tl = v128.shuffle<f32>(t01, t23, 0, 2, 4, 6), tr = v128.shuffle<f32>(t01, t23, 1, 3, 5, 7), bl = v128.shuffle<f32>(b01, b23, 0, 2, 4, 6), br = v128.shuffle<f32>(b01, b23, 1, 3, 5, 7);
        const top = f32x4.add(tl, f32x4.mul(fx, f32x4.sub(tr, tl))), bottom = f32x4.add(bl, f32x4.mul(fx, f32x4.sub(br, bl)));
        const s = v128.and(keep, f32x4.sub(f32x4.add(top, f32x4.mul(fy, f32x4.sub(bottom, top))), m)), at = row + (<usize>k << 2), t = v128.load(at);
        const e = v128.and(keep, f32x4.sub(f32x4.mul(f32x4.sub(s, less), share), t)), gx = f32x4.mul(e, v128.load(at + PLANE)), gy = f32x4.mul(e, v128.load(at + 2 * PLANE));
        r0 = f32x4.add(r0, f32x4.mul(gx, vi));
        r1 = f32x4.add(r1, f32x4.mul(gx, vj));
        r2 = f32x4.add(r2, f32x4.mul(gy, vi));
        r3 = f32x4.add(r3, f32x4.mul(gy, vj));
        r4 = f32x4.add(r4, gx);
        r5 = f32x4.add(r5, gy);
        r6 = f32x4.add(r6, f32x4.mul(e, t));
        r7 = f32x4.add(r7, f32x4.mul(e, one));
        sum = f32x4.add(sum, s);
        squares = f32x4.add(squares, f32x4.mul(s, s));
        cross = f32x4.add(cross, f32x4.mul(s, t));
      }
    }
    const all = <f64>total(sum), theirs = <f64>total(squares) - all * all / AREA;
    store<f64>(fit, theirs > 1e-9 && own > 1e-9 ? <f64>total(cross) / Math.sqrt(theirs * own) : 0, 48);
    if (round == rounds) return 1;
    store<f64>(right, <f64>total(r0) / HALF);
    store<f64>(right, <f64>total(r1) / HALF, 8);
    store<f64>(right, <f64>total(r2) / HALF, 16);
    store<f64>(right, <f64>total(r3) / HALF, 24);
    store<f64>(right, <f64>total(r4), 32);
    store<f64>(right, <f64>total(r5), 40);
    store<f64>(right, <f64>total(r6), 48);
    store<f64>(right, <f64>total(r7), 56);
    substitute(factor, right, step);
    const s0 = load<f64>(step), s3 = load<f64>(step, 24), tx = load<f64>(step, 32), ty = load<f64>(step, 40);
    const pa = 1 + s0 / HALF, pb = load<f64>(step, 8) / HALF, pc = load<f64>(step, 16) / HALF, pd = 1 + s3 / HALF, det = pa * pd - pb * pc, far = Math.sqrt(tx * tx + ty * ty);
    if (!(det > 0.3 && det < 3) || far > MOST_STEP) return 0;
    const ia = pd / det, ib = -pb / det, ic = -pc / det, id = pa / det, ix = -(ia * tx + ib * ty), iy = -(ic * tx + id * ty);
    store<f64>(fit, x0 + a * ix + b * iy);
    store<f64>(fit, y0 + c * ix + d * iy, 8);
    store<f64>(fit, a * ia + b * ic, 16);
    store<f64>(fit, a * ib + b * id, 24);
    store<f64>(fit, c * ia + d * ic, 32);
    store<f64>(fit, c * ib + d * id, 40);
    offset += gain * load<f64>(step, 56);
    gain *= 1 + load<f64>(step, 48);
    if (!(gain > 0.2 && gain < 5)) return 0;
    if (far + Math.abs(s0) + Math.abs(s3) < SETTLED_AFFINE) round = rounds - 1;
  }
  return 0;
}

/** x with L·Lᵀ·x = b. */
function substitute(l: usize, b: usize, x: usize): void {
  for (let i = 0; i < UNKNOWNS; i++) {
    let sum = load<f64>(b + (<usize>i << 3));
    for (let k = 0; k < i; k++) sum -= load<f64>(l + (<usize>(i * UNKNOWNS + k) << 3)) * load<f64>(x + (<usize>k << 3));
    store<f64>(x + (<usize>i << 3), sum / load<f64>(l + (<usize>(i * UNKNOWNS + i) << 3)));
  }
  for (let i = UNKNOWNS - 1; i >= 0; i--) {
    let sum = load<f64>(x + (<usize>i << 3));
    for (let k = i + 1; k < UNKNOWNS; k++) sum -= load<f64>(l + (<usize>(k * UNKNOWNS + i) << 3)) * load<f64>(x + (<usize>k << 3));
    store<f64>(x + (<usize>i << 3), sum / load<f64>(l + (<usize>(i * UNKNOWNS + i) << 3)));
  }
}
