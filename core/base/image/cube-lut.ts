import { Problem } from '../problem/problem.ts';

/** A table over colour codes, as `.cube` files hold it. */
export interface CubeLut {
  readonly title: string;
  /** Writes what red, green, blue become into `out`; beyond the table's domain its border holds. */
  apply(r: number, g: number, b: number, out: [number, number, number]): void;
}

const LARGEST = { one: 65536, three: 129 };

/**
 * Reads a `.cube` text: `LUT_1D_SIZE n` or `LUT_3D_SIZE n`, optional `TITLE`, `DOMAIN_MIN`, `DOMAIN_MAX`, then a
 * line of three numbers an entry, red changing fastest. Three-dimensional tables are read by tetrahedral
 * interpolation (J. Kasson et al., "Performing color space conversions with three-dimensional linear
 * interpolation", J. Electronic Imaging 4(3), 1995). A Problem names the line that is wrong.
 */
export function parseCube(text: string, name: string): CubeLut {
  const fail = (why: string): never => {
    throw new Problem('bad-lut', { file: name, why });
  };
  let title = '';
  let oneSize = 0;
  let threeSize = 0;
  let low: number[] = [0, 0, 0];
  let high: number[] = [1, 1, 1];
  const values: number[] = [];
  text.split(/\r?\n/).forEach((raw, index) => {
    const line = raw.replace(/#.*/, '').trim();
    if (line === '') return;
    const [word, ...rest] = line.split(/\s+/);
    const numbers = () => {
      const list = rest.map(Number);
      if (list.length === 0 || list.some((v) => !Number.isFinite(v))) fail(`line ${index + 1} is not understood`);
      return list;
    };
    switch (word) {
      case 'TITLE':
        title = line.slice(5).trim().replace(/^"|"$/g, '');
        return;
      case 'LUT_1D_SIZE':
        oneSize = numbers()[0]!;
        return;
      case 'LUT_3D_SIZE':
        threeSize = numbers()[0]!;
        return;
      case 'DOMAIN_MIN':
        low = numbers();
        return;
      case 'DOMAIN_MAX':
        high = numbers();
        return;
      case 'LUT_1D_INPUT_RANGE':
      case 'LUT_3D_INPUT_RANGE':
        [low, high] = [0, 1].map((i) => Array.from({ length: 3 }, () => numbers()[i]!)) as [number[], number[]];
        return;
    }
    const entry = line.split(/\s+/).map(Number);
    if (entry.length !== 3 || entry.some((v) => !Number.isFinite(v))) fail(`line ${index + 1} is not three numbers`);
    values.push(...entry);
    if (values.length > 3 * LARGEST.three ** 3) fail('it has too many entries');
  });
  const size = threeSize || oneSize;
  if (!size || (oneSize && threeSize)) fail('it states no size (LUT_1D_SIZE or LUT_3D_SIZE)');
  if (!Number.isInteger(size) || size < 2 || size > (threeSize ? LARGEST.three : LARGEST.one))
    fail(`its size ${size} is out of range`);
  const wanted = 3 * (threeSize ? size ** 3 : size);
  if (values.length !== wanted) fail(`it has ${values.length / 3} entries instead of ${wanted / 3}`);
  if (low.length !== 3 || high.length !== 3 || low.some((v, i) => !(v < high[i]!))) fail('its domain is empty');
  const table = Float32Array.from(values);
  const place = (value: number, c: number) => {
    const t = ((value - low[c]!) / (high[c]! - low[c]!)) * (size - 1);
    return t > 0 ? (t < size - 1 ? t : size - 1) : 0;
  };
  const apply: CubeLut['apply'] = threeSize
    ? (r, g, b, out) => tetrahedral(table, size, place(r, 0), place(g, 1), place(b, 2), out)
    : (r, g, b, out) => {
        [r, g, b].forEach((value, c) => {
          const t = place(value, c);
          const i = Math.min(size - 2, Math.floor(t));
          out[c] = table[i * 3 + c]! + (table[(i + 1) * 3 + c]! - table[i * 3 + c]!) * (t - i);
        });
      };
  return { title, apply };
}

function tetrahedral(
  table: Float32Array,
  size: number,
  r: number,
  g: number,
  b: number,
  out: [number, number, number],
): void {
  const ri = Math.min(size - 2, r | 0);
  const gi = Math.min(size - 2, g | 0);
  const bi = Math.min(size - 2, b | 0);
  const fr = r - ri;
  const fg = g - gi;
  const fb = b - bi;
  const dr = 3;
  const dg = 3 * size;
  const db = 3 * size * size;
  const base = ri * dr + gi * dg + bi * db;
  const far = base + dr + dg + db;
  // The cell's corners are visited in the order of the falling fractions.
  let first: number, second: number, big: number, middle: number, small: number;
  if (fr >= fg) {
    if (fg >= fb) [first, second, big, middle, small] = [dr, dr + dg, fr, fg, fb];
    else if (fr >= fb) [first, second, big, middle, small] = [dr, dr + db, fr, fb, fg];
    else [first, second, big, middle, small] = [db, db + dr, fb, fr, fg];
  } else if (fb >= fg) [first, second, big, middle, small] = [db, db + dg, fb, fg, fr];
  else if (fb >= fr) [first, second, big, middle, small] = [dg, dg + db, fg, fb, fr];
  else [first, second, big, middle, small] = [dg, dg + dr, fg, fr, fb];
  for (let c = 0; c < 3; c++) {
    out[c] =
      (1 - big) * table[base + c]! +
      (big - middle) * table[base + first + c]! +
      (middle - small) * table[base + second + c]! +
      small * table[far + c]!;
  }
}
