/** CIE L*a*b* of a colour. */
export type Lab = readonly [L: number, a: number, b: number];

/**
 * L*a*b* (D65) of linear light with BT.709 primaries. Sources: IEC 61966-2-1:1999 §5.2 (matrix to XYZ), ISO/CIE 11664-4
 * (L*a*b*); the white is the matrix's own row sums, so that equal light is neutral.
 */
export function labOfLight(r: number, g: number, b: number): Lab {
  const fx = cubeRoot((0.4124 * r + 0.3576 * g + 0.1805 * b) / 0.9505);
  const fy = cubeRoot(0.2126 * r + 0.7152 * g + 0.0722 * b);
  const fz = cubeRoot((0.0193 * r + 0.1192 * g + 0.9505 * b) / 1.089);
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}

function cubeRoot(t: number): number {
  return t > (6 / 29) ** 3 ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29;
}

const DEGREE = Math.PI / 180;
/** Degrees 0…360 of a hue; 0 for no colour at all. */
const hueOf = (b: number, a: number): number => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) / DEGREE + 360) % 360);

/**
 * ΔE00, the CIEDE2000 colour difference with kL = kC = kH = 1. Source: G. Sharma, W. Wu, E. N. Dalal, The CIEDE2000
 * color-difference formula: implementation notes, supplementary test data, and mathematical observations, Color
 * Research & Application 30(1), 2005, equations 2–22.
 */
export function ciede2000([L1, a1, b1]: Lab, [L2, a2, b2]: Lab): number {
  const meanC = (Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2;
  const c7 = meanC ** 7;
  const G = 0.5 * (1 - Math.sqrt(c7 / (c7 + 25 ** 7)));
  const C1 = Math.hypot((1 + G) * a1, b1);
  const C2 = Math.hypot((1 + G) * a2, b2);
  const h1 = hueOf(b1, (1 + G) * a1);
  const h2 = hueOf(b2, (1 + G) * a2);
  const colourless = C1 * C2 === 0;
  const apart = h2 - h1;
  const dh = colourless ? 0 : apart > 180 ? apart - 360 : apart < -180 ? apart + 360 : apart;
  const dL = L2 - L1;
  const dC = C2 - C1;
  const dH = 2 * Math.sqrt(C1 * C2) * Math.sin((dh / 2) * DEGREE);
  const L = (L1 + L2) / 2;
  const C = (C1 + C2) / 2;
  const h = colourless
    ? h1 + h2
    : Math.abs(apart) <= 180
      ? (h1 + h2) / 2
      : h1 + h2 < 360
        ? (h1 + h2 + 360) / 2
        : (h1 + h2 - 360) / 2;
  const T =
    1 -
    0.17 * Math.cos((h - 30) * DEGREE) +
    0.24 * Math.cos(2 * h * DEGREE) +
    0.32 * Math.cos((3 * h + 6) * DEGREE) -
    0.2 * Math.cos((4 * h - 63) * DEGREE);
  const turn = 30 * Math.exp(-(((h - 275) / 25) ** 2));
  const C7 = C ** 7;
  const RC = 2 * Math.sqrt(C7 / (C7 + 25 ** 7));
  const SL = 1 + (0.015 * (L - 50) ** 2) / Math.sqrt(20 + (L - 50) ** 2);
  const SC = 1 + 0.045 * C;
  const SH = 1 + 0.015 * C * T;
  const RT = -Math.sin(2 * turn * DEGREE) * RC;
  return Math.sqrt((dL / SL) ** 2 + (dC / SC) ** 2 + (dH / SH) ** 2 + RT * (dC / SC) * (dH / SH));
}
