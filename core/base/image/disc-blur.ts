/** Places within a pixel, to each side, at which a disc's share of it is computed. */
const FINE = 16;

/** A disc's kernel row by row: whole pixels in the middle of a row, and partly covered ones to both sides. */
interface DiscRow {
  /** Pixels to each side of the middle that are covered whole; −1 where not even the middle one is. */
  readonly whole: number;
  /** Shares of the pixels beyond them, the nearest first. */
  readonly partly: readonly number[];
}

/** The rows 0…r of an evenly lit disc of `radius` px about a pixel's centre, and the sum of all. */
function discRows(radius: number): { rows: DiscRow[]; total: number } {
  const reach = Math.ceil(radius + 0.5);
  const rows: DiscRow[] = [];
  let total = 0;
  for (let y = 0; y <= reach; y++) {
    const shares = Array.from({ length: reach + 1 }, (_, x) => discShare(x, y, radius));
    const whole = shares.findIndex((s) => s < 1) - 1;
    const partly = shares.slice(whole + 1).filter((s) => s > 0);
    if (whole < 0 && partly.length === 0) break;
    const sum = (whole >= 0 ? 2 * whole + 1 : 0) + partly.reduce((a, s, k) => a + (whole + 1 + k === 0 ? s : 2 * s), 0);
    total += y === 0 ? sum : 2 * sum;
    rows.push({ whole, partly });
  }
  return { rows, total };
}

/** What of the pixel (x, y) away from the middle a disc covers, 0…1. */
export function discShare(x: number, y: number, radius: number): number {
  const far = Math.hypot(x + 0.5, y + 0.5);
  const near = Math.hypot(Math.max(0, x - 0.5), Math.max(0, y - 0.5));
  if (far <= radius) return 1;
  if (near >= radius) return 0;
  let inside = 0;
  for (let j = 0; j < FINE; j++) {
    for (let i = 0; i < FINE; i++)
      if (Math.hypot(x + (i + 0.5) / FINE - 0.5, y + (j + 0.5) / FINE - 0.5) <= radius) inside++;
  }
  return inside / (FINE * FINE);
}

/**
 * Interleaved samples averaged over a disc of `radius` px, as a lens spreads a point that is out of focus; beyond the border everything is
 * zero. The work grows with the radius and not with its square: whole runs of a row are taken from sums along it.
 */
export function discBlur(
  data: Float32Array,
  width: number,
  height: number,
  channels: number,
  radius: number,
): Float32Array {
  if (!(radius >= 0) || !Number.isFinite(radius))
    throw new RangeError(`the radius must be a number of pixels ≥ 0, got ${radius}`);
  if (radius < 0.05) return data.slice();
  const { rows, total } = discRows(radius);
  const out = new Float32Array(data.length);
  const sums = new Float64Array((width + 1) * channels);
  const line = new Float32Array(width * channels);
  for (let row = 0; row < height; row++) {
    const from = row * width * channels;
    let empty = true;
    for (let i = 0; i < width * channels; i++) {
      const v = data[from + i]!;
      if (v !== 0) empty = false;
      sums[i + channels] = sums[i]! + v;
    }
    if (empty) continue;
    for (let y = 0; y < rows.length; y++) {
      spreadRow(rows[y]!, data, from, sums, width, channels, line);
      for (const to of y === 0 ? [row] : [row - y, row + y]) {
        if (to < 0 || to >= height) continue;
        const at = to * width * channels;
        for (let i = 0; i < line.length; i++) out[at + i]! += line[i]! / total;
      }
    }
  }
  return out;
}

function spreadRow(
  { whole, partly }: DiscRow,
  data: Float32Array,
  from: number,
  sums: Float64Array,
  width: number,
  channels: number,
  line: Float32Array,
): void {
  for (let col = 0; col < width; col++) {
    const first = Math.max(0, col - whole);
    const end = Math.min(width, col + whole + 1);
    for (let c = 0; c < channels; c++)
      line[col * channels + c] = whole < 0 ? 0 : sums[end * channels + c]! - sums[first * channels + c]!;
    partly.forEach((share, k) => {
      const away = whole + 1 + k;
      for (const at of away === 0 ? [col] : [col - away, col + away]) {
        if (at < 0 || at >= width) continue;
        for (let c = 0; c < channels; c++) line[col * channels + c]! += share * data[from + at * channels + c]!;
      }
    });
  }
}
