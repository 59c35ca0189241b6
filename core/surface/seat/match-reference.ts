import { clamp } from '../../base/geometry/clamp.ts';
import { tukeyWeight } from '../../motion/follow/robust-weights.ts';
import { applyToPoint, jacobianAt, type Homography, type Point } from '../../base/geometry/homography.ts';
import { gaussianKernel } from '../../base/filters/gaussian.ts';
import { robustDeviation } from '../../base/image/statistics.ts';
import { sampleLight, type LightPicture } from '../../base/image/light-sampler.ts';

/** What a match came to. */
export type CornerMatch =
  | {
      readonly ok: true;
      /** To be added to the reference's corner, reference px. */ readonly dx: number;
      readonly dy: number;
      readonly score: number;
      readonly bound: number;
    }
  | { readonly ok: false; readonly reason: 'looks-different' | 'outside' | 'nothing-to-match'; readonly score: number };

/** Half the neighbourhood and how far the corner may be off, reference px. */
const HALF = 20;
const FARTHEST = 7;
/** Places of the neighbourhood are so many px apart. */
const STEP = 1;
/** Blur that the reference is given, px: the same all ways, and along the movement on top of it. */
const ROUND = [0, 0.6, 1.1, 1.8] as const;
const ALONG = [0, 1, 2, 3.2] as const;
/** Below this likeness of the whole, or of one of its quarters that shows something, or over this difference of a quarter's light, it is another look. */
const LIKE = 0.86;
const QUARTER_LIKE = 0.55;
const LEVEL = 0.15;
/** A quarter shows something when its contrast is this share of the whole's. */
const SHOWS = 0.25;
const ROUNDS = 14;
/** How far off the steep places may seem at first and later, px: what they show then is misplacement, not another thing. */
const TOLERANCE = [1, 0.7, 0.5, 0.35, 0.25, 0.18];

interface Patch {
  readonly size: number;
  readonly values: Float32Array;
}

/** How a neighbourhood is blurred: the same all ways, and along a direction; places in ROUND and ALONG. */
interface Blur {
  readonly round: number;
  readonly along: number;
}

/** What is known of how a corner moves: its way over the shutter on the reference and on the frame, each in its own px. */
export interface CornerMovement {
  readonly onReference?: Point;
  readonly onFrame?: Point;
}

/**
 * Finds how far a corner's neighbourhood on a frame lies off the reference's: both are brought to the reference's pixels, either is blurred
 * until they are most alike, light is matched by a gain and an offset, and the shift solved by Gauss–Newton with Tukey's weights from the
 * best of a search over whole pixels. It is refused where the likeness is low: a screen that is off here and on there.
 *
 * `map` takes reference pixels to the frame's, as the corner is seated now.
 * Source: B. Lucas, T. Kanade 1981, and S. Baker, I. Matthews, Lucas-Kanade 20 years on, IJCV 56(3), 2004, §3.2 (template gradients).
 */
export function matchCorner(
  reference: LightPicture,
  picture: LightPicture,
  map: Homography,
  corner: Point,
  movement: CornerMovement = {},
): CornerMatch {
  const wide = HALF + FARTHEST + 5;
  const original = patchOf(wide, (x, y) => sampleLight(reference, corner[0] + x, corner[1] + y));
  const seen = patchOf(wide, (x, y) => {
    const [u, v] = applyToPoint(map, [corner[0] + x, corner[1] + y]);
    return sampleLight(picture, u, v);
  });
  const start = search(inner(original, HALF), inner(seen, HALF));
  if (!start) return { ok: false, reason: 'outside', score: 0 };
  const ways = [
    direction(movement.onReference),
    movement.onFrame ? direction(inReference(map, corner, movement.onFrame)) : null,
  ] as const;
  const best = mostAlike(original, seen, ways, start);
  if (!best)
    return {
      ok: false,
      reason: showsSomething(inner(original, HALF)) ? 'looks-different' : 'nothing-to-match',
      score: 0,
    };
  if (
    best.score < LIKE ||
    best.quarters < QUARTER_LIKE ||
    best.level > LEVEL ||
    Math.hypot(best.dx, best.dy) > FARTHEST + 2
  ) {
    return {
      ok: false,
      reason: 'looks-different',
      score: Math.max(0, Math.min(best.score, best.quarters, 1 - best.level)),
    };
  }
  return { ok: true, dx: best.dx, dy: best.dy, score: best.score, bound: best.bound };
}

