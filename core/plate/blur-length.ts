import type { Plane } from '../image/plane.ts';
import { sampleBilinear } from '../image/sampling.ts';
import { median } from '../image/statistics.ts';
import type { TileMotion } from './tile-motion.ts';

/** Pieces that move less than this (pixels a frame) are too slow to show a smear. */
const SLOWEST = 6;
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

/** Trials of the smear's length against the movement; the first is none at all. */
const TRIALS = [0, ...Array.from({ length: 111 }, (_, i) => 0.1 + i * 0.01)];
/** Samples of a line: short ones stay on one thing, long smears need long ones. */
const LINES = { short: 64, long: 128 };
/** Movement (pixels a frame) up to which short lines will do. */
const SLOW = 11;
const LINES_A_TILE = 24;
const LINE_STEP = 4;
/** Smears shorter than this (pixels), or longer than this share of a line, leave no notch that it could show. */
const SHORTEST = 3.5;
const LONGEST = 1 / 2.5;
/** A smear must lessen the misfit of the spectra to this share at most. */
const TOLD_BELOW = 0.54;

/**
 * Learns from moving frames which part of its movement a frame is smeared by: the shutter, as a fraction of the
 * frame's time.
 *
 * A picture smeared evenly over L pixels has, along the smear, its own power spectrum times (sin πfL / πfL)²: notches at
 * every multiple of 1/L (M. Cannon, "Blind Deconvolution of Spatially Invariant Image Blurs with Phase", IEEE Trans. ASSP
 * 24(1), 1976). The picture's own spectrum is smooth: a parabola over log f describes it. For each length the
 * parabola that fits best is taken, and what it leaves over is compared. Direction and movement are known from the
 * matching; all moving frames are judged together as functions of length over movement, so that only the shutter adds up.
 */
export class BlurShutter {
  private readonly score = new Float64Array(TRIALS.length);
  private readonly weight = new Float64Array(TRIALS.length);

  /** Looks at one frame; `motion` is how its pieces move about it, `noise` the standard deviation of its noise. */
  add(plane: Plane, motion: FrameMotion, noise: number): void {
    const moving = motion.tiles.filter((t) => Math.hypot(t.dx, t.dy) >= SLOWEST);
    // Pieces that move alike are looked at together: one piece alone has too few edges.
    for (const group of alike(moving)) {
      const speed = median(group.map((t) => Math.hypot(t.dx, t.dy)));
      const samples = speed < SLOW ? LINES.short : LINES.long;
      const power = powerSpectrum(plane, group, Math.atan2(group[0]!.dy, group[0]!.dx), lineKit(samples));
      const spectrum = power && aboveNoise(power, noise, lineKit(samples));
      if (!spectrum) continue;
      const none = misfit(spectrum, 0);
      TRIALS.forEach((fraction, i) => {
        const length = fraction * speed;
        if (i > 0 && (length < SHORTEST || length > LONGEST * samples)) return;
        this.score[i]! += group.length * Math.log((misfit(spectrum, length) + 1e-3) / (none + 1e-3));
        this.weight[i]! += group.length;
      });
    }
  }

  /** 0.1…1.2; null when no frame told. */
  get fraction(): number | null {
    const most = Math.max(...this.weight);
    if (most < 3) return null;
    const mean = Array.from(this.score, (v, i) => (this.weight[i]! >= 0.3 * most ? v / this.weight[i]! : Infinity));
    let least = 0;
    mean.forEach((v, i) => (least = v < mean[least]! ? i : least));
    if (least === 0 || least === mean.length - 1 || mean[least]! > Math.log(TOLD_BELOW)) return null;
    const [before, here, after] = [mean[least - 1]!, mean[least]!, mean[least + 1]!];
    const bend = before - 2 * here + after;
    return TRIALS[least]! + (Number.isFinite(bend) && bend > 0 && least > 1 ? (0.01 * (before - after)) / (2 * bend) : 0);
  }
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

/** Taper and cosines for lines of one length, made once. */
interface LineKit {
  samples: number;
  taper: Float64Array;
  cosines: Float64Array;
  /** Power of white noise of variance 1 in a bin, before interpolation between pixels takes some of it. */
  noisePower: number;
}
const kits = new Map<number, LineKit>();
function lineKit(samples: number): LineKit {
  let kit = kits.get(samples);
  if (!kit) {
    // Hann's window keeps strong frequencies from spilling into the notches.
    const taper = Float64Array.from({ length: samples }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / samples));
    kit = { samples, taper, cosines: Float64Array.from({ length: samples }, (_, i) => Math.cos((2 * Math.PI * i) / samples)), noisePower: taper.reduce((sum, w) => sum + w * w, 0) };
    kits.set(samples, kit);
  }
  return kit;
}

