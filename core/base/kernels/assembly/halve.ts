/**
 * Half the size of four channels, in both directions rounded up; the twin of `halveLight` in ../../composite/halve-light.ts. `weights`: six, of the nearest,
 * second, … sample on either side. `scratch` takes a ring of twelve lines of the halved width.
 */
export function halve(from: usize, width: i32, height: i32, weights: usize, to: usize, scratch: usize): void {
  const across = (width + 1) >> 1, down = (height + 1) >> 1, line = <usize>across << 4;
  let ready = 0;
  for (let row = 0; row < down; row++) {
    for (const need = min(height, 2 * row + 7); ready < need; ready++) halveRow(from + (<usize>(ready * width) << 4), width, across, weights, scratch + <usize>(ready % 12) * line);
    const out = to + <usize>row * line;
    for (let i: usize = 0; i < line; i += 16) v128.store(out + i, f32x4.splat(0));
    for (let k = 0; k < 6; k++) {
      const weight = v128.load_splat<f32>(weights + (<usize>k << 2)), a = scratch + <usize>(max(0, 2 * row - k) % 12) * line, b = scratch + <usize>(min(height - 1, 2 * row + 1 + k) % 12) * line;
      for (let i: usize = 0; i < line; i += 16) v128.store(out + i, f32x4.add(v128.load(out + i), f32x4.mul(weight, f32x4.add(v128.load(a + i), v128.load(b + i)))));
    }
  }
}

function halveRow(from: usize, width: i32, across: i32, weights: usize, to: usize): void {
  for (let i = 0; i < across; i++) {
    let sum = f32x4.splat(0);
    if (2 * i >= 5 && 2 * i + 6 < width) {
      const a = from + (<usize>(2 * i) << 4);
      for (let k: usize = 0; k < 6; k++) sum = f32x4.add(sum, f32x4.mul(v128.load_splat<f32>(weights + (k << 2)), f32x4.add(v128.load(a - (k << 4)), v128.load(a + ((k + 1) << 4)))));
    } else {
      for (let k = 0; k < 6; k++) {
        const a = from + (<usize>max(0, 2 * i - k) << 4), b = from + (<usize>min(width - 1, 2 * i + 1 + k) << 4);
        sum = f32x4.add(sum, f32x4.mul(v128.load_splat<f32>(weights + (<usize>k << 2)), f32x4.add(v128.load(a), v128.load(b))));
      }
    }
    v128.store(to + (<usize>i << 4), sum);
  }
}