/** Light that varies by less is the same all over. */
const FLAT = 1e-3;
function showsSomething({ values }: Patch): boolean {
  const seen = values.filter((v) => !Number.isNaN(v));
  const middle = seen.reduce((a, b) => a + b, 0) / Math.max(1, seen.length);
  return Math.sqrt(seen.reduce((sum, v) => sum + (v - middle) ** 2, 0) / Math.max(1, seen.length)) > FLAT;
}

/** Blurs the one or the other, a little more at a time, as long as it makes them more alike. */
function mostAlike(
  original: Patch,
  seen: Patch,
  ways: readonly [Point | null, Point | null],
  start: Point,
): Solved | null {
  const made = [new Map<string, Patch>(), new Map<string, Patch>()] as const;
  const blurredOf = (which: 0 | 1, { round, along }: Blur) => {
    const key = `${round} ${along}`;
    let patch = made[which].get(key);
    if (!patch)
      made[which].set(key, (patch = blurred(which === 0 ? original : seen, ROUND[round]!, ALONG[along]!, ways[which])));
    return patch;
  };
  let now: [Blur, Blur] = [
    { round: 0, along: 0 },
    { round: 0, along: 0 },
  ];
  let best = solve(inner(blurredOf(0, now[0]), HALF), blurredOf(1, now[1]), start);
  for (let better = best !== null; better;) {
    better = false;
    for (const which of [0, 1] as const) {
      for (const step of [
        { round: 1, along: 0 },
        { round: 0, along: 1 },
      ]) {
        const blur = { round: now[which].round + step.round, along: now[which].along + step.along };
        if (blur.round >= ROUND.length || blur.along >= ALONG.length || (step.along === 1 && !ways[which])) continue;
        const tried: [Blur, Blur] = which === 0 ? [blur, now[1]] : [now[0], blur];
        const solved = solve(inner(blurredOf(0, tried[0]), HALF), blurredOf(1, tried[1]), [best!.dx, best!.dy]);
        if (solved && solved.left < best!.left * 0.995) [now, best, better] = [tried, solved, true];
      }
    }
  }
  return best;
}

function patchOf(half: number, at: (x: number, y: number) => number): Patch {
  const size = Math.round((2 * half) / STEP) + 1;
  const values = new Float32Array(size * size);
  for (let j = 0; j < size; j++)
    for (let i = 0; i < size; i++) values[j * size + i] = at(i * STEP - half, j * STEP - half);
  return { size, values };
}

function inner({ size, values }: Patch, half: number): Patch {
  const small = Math.round((2 * half) / STEP) + 1;
  const off = (size - small) / 2;
  const out = new Float32Array(small * small);
  for (let j = 0; j < small; j++)
    out.set(values.subarray((j + off) * size + off, (j + off) * size + off + small), j * small);
  return { size: small, values: out };
}

/** A movement on the frame as the reference would show it. */
function inReference(map: Homography, corner: Point, movement: Point): Point {
  const [a, b, c, d] = jacobianAt(map, corner);
  const det = a * d - b * c;
  return [(d * movement[0] - b * movement[1]) / det, (a * movement[1] - c * movement[0]) / det];
}

/** Unit direction of a movement; null where there is hardly any. */
function direction(movement: Point | undefined): Point | null {
  const length = movement ? Math.hypot(...movement) : 0;
  return length > 0.7 ? [movement![0] / length, movement![1] / length] : null;
}

