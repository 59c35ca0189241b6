import type { Plane } from '../image/plane.ts';
import { sampleBilinear } from '../image/sampling.ts';
import { median } from '../image/statistics.ts';
import type { TileMotion } from './tile-motion.ts';

/** Pieces that move less than this (pixels a frame) are too slow to show a smear. */
const SLOWEST = 6;
const LINES_A_TILE = 24;
/** Of all that moves in a frame, the fastest tenth gives its movement. */
const FAST_QUANTILE = 0.9;

/** Movement of a frame: that of its fast pieces, together with its direction. */
export interface FrameMotion {
  /** Pixels a frame. */
  speed: number;
  /** Degrees from the x axis, y down, 0…180. */
  angle: number | null;
  tiles: readonly TileMotion[];
}

/** The movement of a frame from those of its pieces; pieces that matched badly, or move unlike all around them, have no say. */
export function frameMotion(tiles: readonly TileMotion[], leastCorrelation = 0.75): FrameMotion {
  const matched = tiles.filter((t) => t.correlation >= leastCorrelation);
  const good = matched.filter((t) => supported(t, matched)).sort((a, b) => Math.hypot(a.dx, a.dy) - Math.hypot(b.dx, b.dy));
  if (good.length === 0) return { speed: 0, angle: null, tiles: [] };
  const fast = good[Math.min(good.length - 1, Math.floor(FAST_QUANTILE * good.length))]!;
  const speed = Math.hypot(fast.dx, fast.dy);
  // Directions are doubled before they are averaged, so that 1° and 179° are neighbours.
  let c = 0, s = 0;
  for (const { dx, dy } of good) {
    if (Math.hypot(dx, dy) < 0.7 * speed) continue;
    c += dx * dx - dy * dy;
    s += 2 * dx * dy;
  }
  const angle = speed < 0.5 ? null : ((Math.atan2(s, c) * 90) / Math.PI + 180) % 180;
  return { speed, angle, tiles: good };
}

/** True when two other pieces near by move much like this one: a pattern that repeats makes single pieces leap. */
function supported(tile: TileMotion, tiles: readonly TileMotion[]): boolean {
  const near = [...tiles].sort((a, b) => Math.hypot(a.x - tile.x, a.y - tile.y) - Math.hypot(b.x - tile.x, b.y - tile.y)).slice(1, 7);
  const slack = Math.max(1.5, 0.3 * Math.hypot(tile.dx, tile.dy));
  return near.filter((t) => Math.hypot(t.dx - tile.dx, t.dy - tile.dy) <= slack).length >= 2;
}

/** Trials of the smear's length against the movement. */
const TRIALS = Array.from({ length: 25 }, (_, i) => i * 0.05);
/** Slower frames than this (pixels a frame) show the scene as it is. */
const CLEAR_SPEED = 2.5;
const MOST_CLEAR_FRAMES = 12;
const DIRECTIONS = 6;
/** Lags, in samples of the halved picture, over which the scene's own pattern is kept. */
const CLEAR_LAGS = 64;

/**
 * Learns from moving frames which part of its movement a frame is smeared by: the shutter, as a fraction of the
 * frame's time.
 *
 * A picture smeared evenly over L pixels has, along the smear, the autocorrelation of the clear picture convolved
 * with a triangle of half-width L (after Y. Yitzhaky, N. S. Kopeika, "Identification of Blur Parameters from
 * Motion Blurred Images", Graphical Models and Image Processing 59(5), 1997, who look for the dip that this
 * leaves at lag L). Direction and movement are known from the matching, so one number is fitted over all frames. The
 * clear picture's autocorrelation comes from slow frames of the shot in the same direction or, where there are none, from
 * the same pieces across the movement, where nothing is smeared. All of it is done on the picture halved, where noise is weak.
 */
export class BlurShutter {
  private readonly misfit = new Float64Array(TRIALS.length);
  private weight = 0;
  private readonly clear = Array.from({ length: DIRECTIONS }, () => new Float64Array(CLEAR_LAGS));
  private clearFrames = 0;
  private readonly moving: { along: Float64Array; across: Float64Array; direction: number; speed: number }[] = [];

  /** Looks at one frame; `half` is the picture halved, `motion` how its pieces move about it, in whole pixels. */
  add(half: Plane, motion: FrameMotion): void {
    if (motion.speed < CLEAR_SPEED) this.addClear(half, motion);
    const moving = motion.tiles.filter((t) => Math.hypot(t.dx, t.dy) >= SLOWEST);
    // Pieces that move alike are looked at together: one piece alone has too few edges.
    for (const group of alike(moving)) {
      const speed = median(group.map((t) => Math.hypot(t.dx, t.dy)));
      const first = group[0]!;
      const angle = Math.atan2(first.dy, first.dx), most = Math.ceil((TRIALS.at(-1)! * speed) / 2) + 4;
      const along = autocorrelation(half, group, angle, most), across = autocorrelation(half, group, angle + Math.PI / 2, 2 * most);
      if (along && across) this.moving.push({ along, across, direction: directionOf(angle), speed });
    }
  }

  private addClear(half: Plane, motion: FrameMotion): void {
    if (this.clearFrames >= MOST_CLEAR_FRAMES || motion.tiles.length < 4) return;
    this.clearFrames++;
    this.clear.forEach((sums, d) => {
      const found = autocorrelation(half, motion.tiles, (d * Math.PI) / DIRECTIONS, CLEAR_LAGS - 2);
      found?.forEach((v, lag) => (sums[lag]! += v));
    });
  }

