import { convolve } from './pin';

// @ts-ignore: a decorator of the compiler
@inline
function code(light: f32, encode: usize): u8 {
  if (!(light > 0)) return 0;
  if (light >= 1) return 255;
  const position = Mathf.sqrt(light) * 16384, index = <usize>position, at = encode + (index << 2), from = load<f32>(at);
  return <u8>((from + (load<f32>(at, 4) - from) * (position - <f32>index)) * 255 + 0.5);
}

/** The red, green and blue light of a pixel as 8-bit codes; `encode` is a table of codes 0…1 at the squares of 0, 1/16384, … */
// @ts-ignore: a decorator of the compiler
@inline
export function storeCodes(to: usize, r: f32, g: f32, b: f32, encode: usize): void {
  store<u8>(to, code(r, encode));
  store<u8>(to, code(g, encode), 1);
  store<u8>(to, code(b, encode), 2);
}

/** Light of a row's 8-bit codes, three a pixel, to planes `plane` bytes apart; then, from column `left` to before `right`, light of the front's own planes in its place. */
function readRow(codes: usize, count: i32, table: usize, planes: usize, plane: usize, front: usize, frontPlane: usize, left: i32, right: i32): void {
  for (let i = 0, at = planes, from = codes; i < count; i++, at += 4, from += 3) {
    store<f32>(at, load<f32>(table + (<usize>load<u8>(from) << 2)));
    store<f32>(at + plane, load<f32>(table + (<usize>load<u8>(from, 1) << 2)));
    store<f32>(at + (plane << 1), load<f32>(table + (<usize>load<u8>(from, 2) << 2)));
  }
  if (front) for (let c: usize = 0; c < 3; c++) memory.copy(planes + c * plane + (<usize>left << 2), front + c * frontPlane, <usize>(right - left) << 2);
}

/** What exceeds the limit in a row and what it is held to, each pixel as far as it counts as spilled light. */
function excessRow(m: usize, one: usize, other: usize, weight: usize, near: usize, width: i32, values: usize, overs: usize, helds: usize): void {
  const zero = f32x4.splat(0), tiny = f32x4.splat(1e-6), unit = f32x4.splat(1), mix = v128.load_splat<f32>(values), rest = f32x4.sub(unit, mix), allowance = v128.load_splat<f32>(values, 4), most = v128.load_splat<f32>(values, 8), span = f32x4.splat(load<f32>(values, 8) * 0.2);
  for (let at: usize = 0; at < <usize>width << 2; at += 16) {
    const w = v128.load(weight + at), p = v128.load(one + at), q = v128.load(other + at), v = v128.load(m + at);
    const held = f32x4.mul(allowance, f32x4.add(f32x4.mul(mix, f32x4.pmax(p, q)), f32x4.mul(rest, f32x4.pmin(p, q))));
    const ratio = f32x4.div(v, f32x4.pmax(held, tiny)), fade = f32x4.pmin(unit, f32x4.pmax(zero, f32x4.div(f32x4.sub(most, ratio), span)));
    const spilled = v128.and(f32x4.gt(w, zero), v128.bitselect(unit, fade, f32x4.gt(v128.load(near + at), zero)));
    v128.store(overs + at, f32x4.mul(spilled, f32x4.sub(v, held)));
    v128.store(helds + at, f32x4.mul(spilled, held));
  }
}

/**
 * Takes spilled light off rows of 8-bit codes, `width` (a multiple of four) wide, and writes what was changed into `out`; the twin of `replaceSpill` in
 * ../../matte/despill.ts with one colour of new light. `order` tells which planes the screen's main channel and the two others are, two bits each. Light of
 * the front is worked on in place: rows `frontTop` to before `frontBottom`, columns `left` to before `right`. `values`: mix, allowance, most, share, then
 * screen and light of the three. `table`: light of codes; `encode`: codes 0…1 at the squares of 0, 1/16384, …
 */
