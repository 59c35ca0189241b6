import { clamp } from '../../base/geometry/clamp.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import { median } from '../../base/image/statistics.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import type { QuadMotion } from '../pin/shutter-path.ts';
import { PIXEL_SPREAD } from './edge-model.ts';
import { fitEdge, type EdgeFit, type EdgePixels } from './edge-spread.ts';

/** An edge of the device on a frame, and how it is spread. */
export interface EdgeSeen {
  readonly from: Point;
  readonly to: Point;
  /** Standard deviation of the lens's spread as a gaussian, px: the pixel's own and the motion's taken off. */
  readonly sigma: number;
  /** How far off, px. */
  readonly off: number;
  /** What the fit leaves, in steps of the edge; for a disc too. */
  readonly left: number;
  readonly disc: { readonly radius: number; readonly left: number } | null;
  /** Step of light. */
  readonly step: number;
}

export interface SoftnessOnFrame {
  readonly frame: number;
  readonly sigma: number;
  readonly off: number;
  readonly edges: readonly EdgeSeen[];
}

/** Segments a side, what of the side's ends is left out (corners are round), and how long one is at most, px. */
const SEGMENTS = 10;
const ENDS = 0.1;
const LONGEST = 40;
const SHORTEST = 8;
/** To either side of an edge so far is looked at, in its spreads, and at most, px. */
const REACH_SPREADS = 3;
const NEAR_SPREADS = 1.2;
const FARTHEST = 30;
/** A fit that leaves less than this needs no other window. */
const WELL = 0.04;
/** Edges fainter than this many noises, or that the fit leaves more of than this, are none. */
const LEAST_STEP = 0.012;
const MOST_LEFT = 0.16;
/** Faster than this across the edge while the shutter is open, px, it is a smear and tells no softness. */
const FASTEST = 1.5;
const FEWEST = 6;
/** An edge that is known to within this, px, is well seen. */
const SURE = 0.12;

/**
 * How soft the plate is on a frame, from the straight borders of the screen and of the device around it (found as parallels of the screen's): the
 * edge-spread function of each of their pieces, less the pixel's aperture and what the motion across it adds. `open` is the part of a frame that
 * the shutter is open. Null where no straight border is seen well enough.
 */
export function softnessOnFrame(
  frame: number,
  region: LightRegion,
  motion: QuadMotion,
  open: number,
  guess = 1,
): SoftnessOnFrame | null {
  const light = luminance(region);
  const quad = motion.now;
  const screen: EdgeSeen[] = [];
  const device: EdgeSeen[] = [];
  for (let side = 0; side < 4; side++) {
    const a = quad[side]!;
    const b = quad[(side + 1) % 4]!;
    const length = distance(a, b);
    if (length < SHORTEST / (1 - 2 * ENDS)) continue;
    screen.push(...piecesOf(light, region, quad, side, 0, motion, open, guess));
    for (const offset of outerBorders(light, region, quad, side))
      device.push(...piecesOf(light, region, quad, side, offset, motion, open, guess));
  }
  // A screen ends in a plain step. The device around it is often bevelled or rounded, and its border is then a step and a line.
  const edges = screen.filter((e) => e.off < SURE).length >= FEWEST ? screen : [...screen, ...device];
  return edges.length < FEWEST ? null : { frame, ...togetherOf(edges), edges };
}

/** The middle of what edges tell, each counting by how sure it is. */
export function togetherOf(edges: readonly EdgeSeen[]): { sigma: number; off: number } {
  const sorted = [...edges].sort((a, b) => a.sigma - b.sigma);
  const weight = (e: EdgeSeen) => 1 / (e.off * e.off + 0.02 ** 2);
  const total = sorted.reduce((s, e) => s + weight(e), 0);
  let sum = 0;
  let at = 0;
  // What is not straight, or not one edge only, comes out too soft: a little under the middle is nearer.
  while (at < sorted.length - 1 && sum + weight(sorted[at]!) < 0.45 * total) sum += weight(sorted[at++]!);
  const sigma = sorted[at]!.sigma;
  const spread = median(edges.map((e) => Math.abs(e.sigma - sigma)));
  return { sigma, off: (1.5 * spread) / Math.sqrt(edges.length) + 0.01 };
}