function blurred(patch: Patch, round: number, along: number, way: Point | null): Patch {
  let { values } = patch;
  const { size } = patch;
  const pass = (from: Float32Array, sigma: number, dx: number, dy: number) => {
    const kernel = gaussianKernel(sigma / STEP);
    const radius = (kernel.length - 1) / 2;
    const out = new Float32Array(from.length);
    for (let j = 0; j < size; j++) {
      for (let i = 0; i < size; i++) {
        let sum = 0;
        for (let k = -radius; k <= radius; k++)
          sum += kernel[k + radius]! * bilinear(from, size, i + k * dx, j + k * dy);
        out[j * size + i] = sum;
      }
    }
    return out;
  };
  if (round > 0) values = pass(pass(values, round, 1, 0), round, 0, 1);
  if (along > 0 && way) values = pass(values, along, way[0], way[1]);
  return { size, values };
}

function bilinear(values: Float32Array, size: number, x: number, y: number): number {
  const cx = clamp(x, 0, size - 1.001);
  const cy = clamp(y, 0, size - 1.001);
  const ix = cx | 0;
  const iy = cy | 0;
  const fx = cx - ix;
  const fy = cy - iy;
  const at = iy * size + ix;
  return (
    (values[at]! * (1 - fx) + values[at + 1]! * fx) * (1 - fy) +
    (values[at + size]! * (1 - fx) + values[at + size + 1]! * fx) * fy
  );
}

/** The whole-pixel shift at which the neighbourhoods are most alike; null where the picture does not reach. */
function search(template: Patch, seen: Patch): Point | null {
  const reach = FARTHEST;
  const wide = seen.size;
  if (countWhole(seen) < 0.5 * seen.values.length) return null;
  let best: Point = [0, 0];
  let most = -2;
  for (let dy = -reach; dy <= reach; dy++) {
    for (let dx = -reach; dx <= reach; dx++) {
      let n = 0;
      let t = 0;
      let p = 0;
      let tt = 0;
      let pp = 0;
      let tp = 0;
      for (let j = reach; j < wide - reach; j += 2) {
        for (let i = reach; i < wide - reach; i += 2) {
          const a = template.values[j * wide + i]!;
          const b = seen.values[(j + dy) * wide + i + dx]!;
          if (Number.isNaN(a) || Number.isNaN(b)) continue;
          n++;
          t += a;
          p += b;
          tt += a * a;
          pp += b * b;
          tp += a * b;
        }
      }
      const score = (tp - (t * p) / n) / Math.sqrt(Math.max(1e-12, (tt - (t * t) / n) * (pp - (p * p) / n)));
      if (score > most) [best, most] = [[dx, dy], score];
    }
  }
  return best;
}

function countWhole({ values }: Patch): number {
  return values.reduce((n, v) => n + (Number.isNaN(v) ? 0 : 1), 0);
}

interface Solved {
  readonly dx: number;
  readonly dy: number;
  readonly score: number;
  /** Least likeness of a quarter that shows something. */
  readonly quarters: number;
  /** How much brighter or darker a quarter is than the light of the whole makes it, in standard deviations of the picture there. */
  readonly level: number;
  readonly bound: number;
  /** Mean square left over, of the frame's own variance. */
  readonly left: number;
}

