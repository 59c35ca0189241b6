/** Value, both derivatives and permission of every sample of rows first…last of a rectangle; the twin of `texels` in ../plain-texels.ts. */
export function texels(first: i32, last: i32, value: usize, width: i32, height: i32, mask: usize, maskWidth: i32, level: i32, left: i32, top: i32, right: i32, out: usize): void {
  for (let row = top + first; row < top + last; row++) {
    const up = row > 0 ? width : 0, down = row < height - 1 ? width : 0;
    const vertical: f32 = up != 0 && down != 0 ? 0.5 : 1;
    const line = value + (<usize>(row * width) << 2), above = line - (<usize>up << 2), below = line + (<usize>down << 2);
    let from = left;
    // Four at a time away from the borders.
    for (; from > 0 && from + 4 < width && from + 4 <= right; from += 4) {
      const at = <usize>from << 2, to = out + (<usize>(row * width + from) << 4);
      const v = v128.load(line + at), x = f32x4.mul(f32x4.sub(v128.load(line + at, 4), v128.load(line + at - 4)), f32x4.splat(0.5));
      const y = f32x4.mul(f32x4.sub(v128.load(below + at), v128.load(above + at)), f32x4.splat(vertical));
      let p = f32x4.splat(1);
      if (mask != 0) {
        const own = mask + <usize>((row << level) * maskWidth);
        p = f32x4(load<u8>(own + (from << level)), load<u8>(own + ((from + 1) << level)), load<u8>(own + ((from + 2) << level)), load<u8>(own + ((from + 3) << level)));
      }
      // Four channels to four texels.
      const a = i8x16.shuffle(v, x, 0, 1, 2, 3, 16, 17, 18, 19, 4, 5, 6, 7, 20, 21, 22, 23), b = i8x16.shuffle(v, x, 8, 9, 10, 11, 24, 25, 26, 27, 12, 13, 14, 15, 28, 29, 30, 31);
      const c = i8x16.shuffle(y, p, 0, 1, 2, 3, 16, 17, 18, 19, 4, 5, 6, 7, 20, 21, 22, 23), d = i8x16.shuffle(y, p, 8, 9, 10, 11, 24, 25, 26, 27, 12, 13, 14, 15, 28, 29, 30, 31);
      v128.store(to, i8x16.shuffle(a, c, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 20, 21, 22, 23));
      v128.store(to, i8x16.shuffle(a, c, 8, 9, 10, 11, 12, 13, 14, 15, 24, 25, 26, 27, 28, 29, 30, 31), 16);
      v128.store(to, i8x16.shuffle(b, d, 0, 1, 2, 3, 4, 5, 6, 7, 16, 17, 18, 19, 20, 21, 22, 23), 32);
      v128.store(to, i8x16.shuffle(b, d, 8, 9, 10, 11, 12, 13, 14, 15, 24, 25, 26, 27, 28, 29, 30, 31), 48);
    }
    for (let col = from; col < right; col++) {
      const at = <usize>col << 2;
      const before = col > 0 ? at - 4 : at, after = col < width - 1 ? at + 4 : at;
      const horizontal: f32 = col > 0 && col < width - 1 ? 0.5 : 1;
      const to = out + (<usize>(row * width + col) << 4);
      store<f32>(to, load<f32>(line + at));
      store<f32>(to, (load<f32>(line + after) - load<f32>(line + before)) * horizontal, 4);
      store<f32>(to, (load<f32>(below + at) - load<f32>(above + at)) * vertical, 8);
      store<f32>(to, mask == 0 ? 1 : <f32>load<u8>(mask + <usize>((row << level) * maskWidth + (col << level))), 12);
    }
  }
}
