import { mapTuple } from '../geometry/map-tuple.ts';
/** Chromaticities of red, green, blue and white, CIE 1931 x y. */
interface Chromaticities {
  readonly label: string;
  readonly red: readonly [number, number];
  readonly green: readonly [number, number];
  readonly blue: readonly [number, number];
  readonly white: readonly [number, number];
}

const D65 = [0.3127, 0.329] as const;
/** The white of ACES: AMPAS S-2014-004 §4.2. */
const ACES_WHITE = [0.32168, 0.33767] as const;

/**
 * Sources: ITU-R BT.709-6 §1.3, BT.2020-2 table 3, BT.601-7 §2.5.1 (525 and 625 lines), SMPTE RP 431-2 with D65
 * (P3), AMPAS S-2008-001 (AP0) and S-2014-004 (AP1).
 */
export const PRIMARIES = {
  bt709: { label: 'BT.709 / sRGB', red: [0.64, 0.33], green: [0.3, 0.6], blue: [0.15, 0.06], white: D65 },
  bt2020: { label: 'BT.2020', red: [0.708, 0.292], green: [0.17, 0.797], blue: [0.131, 0.046], white: D65 },
  p3: { label: 'P3, D65', red: [0.68, 0.32], green: [0.265, 0.69], blue: [0.15, 0.06], white: D65 },
  smpte170m: { label: 'BT.601, 525 lines', red: [0.63, 0.34], green: [0.31, 0.595], blue: [0.155, 0.07], white: D65 },
  bt470bg: { label: 'BT.601, 625 lines', red: [0.64, 0.33], green: [0.29, 0.6], blue: [0.15, 0.06], white: D65 },
  ap0: { label: 'ACES AP0', red: [0.7347, 0.2653], green: [0, 1], blue: [0.0001, -0.077], white: ACES_WHITE },
  ap1: { label: 'ACES AP1', red: [0.713, 0.293], green: [0.165, 0.83], blue: [0.128, 0.044], white: ACES_WHITE },
} as const satisfies Record<string, Chromaticities>;

export type PrimariesName = keyof typeof PRIMARIES;
export const PRIMARIES_NAMES = Object.keys(PRIMARIES) as PrimariesName[];

/** 3×3, row-major. */
export type ColourMatrix = readonly [number, number, number, number, number, number, number, number, number];

/**
 * Light of one set of primaries to light of another; white stays white (Bradford adaptation).
 * Sources: SMPTE RP 177-1993 §3.3 (primaries to XYZ), ICC.1:2010 annex E.3 (Bradford).
 */
export function primariesMatrix(from: PrimariesName, to: PrimariesName): ColourMatrix | null {
  if (from === to) return null;
  const source = PRIMARIES[from];
  const target = PRIMARIES[to];
  return product(inverse(toXyz(target)), product(adapt(source.white, target.white), toXyz(source)));
}

/** A chromaticity x, y of luminance 1 in light of BT.709 primaries, without adaptation; channels may be below 0. */
export function lightOfXy(xy: readonly [number, number]): [number, number, number] {
  return apply(inverse(toXyz(PRIMARIES.bt709)), xyz(xy));
}

/** Luminance of light of BT.709 primaries: ITU-R BT.709-6 §3.2. */
export const luminanceOfLight = ([r, g, b]: readonly [number, number, number]): number =>
  0.2126 * r + 0.7152 * g + 0.0722 * b;

function toXyz({ red, green, blue, white }: Chromaticities): ColourMatrix {
  const columns = [red, green, blue].map(([x, y]) => xyz([x, y]));
  const m: ColourMatrix = [
    columns[0]![0],
    columns[1]![0],
    columns[2]![0],
    columns[0]![1],
    columns[1]![1],
    columns[2]![1],
    columns[0]![2],
    columns[1]![2],
    columns[2]![2],
  ];
  const gains = apply(inverse(m), xyz(white));
  return mapTuple(m, (v, i) => v * gains[i % 3]!);
}

const xyz = ([x, y]: readonly [number, number]): [number, number, number] => [x / y, 1, (1 - x - y) / y];

const BRADFORD: ColourMatrix = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];

function adapt(from: readonly [number, number], to: readonly [number, number]): ColourMatrix {
  const a = apply(BRADFORD, xyz(from));
  const b = apply(BRADFORD, xyz(to));
  return product(inverse(BRADFORD), product([b[0] / a[0], 0, 0, 0, b[1] / a[1], 0, 0, 0, b[2] / a[2]], BRADFORD));
}

function apply(m: ColourMatrix, [x, y, z]: readonly [number, number, number]): [number, number, number] {
  return [m[0] * x + m[1] * y + m[2] * z, m[3] * x + m[4] * y + m[5] * z, m[6] * x + m[7] * y + m[8] * z];
}

function product(a: ColourMatrix, b: ColourMatrix): ColourMatrix {
  return mapTuple([0, 1, 2, 3, 4, 5, 6, 7, 8], (i) => {
    const row = Math.floor(i / 3) * 3;
    const col = i % 3;
    return a[row]! * b[col]! + a[row + 1]! * b[col + 3]! + a[row + 2]! * b[col + 6]!;
  });
}

function inverse([a, b, c, d, e, f, g, h, i]: ColourMatrix): ColourMatrix {
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  return mapTuple(
    [
      e * i - f * h,
      c * h - b * i,
      b * f - c * e,
      f * g - d * i,
      a * i - c * g,
      c * d - a * f,
      d * h - e * g,
      b * g - a * h,
      a * e - b * d,
    ],
    (v) => v / determinant,
  );
}
