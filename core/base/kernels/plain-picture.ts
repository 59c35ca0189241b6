import type { SampleRect } from './kernel-set.ts';

/** Reflects an index about the outermost samples: −1 → 1, n → n − 2. */
function reflect(i: number, n: number): number {
  if (n === 1) return 0;
  if (i < 0) return Math.min(n - 1, -i);
  if (i >= n) return Math.max(0, 2 * n - 2 - i);
  return i;
}

export function signal(
  codes: Uint8Array | Uint16Array,
  width: number,
  height: number,
  table: Float32Array,
  out: Float32Array,
): void {
  const across = new Float32Array(width * height);
  for (let row = 0; row < height; row++) {
    const base = row * width;
    let before = table[codes[base]!]!;
    let here = before;
    for (let col = 0; col < width; col++) {
      const after = col < width - 1 ? table[codes[base + col + 1]!]! : here;
      across[base + col] = (before + 2 * here + after) * 0.25;
      before = here;
      here = after;
    }
  }
  for (let row = 0; row < height; row++) {
    const up = row > 0 ? -width : 0;
    const down = row < height - 1 ? width : 0;
    for (let at = row * width; at < (row + 1) * width; at++)
      out[at] = Math.sqrt((across[at + up]! + 2 * across[at]! + across[at + down]!) * 0.25);
  }
}

export function pyramidDown(data: Float32Array, width: number, height: number, to: Float32Array): void {
  const columns = (width + 1) >> 1;
  const rows = (height + 1) >> 1;
  const across = new Float32Array(columns * height);
  for (let row = 0; row < height; row++) {
    const base = row * width;
    for (let i = 0; i < columns; i++) {
      const c = 2 * i;
      let a = c - 2;
      let b = c - 1;
      let d = c + 1;
      let e = c + 2;
      if (a < 0 || e >= width) {
        a = reflect(a, width);
        b = reflect(b, width);
        d = reflect(d, width);
        e = reflect(e, width);
      }
      across[row * columns + i] =
        (data[base + a]! + data[base + e]! + 4 * (data[base + b]! + data[base + d]!) + 6 * data[base + c]!) * 0.0625;
    }
  }
  for (let j = 0; j < rows; j++) {
    const c = 2 * j * columns;
    const a = reflect(2 * j - 2, height) * columns;
    const b = reflect(2 * j - 1, height) * columns;
    const d = reflect(2 * j + 1, height) * columns;
    const e = reflect(2 * j + 2, height) * columns;
    for (let i = 0; i < columns; i++) {
      to[j * columns + i] =
        (across[a + i]! + across[e + i]! + 4 * (across[b + i]! + across[d + i]!) + 6 * across[c + i]!) * 0.0625;
    }
  }
}

export function texels(
  value: Float32Array,
  width: number,
  height: number,
  mask: Uint8Array | null,
  maskWidth: number,
  level: number,
  rect: SampleRect,
  out: Float32Array,
): void {
  for (let row = rect.top; row < rect.bottom; row++) {
    const up = row > 0 ? width : 0;
    const down = row < height - 1 ? width : 0;
    const vertical = up !== 0 && down !== 0 ? 0.5 : 1;
    for (let col = rect.left; col < rect.right; col++) {
      const at = row * width + col;
      const to = at * 4;
      const before = col > 0 ? 1 : 0;
      const after = col < width - 1 ? 1 : 0;
      out[to] = value[at]!;
      out[to + 1] = (value[at + after]! - value[at - before]!) * (before === 1 && after === 1 ? 0.5 : 1);
      out[to + 2] = (value[at + down]! - value[at - up]!) * vertical;
      out[to + 3] = mask ? mask[(row << level) * maskWidth + (col << level)]! : 1;
    }
  }
}
