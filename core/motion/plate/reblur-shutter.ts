import { clamp } from '../../base/geometry/clamp.ts';
import type { FrameFit } from '../follow/frame-fit.ts';
import { PlanarFollower } from '../follow/planar-follower.ts';
import type { PreparedPicture } from '../follow/registration.ts';
import { openMemory, PictureLevels } from '../follow/image-pyramid.ts';
import { mostPoints, type TemplateOptions } from '../follow/template.ts';
import type { Plane } from '../../base/image/plane.ts';

/** A frame that is kept for a while. */
interface KeptFrame {
  /** Display codes 0…255, no wider than `WIDEST`. */
  plane: Plane;
  /** Pixels of `plane` a frame. */
  speed: number;
}

/** Pictures are looked at no wider than this. */
const WIDEST = 1280;
/** So many frames are kept. */
const KEPT = 14;
/** From this movement on (pixels a frame) a smear can be measured, if some other frame near by moves less than this share of it. */
const FAST = 6;
const SLOW_SHARE = 0.45;
/** So many fast frames are enough; fewer will do at the end of a plate. */
const ENOUGH_FAST = 4;
const LEAST_FAST = 2;
/** Pieces, and times, that are looked at; each costs some seconds. */
const PIECES = 6;
const MOST_RUNS = 4;
/** Half the side of a piece. */
const HALF = 60;
const POINTS: TemplateOptions = { finestBudget: 3000, coarseBudget: 1500, maxLevels: 4 };
const TRUSTED = 0.5;

/** Shutter lengths that are tried, as fractions of a frame. */
const TRIALS = Array.from({ length: 25 }, (_, i) => i * 0.05);
/** A misfit so many times the least one counts no more than this. */
const WORST = 4;
/** Shorter smears than this (pixels), or such as hardly fit better than none does, can't be determined from none. */
const SHORTEST = 1.2;
const GAIN = 1.12;
/** The pieces must agree so much that a wrong shutter fits worse by this. */
const AGREE = 1.3;
const FEWEST_FITS = 6;

/**
 * Learns a plate's shutter from stretches in which it gains or loses speed: pieces of a slow frame are followed
 * into fast ones, smeared over trial lengths of the shutter along their own movement, and compared.
 * The shutter that fits best over all pieces and frames is the plate's: the same fit as in `ShutterEstimate`, made with
 * pieces of the whole picture before anybody has drawn a region.
 */
export class ReblurShutter {
  private kept: KeptFrame[] = [];
  private readonly sums = new Float64Array(TRIALS.length);
  private fits = 0;
  private ways = 0;
  private runs = 0;

  /**
   * The next frame: its pyramid (display codes 0…255) and how fast it moves, pixels a frame. `joined` is false where
   * it doesn't go on from the one before (a cut).
   */
  add(pyramid: readonly Plane[], speed: number, joined: boolean): void {
    const level = Math.max(
      0,
      pyramid.findIndex((p) => p.width <= WIDEST),
    );
    if (!joined) this.kept = [];
    this.kept.push({ plane: pyramid[level]!, speed: speed / 2 ** level });
    if (this.kept.length > KEPT) this.kept.shift();
    this.lookForRun(ENOUGH_FAST);
  }

  /** 0…1.2 of a frame; null when the plate has no stretch that tells. */
  finish(): number | null {
    this.lookForRun(LEAST_FAST);
    this.kept = [];
    if (this.fits < FEWEST_FITS) return null;
    const mean = Array.from(this.sums, (sum) => sum / this.fits);
    let least = 0;
    mean.forEach((v, i) => (least = v < mean[least]! ? i : least));
    if (least === TRIALS.length - 1 || Math.max(...mean) < AGREE * mean[least]!) return null;
    if (mean[0]! < GAIN * mean[least]!) return 0;
    const [before, here, after] = [mean[least - 1]!, mean[least]!, mean[least + 1]!];
    const bend = before - 2 * here + after;
    const fraction = TRIALS[least]! + (bend > 0 ? (0.05 * (before - after)) / (2 * bend) : 0);
    return (fraction * this.ways) / this.fits < SHORTEST ? 0 : fraction;
  }

  /** Looks back from the newest frame for a slow frame with fast ones after it, or before it. */
  private lookForRun(wanted: number): void {
    const speeds = this.kept.map((k) => k.speed);
    if (this.runs >= MOST_RUNS || speeds.length < wanted + 2) return;
    const slowest = speeds.indexOf(Math.min(...speeds));
    const fast = (s: number) => s >= FAST && speeds[slowest]! <= SLOW_SHARE * s;
    const after = speeds.slice(slowest + 1).filter(fast).length;
    const before = speeds.slice(0, slowest).filter(fast).length;
    if (Math.max(after, before) < wanted) return;
    this.runs++;
    this.run(
      after >= before ? this.kept.slice(slowest) : this.kept.slice(0, slowest + 1).reverse(),
      after >= before ? 1 : -1,
    );
    // The frames just seen would only say the same again.
    this.kept = this.kept.slice(-2);
  }