  /** 0…1.2; null when no frame told. */
  get fraction(): number | null {
    this.misfit.fill(0);
    this.weight = 0;
    for (const { along, across, direction, speed } of this.moving) {
      const base = this.clearFrames >= 3 && along.length < CLEAR_LAGS / 2 ? this.clear[direction]! : across;
      TRIALS.forEach((fraction, i) => (this.misfit[i]! += speed * misfitOf(along, smeared(base, (fraction * speed) / 2, along.length))));
      this.weight += speed;
    }
    if (this.weight < 4 * SLOWEST) return null;
    let least = 0;
    this.misfit.forEach((v, i) => (least = v < this.misfit[least]! ? i : least));
    // A smear must explain the frames better than none at all and than the longest: else nothing is told.
    const [none, longest] = [this.misfit[0]!, this.misfit.at(-1)!];
    if (least === 0 || this.misfit[least]! > 0.95 * none || this.misfit[least]! > 0.9 * longest) return null;
    const [before, here, after] = [this.misfit[least - 1]!, this.misfit[least]!, this.misfit[least + 1] ?? NaN];
    const bend = before - 2 * here + after;
    return TRIALS[least]! + (bend > 0 ? (0.05 * (before - after)) / (2 * bend) : 0);
  }
}

function directionOf(angle: number): number {
  return ((Math.round((angle * DIRECTIONS) / Math.PI) % DIRECTIONS) + DIRECTIONS) % DIRECTIONS;
}

/** An autocorrelation convolved with a triangle of half-width `length`, for lags below `count`. */
function smeared(base: Float64Array, length: number, count: number): Float64Array {
  const reach = Math.ceil(length) + 1, steps = 8;
  const weights = new Float64Array(2 * reach + 1);
  if (length < 0.05) weights[reach] = 1;
  else {
    for (let k = -reach * steps; k <= reach * steps; k++) {
      const u = k / steps, w = Math.max(0, length - Math.abs(u));
      const low = Math.floor(u), share = u - low;
      weights[low + reach]! += w * (1 - share);
      if (share > 0) weights[low + reach + 1]! += w * share;
    }
    const sum = weights.reduce((x, y) => x + y, 0);
    weights.forEach((w, i) => (weights[i] = w / sum));
  }
  const out = new Float64Array(count);
  for (let lag = 0; lag < count; lag++) {
    let sum = 0;
    for (let j = -reach; j <= reach; j++) sum += weights[j + reach]! * (base[Math.abs(lag - j)] ?? 0);
    out[lag] = sum;
  }
  return out;
}

/** Share of `found` that `model` times the best gain leaves over. */
function misfitOf(found: Float64Array, model: Float64Array): number {
  let fm = 0, mm = 0, ff = 0;
  // Noise sits at lags 0 and 1, and is not smeared.
  for (let i = 2; i < found.length; i++) {
    fm += found[i]! * model[i]!;
    mm += model[i]! * model[i]!;
    ff += found[i]! * found[i]!;
  }
  return mm > 0 && ff > 0 ? 1 - (fm * fm) / (mm * ff) : 1;
}

/** Groups of tiles whose movements differ by less than a tenth from that of the fastest left. */
function alike(tiles: readonly TileMotion[]): TileMotion[][] {
  const left = [...tiles].sort((a, b) => Math.hypot(b.dx, b.dy) - Math.hypot(a.dx, a.dy));
  const out: TileMotion[][] = [];
  while (left.length > 0 && out.length < 3) {
    const first = left[0]!, slack = Math.max(1, 0.12 * Math.hypot(first.dx, first.dy));
    const group = left.filter((t) => Math.hypot(t.dx - first.dx, t.dy - first.dy) <= slack);
    if (group.length >= 3) out.push(group);
    left.splice(0, left.length, ...left.filter((t) => !group.includes(t)));
  }
  return out;
}

/** Autocorrelation of the derivative in one direction over some pieces, lags 0…most in samples of `half`; null without detail. */
function autocorrelation(half: Plane, tiles: readonly TileMotion[], angle: number, most: number): Float64Array | null {
  const length = Math.max(48, Math.min(2 * most, 200));
  const sums = new Float64Array(most + 2), counts = new Float64Array(most + 2);
  const line = new Float32Array(length);
  const ux = Math.cos(angle), uy = Math.sin(angle);
  for (const tile of tiles) {
    // Sample i of the halved picture lies over sample 2i.
    const x = (tile.x - 0.5) / 2, y = (tile.y - 0.5) / 2;
    for (let k = 0; k < LINES_A_TILE; k++) {
      const aside = (k - LINES_A_TILE / 2) * 2.5;
      const x0 = x - uy * aside - (ux * length) / 2, y0 = y + ux * aside - (uy * length) / 2;
      if (!within(half, x0, y0) || !within(half, x0 + ux * length, y0 + uy * length)) continue;
      for (let i = 0; i < length; i++) line[i] = sampleBilinear(half, x0 + ux * (i + 1), y0 + uy * (i + 1)) - sampleBilinear(half, x0 + ux * i, y0 + uy * i);
      for (let lag = 0; lag < sums.length && lag < length - 8; lag++) {
        let sum = 0;
        for (let i = 0; i + lag < length; i++) sum += line[i]! * line[i + lag]!;
        sums[lag]! += sum;
        counts[lag]! += length - lag;
      }
    }
  }
  if (!(sums[0]! > 0)) return null;
  const unit = sums[0]! / counts[0]!;
  return sums.map((v, lag) => (counts[lag]! > 0 ? v / counts[lag]! / unit : 0));
}

function within({ width, height }: Plane, x: number, y: number): boolean {
  return x >= 0 && y >= 0 && x <= width - 1 && y <= height - 1;
}
