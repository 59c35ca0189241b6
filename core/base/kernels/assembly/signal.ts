/** Rows first…last of the 1-2-1 smoothed signal of luma codes; the twin of `signal` in ../plain-signal.ts. */
export function signal8(first: i32, last: i32, codes: usize, width: i32, height: i32, table: usize, ownRows: usize, out: usize): void {
  for (let row = max(0, first - 1); row < last + 1; row++) {
    if (row < height) lookUpRow8(codes + <usize>(row * width), width, table, rowAt(ownRows, row, width));
    if (row > first) blendRows(ownRows, row - 1, width, height, out);
  }
}

export function signal16(first: i32, last: i32, codes: usize, width: i32, height: i32, table: usize, ownRows: usize, out: usize): void {
  for (let row = max(0, first - 1); row < last + 1; row++) {
    if (row < height) lookUpRow16(codes + <usize>(row * width * 2), width, table, rowAt(ownRows, row, width));
    if (row > first) blendRows(ownRows, row - 1, width, height, out);
  }
}

/** Three rows, smoothed across, take turns; a fourth holds the raw signal of the row in work. */
// @ts-ignore: decorator
@inline function rowAt(rows: usize, row: i32, width: i32): usize {
  return rows + <usize>((row % 3) * width * 4);
}

function lookUpRow8(codes: usize, width: i32, table: usize, across: usize): void {
  let before = load<f32>(table + (<usize>load<u8>(codes) << 2)), here = before;
  for (let col = 0; col < width; col++) {
    const after = col < width - 1 ? load<f32>(table + (<usize>load<u8>(codes + col + 1) << 2)) : here;
    store<f32>(across + (<usize>col << 2), (before + 2 * here + after) * 0.25);
    before = here;
    here = after;
  }
}

function lookUpRow16(codes: usize, width: i32, table: usize, across: usize): void {
  let before = load<f32>(table + (<usize>load<u16>(codes) << 2)), here = before;
  for (let col = 0; col < width; col++) {
    const after = col < width - 1 ? load<f32>(table + (<usize>load<u16>(codes + ((col + 1) << 1)) << 2)) : here;
    store<f32>(across + (<usize>col << 2), (before + 2 * here + after) * 0.25);
    before = here;
    here = after;
  }
}

function blendRows(rows: usize, row: i32, width: i32, height: i32, out: usize): void {
  const above = rowAt(rows, max(0, row - 1), width), here = rowAt(rows, row, width), below = rowAt(rows, min(height - 1, row + 1), width);
  const to = out + (<usize>(row * width) << 2);
  let col = 0;
  for (; col + 4 <= width; col += 4) {
    const at = <usize>col << 2;
    const sum = f32x4.add(f32x4.add(v128.load(above + at), v128.load(below + at)), f32x4.mul(v128.load(here + at), f32x4.splat(2)));
    v128.store(to + at, f32x4.sqrt(f32x4.mul(sum, f32x4.splat(0.25))));
  }
  for (; col < width; col++) {
    const at = <usize>col << 2;
    store<f32>(to + at, sqrt<f32>((load<f32>(above + at) + 2 * load<f32>(here + at) + load<f32>(below + at)) * 0.25));
  }
}
