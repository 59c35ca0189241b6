/** Value, both derivatives and permission of every sample of a rectangle; the twin of `texels` in ../plain-texels.ts. */
export function texels(value: usize, width: i32, height: i32, mask: usize, maskWidth: i32, level: i32, left: i32, top: i32, right: i32, bottom: i32, out: usize): void {
  for (let row = top; row < bottom; row++) {
    const up = row > 0 ? width : 0, down = row < height - 1 ? width : 0;
    const vertical: f32 = up != 0 && down != 0 ? 0.5 : 1;
    const line = value + (<usize>(row * width) << 2), above = line - (<usize>up << 2), below = line + (<usize>down << 2);
    for (let col = left; col < right; col++) {
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
