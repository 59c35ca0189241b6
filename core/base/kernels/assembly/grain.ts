/**
 * Noise of unit variance over a part of the picture; the twin of `grainField` in ../../blend/grain-field.ts. `across` and `down`: weights of 2·rx + 1 and
 * 2·ry + 1 taps. `white` takes (width + 2·rx + 4) · (height + 2·ry) numbers, `lines` (width + 4) · (height + 2·ry), `out` (width + 4) · height; rows of all
 * are padded to whole vectors, those of `out` to `stride` numbers.
 */
export function grainField(left: i32, top: i32, width: i32, height: i32, stride: i32, across: usize, rx: i32, down: usize, ry: i32, seed: i32, white: usize, lines: usize, out: usize): void {
  const wide = (width + 2 * rx + 3) & ~3, high = height + 2 * ry, lane = i32x4(0, 1, 2, 3), seeded = seed * 0xc2b2ae3d;
  for (let row = 0; row < high; row++) {
    const own = i32x4.splat(((top + row - ry) * 0x85ebca77) ^ seeded);
    for (let col = 0; col < wide; col += 4) {
      const x = i32x4.add(i32x4.splat(left + col - rx), lane);
      v128.store(white + (<usize>(row * wide + col) << 2), normals(v128.xor(i32x4.mul(x, i32x4.splat(0x9e3779b1)), own)));
    }
  }
  for (let row = 0; row < high; row++) {
    for (let col = 0; col < stride; col += 4) {
      let sum = f32x4.splat(0);
      const from = white + (<usize>(row * wide + col) << 2);
      for (let k = 0; k <= 2 * rx; k++) sum = f32x4.add(sum, f32x4.mul(v128.load_splat<f32>(across + (<usize>k << 2)), v128.load(from + (<usize>k << 2))));
      v128.store(lines + (<usize>(row * stride + col) << 2), sum);
    }
  }
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < stride; col += 4) {
      let sum = f32x4.splat(0);
      const at = <usize>(row * stride + col) << 2;
      for (let k = 0; k <= 2 * ry; k++) sum = f32x4.add(sum, f32x4.mul(v128.load_splat<f32>(down + (<usize>k << 2)), v128.load(lines + at + (<usize>(k * stride) << 2))));
      v128.store(out + at, sum);
    }
  }
}

/** Four sums of twelve bytes of hashes, of mean 0 and variance 1. */
// @ts-ignore: decorator
@inline function normals(start: v128): v128 {
  const pairs = i32x4.splat(0x00ff00ff);
  let h = start, sum = i32x4.splat(0);
  for (let k = 0; k < 3; k++) {
    h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 16)), i32x4.splat(0x85ebca6b));
    h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 13)), i32x4.splat(0xc2b2ae35));
    h = v128.xor(h, i32x4.shr_u(h, 16));
    const two = i32x4.add(v128.and(h, pairs), v128.and(i32x4.shr_u(h, 8), pairs));
    sum = i32x4.add(sum, i32x4.add(v128.and(two, i32x4.splat(0xffff)), i32x4.shr_u(two, 16)));
    h = i32x4.add(h, i32x4.splat(0x6d2b79f5));
  }
  return f32x4.div(f32x4.convert_i32x4_s(i32x4.sub(sum, i32x4.splat(1530))), f32x4.splat(256));
}

/**
 * Lays three fields on 8-bit codes; the twin of `layGrain` in ../../blend/lay-grain.ts. `fields`: three of `plane` bytes and, where `shared` is not 0, one
 * common to the channels behind them. `tables`: what grain has of a code's whole at each level, `levels` + 1 of each channel.
 */
export function layGrain(codes: usize, shown: usize, width: i32, height: i32, stride: i32, fields: usize, plane: usize, own: f32, shared: f32, tables: usize, levels: i32): void {
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) {
      const i = row * width + col, share = load<f32>(shown + (<usize>i << 2));
      if (share <= 0) continue;
      const part = sqrt<f32>(share * (2 - share)), at = fields + (<usize>(row * stride + col) << 2), common: f32 = shared != 0 ? shared * load<f32>(at + 3 * plane) : 0;
      for (let c = 0; c < 3; c++) {
        const place = codes + <usize>(3 * i + c), code = <i32>load<u8>(place), level = (code * levels) / 255;
        const n = own * load<f32>(at + <usize>c * plane) + common;
        const noisy = <f32>code + 255 * part * n * load<f32>(tables + (<usize>(c * (levels + 1) + level) << 2));
        store<u8>(place, <u8>max(0, min(255, <i32>floor(noisy + 0.5))));
      }
    }
  }
}