function solve(template: Patch, picture: Patch, start: Point): Solved | null {
  const look = (x: number, y: number) => shifted(picture, x, y);
  const { size, values } = template;
  const count = size * size;
  const steep = steepness(values, size);
  let [dx, dy] = start;
  let seen = look(dx, dy);
  let weights = new Float32Array(count).fill(1);
  let gain = 1;
  let offset = 0;
  let bound = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    [gain, offset] = lightOf(values, seen.values, weights);
    if (!(gain > 0.02)) return null;
    const off = seen.values.map((p, i) => p - gain * values[i]! - offset);
    const whole = off.filter((o) => !Number.isNaN(o));
    if (whole.length < count / 2) return null;
    const scale = Math.max(1e-4, robustDeviation(whole));
    const tolerance = gain * (TOLERANCE[round] ?? TOLERANCE.at(-1)!);
    weights = off.map((o, i) => (Number.isNaN(o) ? 0 : tukeyWeight(o, Math.hypot(scale, tolerance * steep[i]!))));
    let xx = 0;
    let xy = 0;
    let yy = 0;
    let rx = 0;
    let ry = 0;
    let chi = 0;
    let sum = 0;
    for (let j = 1; j < size - 1; j++) {
      for (let i = 1; i < size - 1; i++) {
        const at = j * size + i;
        const w = weights[at]!;
        if (w === 0) continue;
        const gx = (gain * (values[at + 1]! - values[at - 1]!)) / (2 * STEP);
        const gy = (gain * (values[at + size]! - values[at - size]!)) / (2 * STEP);
        const o = off[at]!;
        xx += w * gx * gx;
        xy += w * gx * gy;
        yy += w * gy * gy;
        rx += w * gx * o;
        ry += w * gy * o;
        chi += w * o * o;
        sum += w;
      }
    }
    const det = xx * yy - xy * xy;
    if (!(det > 1e-4 * (xx + yy) ** 2)) return null;
    // Seen where the template should be lies seen(q) = T(q − e): what it is off by is to be added to where we look.
    const mx = -(yy * rx - xy * ry) / det;
    const my = -(xx * ry - xy * rx) / det;
    const step = Math.min(1, 1 / Math.max(1e-9, Math.hypot(mx, my)));
    dx += mx * step;
    dy += my * step;
    bound = 2.448 * Math.sqrt((3 * (chi / Math.max(1, sum)) * (xx + yy)) / (2 * det));
    seen = look(dx, dy);
    if (Math.hypot(mx, my) < 0.003) break;
  }
  return {
    dx,
    dy,
    left: leftOf(values, seen.values, weights),
    ...likeness(values, seen.values, size, weights),
    bound: Math.hypot(0.02, bound),
  };
}

/** The middle of a wide patch, moved: cubic between its places (Keys 1981, a = −0.5). */
function shifted({ size, values }: Patch, dx: number, dy: number): Patch {
  const small = Math.round((2 * HALF) / STEP) + 1;
  const off = (size - small) / 2;
  const out = new Float32Array(small * small);
  const ix = Math.floor(dx);
  const iy = Math.floor(dy);
  const wx = cubic(dx - ix);
  const wy = cubic(dy - iy);
  for (let j = 0; j < small; j++) {
    for (let i = 0; i < small; i++) {
      const x = i + off + ix;
      const y = j + off + iy;
      if (x < 1 || y < 1 || x >= size - 2 || y >= size - 2) {
        out[j * small + i] = NaN;
        continue;
      }
      let sum = 0;
      for (let b = 0; b < 4; b++) {
        const at = (y - 1 + b) * size + x - 1;
        sum +=
          wy[b]! * (wx[0] * values[at]! + wx[1] * values[at + 1]! + wx[2] * values[at + 2]! + wx[3] * values[at + 3]!);
      }
      out[j * small + i] = sum;
    }
  }
  return { size: small, values: out };
}
function cubic(t: number): [number, number, number, number] {
  const t2 = t * t;
  const t3 = t2 * t;
  return [-0.5 * t3 + t2 - 0.5 * t, 1.5 * t3 - 2.5 * t2 + 1, -1.5 * t3 + 2 * t2 + 0.5 * t, 0.5 * t3 - 0.5 * t2];
}

/** Mean square that gain and offset leave over, of the frame's own variance. */
function leftOf(t: Float32Array, p: Float32Array, weights: Float32Array): number {
  const [gain, offset] = lightOf(t, p, weights);
  let left = 0;
  let sum = 0;
  let sumP = 0;
  let sumPP = 0;
  p.forEach((v, i) => {
    if (Number.isNaN(v) || Number.isNaN(t[i]!)) return;
    left += (v - gain * t[i]! - offset) ** 2;
    sum++;
    sumP += v;
    sumPP += v * v;
  });
  return left / Math.max(1e-12, sumPP - (sumP * sumP) / sum);
}

