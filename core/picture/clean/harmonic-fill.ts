/** Over-relaxation, rounds, and what a value may still change by when all is settled, in units of the values. */
const MOST_ROUNDS = 400;
const SETTLED = 1e-6;

/**
 * Fills what is unknown of a plane (`known` 0) so that it is as smooth as what surrounds it allows: the solution of Laplace's equation with the known values as
 * its border; at the picture's own border nothing flows. In place. Values that no known one is connected to stay as they are.
 *
 * Source: P. Pérez, M. Gangnet, A. Blake, Poisson image editing, SIGGRAPH 2003, §2 (no guidance field); solved by successive over-relaxation from coarse to
 * fine (D. Young, Iterative Solution of Large Linear Systems, 1971, ch. 6).
 */
export function harmonicFill(values: Float32Array, known: Uint8Array, width: number, height: number): void {
  if (values.length !== width * height || known.length !== values.length)
    throw new RangeError(`${values.length} values, ${known.length} marks for ${width}×${height}`);
  const unknown: number[] = [];
  for (let i = 0; i < known.length; i++) if (known[i] === 0) unknown.push(i);
  if (unknown.length === 0 || unknown.length === known.length) return;
  if (width > 8 && height > 8) startFromCoarser(values, known, width, height);
  else startFromMean(values, known);
  let across = 1;
  for (let left = width, right = 0, k = 0; k < unknown.length; k++) {
    const col = unknown[k]! % width;
    left = Math.min(left, col);
    right = Math.max(right, col);
    across = Math.max(across, right - left + 1);
  }
  const omega = 2 / (1 + Math.sin(Math.PI / (Math.min(across, unknown.length / Math.max(1, across)) + 2)));
  for (let round = 0; round < MOST_ROUNDS; round++) {
    let most = 0;
    for (const i of unknown) {
      const col = i % width;
      let sum = 0;
      let n = 0;
      if (col > 0) {
        sum += values[i - 1]!;
        n++;
      }
      if (col < width - 1) {
        sum += values[i + 1]!;
        n++;
      }
      if (i >= width) {
        sum += values[i - width]!;
        n++;
      }
      if (i < values.length - width) {
        sum += values[i + width]!;
        n++;
      }
      const change = sum / n - values[i]!;
      values[i]! += omega * change;
      if (change > most || -change > most) most = Math.abs(change);
    }
    if (most < SETTLED) break;
  }
}

/** The unknown begin as the solution at half the size. */
function startFromCoarser(values: Float32Array, known: Uint8Array, width: number, height: number): void {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  const small = new Float32Array(w * h);
  const there = new Uint8Array(w * h);
  for (let row = 0; row < h; row++)
    for (let col = 0; col < w; col++) {
      let sum = 0;
      let n = 0;
      for (let dy = 0; dy < 2; dy++)
        for (let dx = 0; dx < 2; dx++) {
          const x = 2 * col + dx;
          const y = 2 * row + dy;
          const i = y * width + x;
          if (x < width && y < height && known[i] === 1) {
            sum += values[i]!;
            n++;
          }
        }
      if (n === 0) continue;
      small[row * w + col] = sum / n;
      there[row * w + col] = 1;
    }
  harmonicFill(small, there, w, h);
  for (let i = 0; i < known.length; i++) {
    if (known[i] === 1) continue;
    // Between the coarse places, which lie over the middles of two by two.
    const x = Math.max(0, Math.min(w - 1, ((i % width) - 0.5) / 2));
    const y = Math.max(0, Math.min(h - 1, (Math.floor(i / width) - 0.5) / 2));
    const x0 = Math.min(Math.floor(x), w - 2 < 0 ? 0 : w - 2);
    const y0 = Math.min(Math.floor(y), h - 2 < 0 ? 0 : h - 2);
    const fx = x - x0;
    const fy = y - y0;
    const k = y0 * w + x0;
    const right = w > 1 ? 1 : 0;
    const down = h > 1 ? w : 0;
    values[i] =
      (1 - fy) * ((1 - fx) * small[k]! + fx * small[k + right]!) +
      fy * ((1 - fx) * small[k + down]! + fx * small[k + down + right]!);
  }
}

function startFromMean(values: Float32Array, known: Uint8Array): void {
  let sum = 0;
  let n = 0;
  for (let i = 0; i < known.length; i++)
    if (known[i] === 1) {
      sum += values[i]!;
      n++;
    }
  for (let i = 0; i < known.length; i++) if (known[i] === 0) values[i] = sum / n;
}
