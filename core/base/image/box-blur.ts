/**
 * Mean over (2·radius + 1)² samples about each, the border repeated; running sums, so that its cost does not grow with the radius. Two in a row are near a
 * gaussian of σ² = 2·radius·(radius + 1)/3.
 */
export function boxBlur(data: Float32Array, width: number, height: number, radius: number): Float32Array {
  const size = 2 * radius + 1;
  const across = new Float32Array(data.length);
  const out = new Float32Array(data.length);
  const sums = new Float64Array(width);
  for (let row = 0; row < height; row++) {
    const base = row * width;
    const last = base + width - 1;
    let sum = data[base]! * (radius + 1);
    for (let i = 1; i <= radius; i++) sum += data[Math.min(base + i, last)]!;
    for (let at = base, ahead = base + radius + 1, behind = base - radius; at <= last; at++, ahead++, behind++) {
      across[at] = sum / size;
      sum += data[ahead > last ? last : ahead]! - data[behind < base ? base : behind]!;
    }
  }
  for (let col = 0; col < width; col++) sums[col] = across[col]! * (radius + 1);
  for (let row = 1; row <= radius; row++)
    for (let col = 0, at = Math.min(row, height - 1) * width; col < width; col++, at++) sums[col]! += across[at]!;
  for (let row = 0; row < height; row++) {
    const ahead = Math.min(row + radius + 1, height - 1) * width;
    const behind = Math.max(row - radius, 0) * width;
    const to = row * width;
    for (let col = 0; col < width; col++) {
      out[to + col] = sums[col]! / size;
      sums[col]! += across[ahead + col]! - across[behind + col]!;
    }
  }
  return out;
}