export function replaceSpill(codes: usize, out: usize, weight: usize, near: usize, width: i32, height: i32, order: i32, front: usize, frontPlane: usize, frontTop: i32, frontBottom: i32, left: i32, right: i32, values: usize, table: usize, encode: usize, scratch: usize): void {
  const zero = f32x4.splat(0), tiny = f32x4.splat(1e-6), share = v128.load_splat<f32>(values, 12), plane = <usize>width << 2, planes = scratch, overs = planes + plane * 3, helds = overs + plane;
  const m = planes + plane * <usize>(order & 3), one = planes + plane * <usize>((order >> 2) & 3), other = planes + plane * <usize>((order >> 4) & 3), frontRow = <usize>(right - left) << 2;
  const across = width >> 1, down = (height + 1) >> 1, coarse = <usize>(across * down) << 2, sumOver = helds + plane, sumHeld = sumOver + coarse, kernel = sumHeld + coarse, line = kernel + 16;
  memory.fill(sumOver, 0, coarse << 1);
  for (let row = 0; row < height; row++) {
    const from = <usize>(row * width), to = <usize>((row >> 1) * across) << 2, shared = row >= frontTop && row < frontBottom;
    readRow(codes + from * 3, width, table, planes, plane, shared ? front + <usize>(row - frontTop) * frontRow : 0, frontPlane, left, right);
    excessRow(m, one, other, weight + (from << 2), near + (from << 2), width, values, overs, helds);
    for (let i: usize = 0; i < plane; i += 8) {
      const cell = sumOver + to + (i >> 1), heldCell = sumHeld + to + (i >> 1);
      store<f32>(cell, load<f32>(cell) + load<f32>(overs + i) + load<f32>(overs + i, 4));
      store<f32>(heldCell, load<f32>(heldCell) + load<f32>(helds + i) + load<f32>(helds + i, 4));
    }
  }
  for (let k: usize = 0; k < 3; k++) store<f32>(kernel + (k << 2), 1.0 / 3.0);
  convolve(sumOver, across, down, 1, kernel, 1, 1, line);
  convolve(sumHeld, across, down, 1, kernel, 1, 1, line);
  const lineHeld = line + (<usize>(across + 8) << 2);
  for (let row = 0; row < height; row++) {
    const from = <usize>(row * width), shared = row >= frontTop && row < frontBottom, own = shared ? front + <usize>(row - frontTop) * frontRow : 0;
    readRow(codes + from * 3, width, table, planes, plane, own, frontPlane, left, right);
    excessRow(m, one, other, weight + (from << 2), near + (from << 2), width, values, overs, helds);
    rowBetween(sumOver, across, down, row, line);
    rowBetween(sumHeld, across, down, row, lineHeld);
    for (let at: usize = 0; at < plane; at += 16) {
      const held = v128.load(helds + at), around = fourOf(lineHeld + (at >> 1)), aroundOver = fourOf(line + (at >> 1));
      const sharp = v128.load(overs + at), calmed = v128.bitselect(f32x4.div(f32x4.mul(held, aroundOver), f32x4.pmax(around, f32x4.splat(1e-12))), sharp, f32x4.gt(around, f32x4.splat(1e-4)));
      // A rim that bleeds is taken by itself at the border: core/picture/matte/despill.ts, BLEEDS.
      const rim = f32x4.pmin(f32x4.pmax(sharp, calmed), f32x4.pmax(calmed, f32x4.sub(f32x4.mul(sharp, f32x4.splat(3)), f32x4.mul(calmed, f32x4.splat(4)))));
      const over = v128.bitselect(rim, calmed, f32x4.gt(v128.load(near + (from << 2) + at), zero)), does = f32x4.gt(over, zero), lanes = i32x4.bitmask(does);
      if (lanes == 0) continue;
      const p = v128.load(one + at), q = v128.load(other + at), fl = f32x4.div(f32x4.mul(v128.and(does, v128.load(weight + (from << 2) + at)), over), share), part = f32x4.div(fl, f32x4.pmax(held, tiny));
      v128.store(m + at, f32x4.pmax(zero, f32x4.add(v128.load(m + at), f32x4.mul(fl, f32x4.sub(v128.load_splat<f32>(values, 28), v128.load_splat<f32>(values, 16))))));
      const sp = f32x4.pmax(zero, f32x4.add(p, f32x4.mul(f32x4.mul(part, p), f32x4.sub(v128.load_splat<f32>(values, 32), v128.load_splat<f32>(values, 20)))));
      const sq = f32x4.pmax(zero, f32x4.add(q, f32x4.mul(f32x4.mul(part, q), f32x4.sub(v128.load_splat<f32>(values, 36), v128.load_splat<f32>(values, 24)))));
      const bleeds = f32x4.div(f32x4.mul(f32x4.mul(f32x4.splat(0.5), v128.load(weight + (from << 2) + at)), f32x4.sub(over, f32x4.pmax(zero, calmed))), f32x4.pmax(over, tiny));
      const bled = v128.and(v128.and(does, f32x4.gt(over, calmed)), bleeds), apart = f32x4.mul(bled, f32x4.sub(sq, sp));
      v128.store(one + at, f32x4.add(sp, apart));
      v128.store(other + at, f32x4.sub(sq, apart));
      for (let k: usize = 0; k < 4; k++) {
        const i = at + (k << 2);
        if (lanes & (1 << <i32>k)) storeCodes(out + (from + (i >> 2)) * 3, load<f32>(planes + i), load<f32>(planes + plane + i), load<f32>(planes + (plane << 1) + i), encode);
      }
    }
    if (own) for (let c: usize = 0; c < 3; c++) memory.copy(own + c * frontPlane, planes + c * plane + (<usize>left << 2), frontRow);
  }
}

/** A row between the coarse rows around it, with its ends repeated on both sides: entry 1 is the first. */
function rowBetween(plane: usize, across: i32, down: i32, row: i32, line: usize): void {
  let y: f32 = (<f32>row + 0.5) * 0.5 - 0.5;
  y = y < 0 ? 0 : y > <f32>(down - 1) ? <f32>(down - 1) : y;
  const iy = <i32>y, fy: f32 = y - <f32>iy, a = plane + (<usize>(iy * across) << 2), b = iy < down - 1 ? a + (<usize>across << 2) : a;
  const part = f32x4.splat(fy);
  for (let i: usize = 0; i < <usize>across << 2; i += 16) {
    const top = v128.load(a + i);
    v128.store(line + i, f32x4.add(top, f32x4.mul(part, f32x4.sub(v128.load(b + i), top))), 4);
  }
  store<f32>(line, load<f32>(line, 4));
  store<f32>(line + (<usize>across << 2), load<f32>(line + (<usize>across << 2)), 4);
}

/** Four pixels of two blocks, from the entry before the first of them on. */
// @ts-ignore: a decorator of the compiler
@inline
function fourOf(line: usize): v128 {
  const l = v128.load(line), near = v128.shuffle<f32>(l, l, 1, 1, 2, 2), far = v128.shuffle<f32>(l, l, 0, 2, 1, 3);
  return f32x4.add(f32x4.mul(near, f32x4.splat(0.75)), f32x4.mul(far, f32x4.splat(0.25)));
}
