import type { Homography } from '../../base/geometry/homography.ts';
import type { ScreenTexture } from '../../base/schemas/types.ts';

/** How the picture is seen: what washes a fine pattern out. */
export interface Seeing {
  /** Standard deviation of the softness, px. */
  readonly sigma: number;
  /** Way of the surface while the shutter is open, px. */
  readonly motion: readonly [number, number];
}

const HARMONICS = 3;
const LEAST = 0.002;
const sinc = (x: number) => (Math.abs(x) < 1e-6 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));

/** A pattern of one direction: how often it repeats over the surface, and the strength and place of its harmonics for each channel. */
interface Waves {
  readonly repeats: number;
  readonly strength: readonly number[];
  readonly middles: readonly [number, number, number];
}

function panelWaves(
  { columns, gap = 0.25, amount = 1, stripes = false }: NonNullable<ScreenTexture['grid']>,
  ratio: number,
): [Waves, Waves] {
  const lit = 1 - gap;
  const strength = (width: number) => Array.from({ length: HARMONICS }, (_, k) => 2 * amount * sinc((k + 1) * width));
  return [
    {
      repeats: columns,
      strength: strength(stripes ? lit / 3 : lit),
      middles: stripes ? [1 / 6, 1 / 2, 5 / 6] : [0.5, 0.5, 0.5],
    },
    { repeats: columns / ratio, strength: strength(lit), middles: [0.5, 0.5, 0.5] },
  ];
}

/**
 * Times the light of red, green and blue at pixels: the panel's grid and scan lines as a camera resolves them. Each pattern is a sum of waves about
 * 1; the pixel's square aperture, the softness and the motion each take from a wave what their transfer function tells at its frequency, so that
 * a pattern finer than the pixels fades or shows as moiré by itself.
 */
export function screenPattern(
  { grid, lines }: Pick<ScreenTexture, 'grid' | 'lines'>,
  ratio: number,
  seeing: Seeing,
): (toUnit: Homography, x: number, y: number, out: [number, number, number]) => void {
  const [across, down] = grid ? panelWaves(grid, ratio) : [null, null];
  const scan: Waves | null = lines
    ? { repeats: lines.rows, strength: [lines.amount ?? 0.3], middles: [0.5, 0.5, 0.5] }
    : null;
  const seen: [number, number, number] = [1, 1, 1];
  return ([h0, h1, h2, h3, h4, h5, h6, h7, h8], x, y, out) => {
    const w = h6! * x + h7! * y + h8!;
    const s = (h0! * x + h1! * y + h2!) / w;
    const t = (h3! * x + h4! * y + h5!) / w;
    const sx = (h0! - s * h6!) / w;
    const sy = (h1! - s * h7!) / w;
    const tx = (h3! - t * h6!) / w;
    const ty = (h4! - t * h7!) / w;
    out[0] = out[1] = out[2] = 1;
    for (const [waves, place, gx, gy] of [
      [across, s, sx, sy],
      [down, t, tx, ty],
      [scan, t, tx, ty],
    ] as const) {
      if (!waves) continue;
      addWaves(waves, place, gx, gy, seeing, seen);
      for (let c = 0; c < 3; c++) out[c]! *= seen[c]!;
    }
  };
}

function addWaves(
  { repeats, strength, middles }: Waves,
  place: number,
  gx: number,
  gy: number,
  { sigma, motion }: Seeing,
  out: [number, number, number],
): void {
  out[0] = out[1] = out[2] = 1;
  for (let k = 1; k <= strength.length; k++) {
    const fx = k * repeats * gx;
    const fy = k * repeats * gy;
    const left =
      strength[k - 1]! *
      sinc(fx) *
      sinc(fy) *
      Math.exp(-2 * Math.PI * Math.PI * sigma * sigma * (fx * fx + fy * fy)) *
      sinc(fx * motion[0] + fy * motion[1]);
    if (Math.abs(left) < LEAST) continue;
    for (let c = 0; c < 3; c++) out[c]! += left * Math.cos(2 * Math.PI * k * (repeats * place - middles[c]!));
  }
}
