/** Rows first…last of half the size after 1-4-6-4-1 in both directions, borders reflected; the twin of `pyramidDown` in ../plain-pyramid.ts. */
export function pyramidDown(first: i32, last: i32, from: usize, width: i32, height: i32, ownColumn: usize, to: usize): void {
  const columns = (width + 1) >> 1;
  for (let j = first; j < last; j++) {
    smoothDown(from, width, height, 2 * j, ownColumn);
    smoothAcross(ownColumn, width, columns, to + (<usize>(j * columns) << 2));
  }
}

// @ts-ignore: decorator
@inline function reflect(i: i32, n: i32): i32 {
  if (n == 1) return 0;
  if (i < 0) return min(n - 1, -i);
  return i >= n ? max(0, 2 * n - 2 - i) : i;
}

/** One row of the picture smoothed vertically about row `c`. */
function smoothDown(from: usize, width: i32, height: i32, c: i32, column: usize): void {
  const a = from + (<usize>(reflect(c - 2, height) * width) << 2), b = from + (<usize>(reflect(c - 1, height) * width) << 2);
  const m = from + (<usize>(c * width) << 2);
  const d = from + (<usize>(reflect(c + 1, height) * width) << 2), e = from + (<usize>(reflect(c + 2, height) * width) << 2);
  let i = 0;
  for (; i + 4 <= width; i += 4) {
    const at = <usize>i << 2;
    const outer = f32x4.add(v128.load(a + at), v128.load(e + at));
    const inner = f32x4.mul(f32x4.add(v128.load(b + at), v128.load(d + at)), f32x4.splat(4));
    v128.store(column + at, f32x4.mul(f32x4.add(f32x4.add(outer, inner), f32x4.mul(v128.load(m + at), f32x4.splat(6))), f32x4.splat(0.0625)));
  }
  for (; i < width; i++) {
    const at = <usize>i << 2;
    store<f32>(column + at, (load<f32>(a + at) + load<f32>(e + at) + 4 * (load<f32>(b + at) + load<f32>(d + at)) + 6 * load<f32>(m + at)) * 0.0625);
  }
}

function smoothAcross(column: usize, width: i32, columns: i32, to: usize): void {
  let from = 0;
  if (columns > 0) {
    storeAcross(column, width, 0, to);
    from = 1;
  }
  // Four at a time where all that is looked at is inside.
  for (; from + 4 <= columns && 2 * from + 10 <= width; from += 4) {
    const at = column + (<usize>from << 3), a = v128.load(at - 8), b = v128.load(at, 8), c = v128.load(at, 24);
    const left = i8x16.shuffle(a, b, 0, 1, 2, 3, 8, 9, 10, 11, 16, 17, 18, 19, 24, 25, 26, 27), right = i8x16.shuffle(b, c, 0, 1, 2, 3, 8, 9, 10, 11, 16, 17, 18, 19, 24, 25, 26, 27);
    const middle = i8x16.shuffle(left, right, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 24, 25, 26, 27);
    const before = i8x16.shuffle(a, b, 4, 5, 6, 7, 12, 13, 14, 15, 20, 21, 22, 23, 28, 29, 30, 31), after = i8x16.shuffle(before, c, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 20, 21, 22, 23);
    const sum = f32x4.add(f32x4.add(f32x4.add(left, right), f32x4.mul(f32x4.splat(4), f32x4.add(before, after))), f32x4.mul(f32x4.splat(6), middle));
    v128.store(to + (<usize>from << 2), f32x4.mul(sum, f32x4.splat(0.0625)));
  }
  for (let i = from; i < columns; i++) storeAcross(column, width, i, to);
}

// @ts-ignore: decorator
@inline function storeAcross(column: usize, width: i32, i: i32, to: usize): void {
  const c = 2 * i;
  let sum: f32;
  if (c >= 2 && c + 2 < width) {
    const at = column + (<usize>c << 2);
    sum = load<f32>(at - 8) + load<f32>(at, 8) + 4 * (load<f32>(at - 4) + load<f32>(at, 4)) + 6 * load<f32>(at);
  } else {
    sum = sampleAt(column, c - 2, width) + sampleAt(column, c + 2, width) + 4 * (sampleAt(column, c - 1, width) + sampleAt(column, c + 1, width)) + 6 * sampleAt(column, c, width);
  }
  store<f32>(to + (<usize>i << 2), sum * 0.0625);
}

// @ts-ignore: decorator
@inline function sampleAt(column: usize, i: i32, width: i32): f32 {
  return load<f32>(column + (<usize>reflect(i, width) << 2));
}