/** Size of the gradient, light a px. */
function steepness(values: Float32Array, size: number): Float32Array {
  return values.map((_, at) => {
    const i = at % size;
    const j = Math.floor(at / size);
    if (i === 0 || j === 0 || i === size - 1 || j === size - 1) return 0;
    return Math.hypot(values[at + 1]! - values[at - 1]!, values[at + size]! - values[at - size]!) / (2 * STEP);
  });
}

function lightOf(t: Float32Array, p: Float32Array, w: Float32Array): [number, number] {
  let n = 0;
  let st = 0;
  let sp = 0;
  let tt = 0;
  let tp = 0;
  for (let i = 0; i < t.length; i++) {
    const v = w[i]!;
    const a = t[i]!;
    const b = p[i]!;
    if (v === 0 || Number.isNaN(b) || Number.isNaN(a)) continue;
    n += v;
    st += v * a;
    sp += v * b;
    tt += v * a * a;
    tp += v * a * b;
  }
  const gain = (tp - (st * sp) / n) / (tt - (st * st) / n);
  return [gain, (sp - gain * st) / n];
}

/** Correlation of the whole, and the least of those quarters in which either shows something. What covers a part of it counts against it. */
function likeness(
  t: Float32Array,
  p: Float32Array,
  size: number,
  weights: Float32Array,
): { score: number; quarters: number; level: number } {
  const middle = (size - 1) / 2;
  const sums = Array.from({ length: 5 }, () => new Float64Array(6));
  for (let j = 0; j < size; j++) {
    for (let i = 0; i < size; i++) {
      const at = j * size + i;
      const a = t[at]!;
      const b = p[at]!;
      const quarter = (i > middle ? 1 : 0) + (j > middle ? 2 : 0);
      if (Number.isNaN(a) || Number.isNaN(b)) continue;
      for (const s of [sums[quarter]!, sums[4]!]) [1, a, b, a * a, b * b, a * b].forEach((v, k) => (s[k]! += v));
    }
  }
  const of = ([n, st, sp, tt, pp, tp]: Float64Array) => ({
    t: tt! - st! ** 2 / n!,
    p: pp! - sp! ** 2 / n!,
    tp: tp! - (st! * sp!) / n!,
  });
  const whole = of(sums[4]!);
  const score = whole.tp / Math.sqrt(Math.max(1e-12, whole.t * whole.p));
  const gain = whole.tp / Math.max(1e-12, whole.t);
  const [all = 0, allT = 0, allP = 0] = sums[4]!;
  const spread = Math.sqrt(whole.p / all);
  let quarters = 1;
  let level = 0;
  for (const sum of sums.slice(0, 4)) {
    if (sum[0]! < 20) continue;
    // What a quarter is brighter or darker by than the light of the whole would make it.
    level = Math.max(
      level,
      Math.abs(sum[2]! / sum[0]! - allP / all - gain * (sum[1]! / sum[0]! - allT / all)) / spread,
    );
    const one = of(sum);
    const shows = Math.max((one.t * 4) / whole.t, (one.p * 4) / whole.p);
    if (shows > SHOWS) quarters = Math.min(quarters, one.tp / Math.sqrt(Math.max(1e-12, one.t * one.p)));
  }
  // A gain that turns light and dark round is no light at all.
  const heard = weights.reduce((s, w) => s + (w > 0 ? 1 : 0), 0) / weights.length;
  return { score: gain > 0 ? score * Math.min(1, heard / 0.6) : 0, quarters, level };
}

/** A corner's way over the shutter, frame px, from where it is on the frames beside. */
export function movementOf(before: Point | null, after: Point | null, shutter: number): Point {
  return before && after ? [((after[0] - before[0]) / 2) * shutter, ((after[1] - before[1]) / 2) * shutter] : [0, 0];
}
