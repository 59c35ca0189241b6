import { clamp } from '../../base/geometry/clamp.ts';
import {
  applyToPoint,
  compose,
  invert,
  jacobianAt,
  scaling,
  translation,
  type Homography,
} from '../../base/geometry/homography.ts';
import { createCodes, type CodedPicture } from '../../base/image/picture.ts';
import { lightReader, lightWriter, type PlateColour } from '../../base/image/plate-colour.ts';

/** What stands where a steadied picture shows nothing of the plate: the plate's border goes on, or nothing. */
export type Outside = 'fill' | 'transparent';

export interface SteadiedFrame {
  readonly picture: CodedPicture;
  /** 255 where the plate is seen, less at its border, 0 outside. */
  readonly alpha: Uint8Array;
}

/** Lobes of the kernel on each side. */
const LOBES = 3;
/** Drawn smaller than this, a pixel is the mean of several. */
const SMALLER = 1.35;
const MOST_SUB = 4;
/** A map that is a shift by whole pixels, to within this, copies them. */
const WHOLE = 1e-9;

/**
 * A plate's frame as a steadied one: `map` takes its pixels to those of the new picture (continuous, centres at half). Sampled once, in light, by Lanczos'
 * kernel of three lobes, its weights summing to one. Where the map only shifts by whole pixels the codes are copied.
 *
 * Source: K. Turkowski, Filters for common resampling tasks, in Graphics Gems, 1990 (Lanczos-windowed sinc).
 */
export function steadyFrame(
  plate: CodedPicture,
  map: Homography,
  width: number,
  height: number,
  outside: Outside,
  colour: PlateColour,
): SteadiedFrame {
  const back = invert(map);
  if (!back) throw new RangeError('a steadying map must not fold the picture');
  const { data, peak } = plate;
  const out = createCodes(peak, width * height * 3);
  const alpha = new Uint8Array(width * height);
  const shift = wholeShift(back);
  if (shift) copyShifted(plate, shift, width, height, outside, out, alpha);
  else {
    const read = lightReader(colour.transfer, peak);
    const write = lightWriter(colour.transfer, peak);
    const light = new Float32Array(data.length);
    const sum = new Float64Array(3);
    for (let i = 0; i < light.length; i++) light[i] = read(data[i]!);
    const sub = subSamples(back, width, height);
    const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = back as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    for (let row = 0; row < height; row++) {
      for (let col = 0; col < width; col++) {
        let seen = 0;
        sum.fill(0);
        for (let j = 0; j < sub; j++) {
          for (let i = 0; i < sub; i++) {
            const u = col + (i + 0.5) / sub;
            const v = row + (j + 0.5) / sub;
            const w = m6 * u + m7 * v + m8;
            const x = (m0 * u + m1 * v + m2) / w;
            const y = (m3 * u + m4 * v + m5) / w;
            seen += coverage(x, y, plate.width, plate.height);
            addSample(light, plate.width, plate.height, x, y, sum);
          }
        }
        const at = row * width + col;
        const share = seen / (sub * sub);
        alpha[at] = Math.round(255 * share);
        if (outside === 'transparent' && share === 0) continue;
        for (let c = 0; c < 3; c++) out[3 * at + c] = write(sum[c]! / (sub * sub));
      }
    }
  }
  return { picture: { width, height, data: out, peak }, alpha };
}

/**
 * The largest scale, and with it the map, under which every steadied frame is filled: the middle of the picture is kept, and all maps are followed by the same
 * enlargement. At most four-fold; where even that leaves a border, it stays.
 */
export function cropFilled(
  maps: ReadonlyMap<number, Homography>,
  width: number,
  height: number,
): { scale: number; maps: Map<number, Homography> } {
  const about = (scale: number) =>
    compose(translation(width / 2, height / 2), scaling(scale), translation(-width / 2, -height / 2));
  const border = Array.from(
    { length: 16 },
    (_, i) =>
      [
        [(i / 16) * width, 0],
        [width, (i / 16) * height],
        [width - (i / 16) * width, height],
        [0, height - (i / 16) * height],
      ] as [number, number][],
  ).flat();
  const fills = (scale: number) => {
    const shrink = invert(about(scale))!;
    return [...maps.values()].every((map) => {
      const back = invert(map);
      const whole = back && compose(back, shrink);
      return (
        whole !== null &&
        border.every((p) => {
          const [x, y] = applyToPoint(whole, p);
          return x >= 0 && y >= 0 && x <= width && y <= height;
        })
      );
    });
  };
  let low = 1;
  let high = 4;
  if (fills(1)) high = 1;
  for (let i = 0; i < 20 && high - low > 1e-4; i++) {
    const middle = (low + high) / 2;
    if (fills(middle)) high = middle;
    else low = middle;
  }
  return { scale: high, maps: new Map([...maps].map(([frame, map]) => [frame, compose(about(high), map)])) };
}