/** Mean power at frequencies k/samples, k = 0…samples/2, of lines through some pieces; null when too few lie inside. */
function powerSpectrum(plane: Plane, tiles: readonly TileMotion[], angle: number, kit: LineKit): Float64Array | null {
  const { samples, taper } = kit;
  const power = new Float64Array(samples / 2 + 1);
  const line = new Float64Array(samples);
  const ux = Math.cos(angle), uy = Math.sin(angle);
  let lines = 0;
  for (const { x, y } of tiles) {
    for (let k = 0; k < LINES_A_TILE; k++) {
      const aside = (k - LINES_A_TILE / 2) * LINE_STEP;
      const x0 = x - uy * aside - (ux * samples) / 2, y0 = y + ux * aside - (uy * samples) / 2;
      if (!within(plane, x0, y0) || !within(plane, x0 + ux * samples, y0 + uy * samples)) continue;
      // The derivative whitens.
      for (let i = 0; i < samples; i++) line[i] = (sampleBilinear(plane, x0 + ux * (i + 1), y0 + uy * (i + 1)) - sampleBilinear(plane, x0 + ux * i, y0 + uy * i)) * taper[i]!;
      addPower(line, kit, power);
      lines++;
    }
  }
  return lines >= 12 ? power.map((v) => v / lines) : null;
}

function addPower(line: Float64Array, { samples, cosines }: LineKit, power: Float64Array): void {
  for (let k = 0; k < power.length; k++) {
    let re = 0, im = 0;
    for (let i = 0; i < samples; i++) {
      const turn = (k * i) % samples;
      re += line[i]! * cosines[turn]!;
      im += line[i]! * cosines[(turn + (samples * 3) / 4) % samples]!;
    }
    power[k]! += re * re + im * im;
  }
}

interface Spectrum {
  samples: number;
  /** Cycles a sample. */
  frequencies: number[];
  /** Logarithm of the power that is the picture's. */
  logs: number[];
  /** Below this a logarithm only says that there is less than the noise. */
  least: number;
}

/** What interpolation leaves of white noise, on the whole. */
const INTERPOLATED = 0.55;

/** The picture's spectrum with the derivative undone and the noise taken off, up to where it sinks into the noise; null when that is at once. */
function aboveNoise(power: Float64Array, noise: number, { samples, noisePower }: LineKit): Spectrum | null {
  const plain = Array.from(power, (v, k) => v / Math.max(1e-9, 2 - 2 * Math.cos((2 * Math.PI * k) / samples)));
  // Codes are whole numbers: that is noise too.
  const floor = noisePower * (noise * noise + 1 / 12);
  let last = 0;
  for (let k = 2; k < plain.length; k++) if (plain[k]! > 1.5 * floor) last = k;
  if (last < 6) return null;
  const frequencies: number[] = [], logs: number[] = [];
  for (let k = 2; k <= last; k++) {
    frequencies.push(k / samples);
    logs.push(Math.log(Math.max(plain[k]! - INTERPOLATED * floor, 0.2 * floor)));
  }
  return { samples, frequencies, logs, least: Math.log(0.2 * floor) };
}

/** What the best parabola over log f times the smear's own spectrum leaves over: the variance of the logarithm. */
function misfit({ samples, frequencies, logs, least }: Spectrum, length: number): number {
  const smear = frequencies.map((f) => smearLog(f, length, samples));
  // Where noise hides how deep a notch is, the model need only be as low.
  const rest = parabolaRest(frequencies.map((f) => Math.log(f)), logs.map((v, i) => v - smear[i]!), (fit, i) => {
    const model = fit + smear[i]!;
    return logs[i]! <= least + 0.7 && model < logs[i]! ? 0 : logs[i]! - Math.max(model, least);
  });
  return rest / frequencies.length;
}

/** Logarithm of (sin πfL / πfL)², as a line under Hann's window shows it: notches are blunted by the neighbours. */
function smearLog(f: number, length: number, samples: number): number {
  if (length === 0) return 0;
  let sum = 0;
  for (const [step, weight] of BLUNT) {
    const x = Math.PI * Math.abs(f + step / samples) * length;
    sum += weight * (x < 1e-6 ? 1 : (Math.sin(x) / x) ** 2);
  }
  return Math.log(sum + 2e-3);
}
const BLUNT = [[-1, 1 / 6], [0, 4 / 6], [1, 1 / 6]] as const;

/** Sum of squares of what a least-squares parabola leaves over, as `restOf` reckons it from the parabola's value at each point. */
function parabolaRest(xs: readonly number[], ys: readonly number[], restOf: (fit: number, index: number) => number): number {
  const m = xs.reduce((s, x) => s + x, 0) / xs.length;
  const basis = [xs.map(() => 1), xs.map((x) => x - m), xs.map((x) => (x - m) ** 2)];
  const fit = new Float64Array(xs.length);
  // Gram–Schmidt: each column made orthogonal to those before, then taken out.
  const done: number[][] = [];
  for (let column of basis) {
    for (const before of done) {
      const share = dot(column, before) / dot(before, before);
      column = column.map((v, i) => v - share * before[i]!);
    }
    const share = dot(ys, column) / dot(column, column);
    column.forEach((v, i) => (fit[i]! += share * v));
    done.push(column);
  }
  let sum = 0;
  fit.forEach((v, i) => (sum += restOf(v, i) ** 2));
  return sum;
}

function dot(a: readonly number[], b: readonly number[]): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

function within({ width, height }: Plane, x: number, y: number): boolean {
  return x >= 0 && y >= 0 && x <= width - 1 && y <= height - 1;
}