  /** `frames` begin with the slow one; `direction` −1 when they run against time. */
  private run(frames: readonly KeptFrame[], direction: 1 | -1): void {
    const { width, height } = frames[0]!.plane;
    const squares = chooseSquares(frames[0]!.plane);
    const memory = openMemory(width, height, 3, squares.length * mostPoints(POINTS));
    const [reference, ...slots] = [0, 1, 2].map(() => new PictureLevels(memory, width, height)) as [
      PictureLevels,
      PictureLevels,
      PictureLevels,
    ];
    reference.fill(codesOf(frames[0]!.plane), 65535);
    const pieces = squares.flatMap(([x, y]) => {
      const points = [
        [x - HALF, y - HALF],
        [x + HALF, y - HALF],
        [x + HALF, y + HALF],
        [x - HALF, y + HALF],
      ] as const;
      const follower = PlanarFollower.create(
        0,
        reference,
        { motion: 'affine', regions: [{ points }], keepOut: [] },
        POINTS,
      );
      return 'fault' in follower ? [] : [follower];
    });
    let before: PreparedPicture | null = null;
    let fitsBefore = new Map<PlanarFollower, FrameFit>();
    let left = pieces;
    for (let i = 1; i < frames.length && left.length > 0; i++) {
      const picture: PreparedPicture = {
        frame: i * direction,
        levels: slots[i % 2]!.fill(codesOf(frames[i]!.plane), 65535).permit(null),
      };
      const fits = new Map<PlanarFollower, FrameFit>();
      for (const piece of left) {
        const fit = piece.follow(picture, -direction as -1 | 1);
        if (fit.homography && fit.confidence >= TRUSTED) fits.set(piece, fit);
      }
      left = left.filter((piece) => fits.has(piece));
      if (before)
        for (const piece of left) this.learn(piece, before, fitsBefore.get(piece)!, direction, frames[0]!.speed);
      before = picture;
      fitsBefore = fits;
    }
  }

  private learn(
    piece: PlanarFollower,
    picture: PreparedPicture,
    fit: FrameFit,
    direction: -1 | 1,
    referenceSpeed: number,
  ): void {
    piece.refine(picture, fit, direction);
    const way = piece.wayOf(picture.frame);
    // The piece itself may lag behind what the whole frame does.
    if (way === null || way < 0.8 * FAST) return;
    // Of two smears in a row the squares of the lengths add up. The slow frame has one of its own.
    const added = 1 - Math.min(SLOW_SHARE, referenceSpeed / way) ** 2;
    const misfits = piece.smearMisfits(
      picture,
      TRIALS.map((t) => t * Math.sqrt(added)),
    );
    const least = Math.min(...misfits);
    if (!(least > 0)) return;
    misfits.forEach((misfit, i) => (this.sums[i]! += Math.min(WORST, misfit / least)));
    this.fits++;
    this.ways += way;
  }
}

function codesOf({ data }: Plane): Uint16Array {
  const codes = new Uint16Array(data.length);
  for (let i = 0; i < codes.length; i++) codes[i] = clamp(Math.round(data[i]! * 257), 0, 65535);
  return codes;
}

/** Middles of the squares with the most detail, apart from each other. */
function chooseSquares({ width, height, data }: Plane): [number, number][] {
  const across = Math.floor(width / (2 * HALF));
  const down = Math.floor(height / (2 * HALF));
  const squares: { x: number; y: number; detail: number }[] = [];
  for (let row = 0; row < down; row++) {
    for (let col = 0; col < across; col++) {
      const x = Math.round(((col + 0.5) * width) / across);
      const y = Math.round(((row + 0.5) * height) / down);
      let detail = 0;
      for (let v = y - HALF + 2; v < y + HALF - 2; v += 2) {
        for (let u = x - HALF + 2; u < x + HALF - 2; u += 2) {
          const at = v * width + u;
          detail += Math.min(
            0.1,
            Math.hypot(data[at + 2]! - data[at - 2]!, data[at + 2 * width]! - data[at - 2 * width]!),
          );
        }
      }
      squares.push({ x, y, detail });
    }
  }
  return squares
    .sort((a, b) => b.detail - a.detail)
    .slice(0, PIECES)
    .map(({ x, y }) => [x, y]);
}