function wholeShift(back: Homography): [number, number] | null {
  const [a, b, x, c, d, y, p, q, r] = back.map((v) => v / back[8]!) as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const whole = [a - 1, b, c, d - 1, p * 1e3, q * 1e3, r - 1, x - Math.round(x), y - Math.round(y)].every(
    (v) => Math.abs(v) < WHOLE,
  );
  return whole ? [Math.round(x), Math.round(y)] : null;
}

function copyShifted(
  { width: w, height: h, data }: CodedPicture,
  [dx, dy]: readonly [number, number],
  width: number,
  height: number,
  outside: Outside,
  out: CodedPicture['data'],
  alpha: Uint8Array,
): void {
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) {
      const x = col + dx;
      const y = row + dy;
      const inside = x >= 0 && y >= 0 && x < w && y < h;
      const at = row * width + col;
      alpha[at] = inside ? 255 : 0;
      if (!inside && outside === 'transparent') continue;
      const from = 3 * (clamp(y, 0, h - 1) * w + clamp(x, 0, w - 1));
      for (let c = 0; c < 3; c++) out[3 * at + c] = data[from + c]!;
    }
  }
}

/** So many samples across and down a pixel, where the picture is drawn smaller. */
function subSamples(back: Homography, width: number, height: number): number {
  const steps = [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
    [width / 2, height / 2],
  ].map((p) => {
    const [a, b, c, d] = jacobianAt(back, p as [number, number]);
    return Math.sqrt(Math.abs(a * d - b * c));
  });
  const most = Math.max(...steps);
  return most < SMALLER ? 1 : Math.min(MOST_SUB, Math.ceil(most));
}

const shareOf = (v: number, size: number): number => clamp(Math.min(v, size - v) + 0.5, 0, 1);
const coverage = (x: number, y: number, width: number, height: number): number =>
  shareOf(x, width) * shareOf(y, height);

/** The kernel's weights are kept at so many places between two pixels: none is off by more than 1/8192 px. */
const PHASES = 4096;
const TAPS = 2 * LOBES;
let table: Float32Array | null = null;

function lanczosTable(): Float32Array {
  if (table) return table;
  table = new Float32Array((PHASES + 1) * TAPS);
  for (let phase = 0; phase <= PHASES; phase++) {
    let total = 0;
    for (let k = 0; k < TAPS; k++) {
      const t = k - LOBES + 1 - phase / PHASES;
      const p = Math.PI * t;
      total += table[phase * TAPS + k] =
        Math.abs(t) < 1e-9 ? 1 : Math.abs(t) >= LOBES ? 0 : (LOBES * Math.sin(p) * Math.sin(p / LOBES)) / (p * p);
    }
    for (let k = 0; k < TAPS; k++) table[phase * TAPS + k]! /= total;
  }
  return table;
}

function addSample(light: Float32Array, width: number, height: number, x: number, y: number, sum: Float64Array): void {
  const weights = lanczosTable();
  const px = clamp(x, -2, width + 2) - 0.5;
  const py = clamp(y, -2, height + 2) - 0.5;
  const ix = Math.floor(px);
  const iy = Math.floor(py);
  const across = Math.round((px - ix) * PHASES) * TAPS;
  const down = Math.round((py - iy) * PHASES) * TAPS;
  const left = ix - LOBES + 1;
  const top = iy - LOBES + 1;
  const inside = left >= 0 && left + TAPS <= width;
  for (let j = 0; j < TAPS; j++) {
    const row = clamp(top + j, 0, height - 1) * width;
    const wy = weights[down + j]!;
    let r = 0;
    let g = 0;
    let b = 0;
    for (let i = 0; i < TAPS; i++) {
      const at = 3 * (row + (inside ? left + i : clamp(left + i, 0, width - 1)));
      const w = weights[across + i]!;
      r += w * light[at]!;
      g += w * light[at + 1]!;
      b += w * light[at + 2]!;
    }
    sum[0]! += wy * r;
    sum[1]! += wy * g;
    sum[2]! += wy * b;
  }
}