function luminance({ planes: [r, g, b] }: LightRegion): Float32Array {
  return r.map((v, i) => 0.2126 * v + 0.7152 * g[i]! + 0.0722 * b[i]!);
}

/** The inward normal of a side, and its direction. */
function directions(quad: Quad, side: number): { along: Point; inward: Point } {
  const a = quad[side]!;
  const b = quad[(side + 1) % 4]!;
  const length = distance(a, b);
  const along: Point = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
  const middle: Point = [(quad[0][0] + quad[2][0]) / 2, (quad[0][1] + quad[2][1]) / 2];
  const n: Point = [-along[1], along[0]];
  const toward = n[0] * (middle[0] - a[0]) + n[1] * (middle[1] - a[1]);
  return { along, inward: toward >= 0 ? n : [-n[0], -n[1]] };
}

/** Where beyond a side another straight border runs beside it: px outward, told by the light's slope summed along the side. */
function outerBorders(light: Float32Array, region: LightRegion, quad: Quad, side: number): number[] {
  const a = quad[side]!;
  const b = quad[(side + 1) % 4]!;
  const { inward } = directions(quad, side);
  const across = distance(quad[(side + 1) % 4]!, quad[(side + 2) % 4]!);
  const far = Math.min(80, 0.14 * across);
  const slopes: number[] = [];
  for (let out = 3; out <= far; out += 0.5) {
    let sum = 0;
    let seen = 0;
    for (let k = 0; k < 40; k++) {
      const t = ENDS + ((1 - 2 * ENDS) * (k + 0.5)) / 40;
      const x = a[0] + t * (b[0] - a[0]) - out * inward[0];
      const y = a[1] + t * (b[1] - a[1]) - out * inward[1];
      const one = lightAt(light, region, x + 0.75 * inward[0], y + 0.75 * inward[1]);
      const other = lightAt(light, region, x - 0.75 * inward[0], y - 0.75 * inward[1]);
      if (one < 0 || other < 0) continue;
      sum += one - other;
      seen++;
    }
    slopes.push(seen > 20 ? sum / seen : 0);
  }
  const strength = slopes.map(Math.abs);
  const usual = median(strength);
  const at = strength.indexOf(Math.max(...strength));
  return strength.length > 4 && strength[at]! > Math.max(4 * usual, 0.004) ? [-(3 + 0.5 * at)] : [];
}

function lightAt(light: Float32Array, { box, width, height }: LightRegion, x: number, y: number): number {
  const px = x - 0.5 - box.left;
  const py = y - 0.5 - box.top;
  const ix = Math.floor(px);
  const iy = Math.floor(py);
  if (ix < 0 || iy < 0 || ix >= width - 1 || iy >= height - 1) return -1;
  const fx = px - ix;
  const fy = py - iy;
  const at = iy * width + ix;
  return (
    (1 - fy) * ((1 - fx) * light[at]! + fx * light[at + 1]!) +
    fy * ((1 - fx) * light[at + width]! + fx * light[at + width + 1]!)
  );
}

function piecesOf(
  light: Float32Array,
  region: LightRegion,
  quad: Quad,
  side: number,
  offset: number,
  motion: QuadMotion,
  open: number,
  guess: number,
): EdgeSeen[] {
  const a = quad[side]!;
  const b = quad[(side + 1) % 4]!;
  const length = distance(a, b);
  const { along, inward } = directions(quad, side);
  const used = (1 - 2 * ENDS) * length;
  const count = clamp(Math.floor(used / SHORTEST), 1, SEGMENTS);
  const half = Math.min(LONGEST, used / count) / 2;
  const out: EdgeSeen[] = [];
  const before = motion.before ?? motion.now;
  const after = motion.after ?? motion.now;
  const frames = (motion.before ? 1 : 0) + (motion.after ? 1 : 0);
  for (let k = 0; k < count; k++) {
    const t = ENDS + ((1 - 2 * ENDS) * (k + 0.5)) / count;
    const middle: Point = [
      a[0] + t * (b[0] - a[0]) + offset * inward[0],
      a[1] + t * (b[1] - a[1]) + offset * inward[1],
    ];
    const way =
      frames === 0
        ? 0
        : ([0, 1] as const).reduce((s: number, axis) => {
            const at = (q: Quad) => q[side]![axis] + t * (q[(side + 1) % 4]![axis] - q[side]![axis]);
            return s + (inward[axis] * (at(after) - at(before))) / frames;
          }, 0);
    if (Math.abs(way) * open > FASTEST) continue;
    const seen = pieceAt(light, region, middle, along, inward, half, guess, (way * open) ** 2 / 12);
    if (seen) out.push(seen);
  }
  return out;
}

