import type { Plane } from '../../base/image/plane.ts';
import { median } from '../../base/image/statistics.ts';
import { linePower } from './line-power.ts';
import { smearMisfit } from './smear-spectrum.ts';
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
  const good = matched
    .filter((t) => supported(t, matched))
    .sort((a, b) => Math.hypot(a.dx, a.dy) - Math.hypot(b.dx, b.dy));
  if (good.length === 0) return { speed: 0, angle: null, tiles: [] };
  const fast = good[Math.min(good.length - 1, Math.floor(FAST_QUANTILE * good.length))]!;
  const speed = Math.hypot(fast.dx, fast.dy);
  // Directions are doubled before they are averaged, so that 1° and 179° are neighbours.
  let c = 0;
  let s = 0;
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
  const near = [...tiles]
    .sort((a, b) => Math.hypot(a.x - tile.x, a.y - tile.y) - Math.hypot(b.x - tile.x, b.y - tile.y))
    .slice(1, 7);
  const slack = Math.max(1.5, 0.3 * Math.hypot(tile.dx, tile.dy));
  return near.filter((t) => Math.hypot(t.dx - tile.dx, t.dy - tile.dy) <= slack).length >= 2;
}

/** Trials of the smear's length against the movement; the first is none at all. */
const TRIALS = [0, ...Array.from({ length: 111 }, (_, i) => 0.1 + i * 0.01)];
/** Samples of a line: short ones stay on one thing, long smears need long ones. */
const LINES = { short: 64, long: 128 };
/** Movement (pixels a frame) up to which short lines will do. */
const SLOW = 11;
/** Smears shorter than this (pixels), or longer than this share of a line, leave no notch that it could show. */
const SHORTEST = 3.5;
const LONGEST = 1 / 2.5;
/** A smear must lessen the misfit of the spectra to this share at most. */
const TOLD_BELOW = 0.87;
/** Misfits below this (variance of a logarithm) are all the same. */
const LEAST_MISFIT = 3e-3;

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
      const power = linePower(plane, group, Math.atan2(group[0]!.dy, group[0]!.dx), samples);
      if (!power) continue;
      const none = smearMisfit(power, 0, noise);
      TRIALS.forEach((fraction, i) => {
        const length = fraction * speed;
        if (i > 0 && (length < SHORTEST || length > LONGEST * samples)) return;
        this.score[i]! +=
          group.length * Math.log((smearMisfit(power, length, noise) + LEAST_MISFIT) / (none + LEAST_MISFIT));
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
    return (
      TRIALS[least]! + (Number.isFinite(bend) && bend > 0 && least > 1 ? (0.01 * (before - after)) / (2 * bend) : 0)
    );
  }
}

/** Groups of tiles whose movements differ by less than a tenth from that of the fastest left. */
function alike(tiles: readonly TileMotion[]): TileMotion[][] {
  const left = [...tiles].sort((a, b) => Math.hypot(b.dx, b.dy) - Math.hypot(a.dx, a.dy));
  const out: TileMotion[][] = [];
  while (left.length > 0 && out.length < 3) {
    const first = left[0]!;
    const slack = Math.max(1, 0.12 * Math.hypot(first.dx, first.dy));
    const group = left.filter((t) => Math.hypot(t.dx - first.dx, t.dy - first.dy) <= slack);
    if (group.length >= 3) out.push(group);
    left.splice(0, left.length, ...left.filter((t) => !group.includes(t)));
  }
  return out;
}
