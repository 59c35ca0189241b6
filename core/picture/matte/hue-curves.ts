import type { SpillSettings } from '../../base/schemas/types.ts';

type Planes = readonly [Float32Array, Float32Array, Float32Array];

/** Shift of hue, degrees, and factor of saturation at a hue. */
export interface HueChange {
  readonly shift: number;
  readonly saturation: number;
}

/** The change at a hue: linear between the nearest points of the circle. */
export function changeAt(hues: NonNullable<SpillSettings['hues']>, hue: number): HueChange {
  const sorted = [...hues].sort((a, b) => a.hue - b.hue);
  const after = sorted.findIndex((p) => p.hue > hue);
  const to = sorted[after < 0 ? 0 : after]!;
  const from = sorted[(after <= 0 ? sorted.length : after) - 1]!;
  const span = (to.hue - from.hue + 360) % 360 || 360;
  const t = ((hue - from.hue + 360) % 360) / span;
  return {
    shift: (from.shift ?? 0) + t * ((to.shift ?? 0) - (from.shift ?? 0)),
    saturation: (from.saturation ?? 1) + t * ((to.saturation ?? 1) - (from.saturation ?? 1)),
  };
}

/** Luma weights of ITU-R BT.709-6, item 3.2, here of light. */
const LUMA = [0.2126, 0.7152, 0.0722] as const;

/** Hue of a colour, degrees, on the hexagon of red, yellow, green, cyan, blue, magenta; 0 for grey. */
export function hueOf(r: number, g: number, b: number): number {
  const high = Math.max(r, g, b);
  const low = Math.min(r, g, b);
  const d = high - low;
  if (d <= 1e-9) return 0;
  const sixth = high === r ? ((g - b) / d + 6) % 6 : high === g ? (b - r) / d + 2 : (r - g) / d + 4;
  return sixth * 60;
}

/** Turns colours about the grey axis by `shift` degrees and scales their distance from it; their luminance stays. In place. */
export function changeColour(planes: Planes, i: number, shift: number, saturation: number): void {
  const r = planes[0][i]!;
  const g = planes[1][i]!;
  const b = planes[2][i]!;
  const y = LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;
  const angle = (shift * Math.PI) / 180;
  const cos = Math.cos(angle);
  const sin = Math.sin(angle) / Math.sqrt(3);
  const third = (1 - cos) / 3;
  // Rotation about (1, 1, 1) of what differs from the grey of the same luminance.
  const [dr, dg, db] = [r - y, g - y, b - y];
  const sum = third * (dr + dg + db);
  const nr = sum + cos * dr + sin * (db - dg);
  const ng = sum + cos * dg + sin * (dr - db);
  const nb = sum + cos * db + sin * (dg - dr);
  const ny = LUMA[0] * nr + LUMA[1] * ng + LUMA[2] * nb;
  planes[0][i] = Math.max(0, y + saturation * (nr - ny));
  planes[1][i] = Math.max(0, y + saturation * (ng - ny));
  planes[2][i] = Math.max(0, y + saturation * (nb - ny));
}

/** The change at each whole degree, the last one the first again. */
export function hueTable(hues: NonNullable<SpillSettings['hues']>): readonly HueChange[] {
  return Array.from({ length: 361 }, (_, hue) => changeAt(hues, hue % 360));
}

/** Changes hue and saturation by the hue that colours have, as much as `weight` says. In place. */
export function applyHueTable(planes: Planes, weight: Float32Array, table: readonly HueChange[]): void {
  for (let i = 0; i < weight.length; i++) {
    const w = weight[i]!;
    if (w <= 0) continue;
    const { shift, saturation } = table[Math.round(hueOf(planes[0][i]!, planes[1][i]!, planes[2][i]!))]!;
    if (shift !== 0 || saturation !== 1) changeColour(planes, i, w * shift, 1 + w * (saturation - 1));
  }
}