function pieceAt(
  light: Float32Array,
  region: LightRegion,
  middle: Point,
  along: Point,
  inward: Point,
  half: number,
  guess: number,
  motionVariance: number,
): EdgeSeen | null {
  let spread = guess;
  let fit: EdgeFit | null = null;
  let pixels: EdgePixels | null = null;
  for (let round = 0; round < 2; round++) {
    const whole = Math.hypot(spread, PIXEL_SPREAD);
    const reach = Math.min(FARTHEST, REACH_SPREADS * whole + 1);
    const near = NEAR_SPREADS * whole + 0.6;
    // Where another border or a shade is near on one side, only a little of that side is looked at.
    for (const [from, to, slopes] of [
      [reach, reach, 'held'],
      [near, reach, 'held'],
      [reach, near, 'held'],
      [near, reach, 'free'],
      [reach, near, 'free'],
    ] as const) {
      const seen = pixelsAbout(light, region, middle, along, inward, half, from, to);
      const tried = seen && fitEdge(seen, 'gaussian', spread, slopes);
      if (tried && (!fit || tried.left < 0.6 * fit.left)) [fit, pixels] = [tried, seen];
      if (fit && fit.left < WELL) break;
    }
    if (!fit) return null;
    if (Math.abs(fit.spread - spread) < 0.2 * whole) break;
    spread = fit.spread;
    if (round === 0) fit = pixels = null;
  }
  if (!fit || !pixels || fit.step < LEAST_STEP || fit.left > MOST_LEFT || Math.abs(fit.place) > 2.5) return null;
  const variance = fit.spread ** 2 - motionVariance;
  const sigma = Math.sqrt(Math.max(0.01, variance));
  const off = Math.min(1, (fit.off * fit.spread) / sigma);
  // A disc is worth trying only where it would be distinguished from a gaussian.
  const disc = fit.spread > 1 ? fitEdge(pixels, 'disc', 2 * fit.spread) : null;
  const h = half;
  const end = (s: number): Point => [
    middle[0] + s * h * along[0] + fit.place * inward[0],
    middle[1] + s * h * along[1] + fit.place * inward[1],
  ];
  return {
    from: end(-1),
    to: end(1),
    sigma,
    off,
    left: fit.left,
    step: fit.step,
    disc: disc && { radius: disc.spread, left: disc.left },
  };
}

/** The pixels of a strip about an edge; null where it is not all in the picture. */
function pixelsAbout(
  light: Float32Array,
  { box, width, height }: LightRegion,
  middle: Point,
  [ux, uy]: Point,
  [nx, ny]: Point,
  half: number,
  outward: number,
  inwards: number,
): EdgePixels | null {
  const reach = Math.max(outward, inwards);
  const across: number[] = [];
  const along: number[] = [];
  const values: number[] = [];
  const ex = Math.abs(ux) * half + Math.abs(nx) * reach;
  const ey = Math.abs(uy) * half + Math.abs(ny) * reach;
  const left = Math.floor(middle[0] - ex) - box.left;
  const right = Math.ceil(middle[0] + ex) - box.left;
  const top = Math.floor(middle[1] - ey) - box.top;
  const bottom = Math.ceil(middle[1] + ey) - box.top;
  if (left < 0 || top < 0 || right >= width || bottom >= height) return null;
  for (let row = top; row <= bottom; row++) {
    for (let col = left; col <= right; col++) {
      const dx = box.left + col + 0.5 - middle[0];
      const dy = box.top + row + 0.5 - middle[1];
      const t = dx * ux + dy * uy;
      const d = dx * nx + dy * ny;
      if (Math.abs(t) > half || d < -outward || d > inwards) continue;
      along.push(t);
      across.push(d);
      values.push(light[row * width + col]!);
    }
  }
  return values.length < 24
    ? null
    : {
        along: Float64Array.from(along),
        across: Float64Array.from(across),
        light: Float64Array.from(values),
        count: values.length,
        normal: [nx, ny],
      };
}
