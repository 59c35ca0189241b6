import { clamp } from '../../base/geometry/clamp.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { createPlane, type Plane } from '../../base/image/plane.ts';
import { mean } from '../../base/image/statistics.ts';
import { CUT_ALIKE, FINE_ACROSS, likeness, type SmallFrame } from './likeness.ts';

/** How alike a frame is to the frame before, and to the one before that, −1…1. */
export interface Likeness {
  alike: number;
  alikeTwoBack: number;
}

/** Two frames that are less alike than CUT_ALIKE, while their neighbours are alike, are a cut. */
const NEIGHBOUR_ALIKE = 0.85;
/** A flash lifts the mean code at least so much, for at most so many frames. */
const FLASH_RISE = 0.05;
const FLASH_LENGTH = 3;
/** The small picture has means over so many by so many of the finer one's. */
const SQUARES = 4;

/** Frames that are lifted out of their neighbours' mean code, 0…1. */
export function flashFrames(exposures: readonly number[]): Set<number> {
  const out = new Set<number>();
  for (let length = 1; length <= FLASH_LENGTH; length++) {
    for (let first = 1; first + length < exposures.length; first++) {
      const before = exposures[first - 1]!;
      const after = exposures[first + length]!;
      const inside = exposures.slice(first, first + length);
      const rise = Math.min(...inside) - Math.max(before, after);
      if (rise > Math.max(FLASH_RISE, 3 * Math.abs(before - after)))
        for (let f = first; f < first + length; f++) out.add(f);
    }
  }
  return out;
}

/** Whether another picture begins with a frame, by how alike it and its neighbours are to those before them. */
export function isCut(figures: readonly Likeness[], frame: number, flashes: ReadonlySet<number>): boolean {
  const { alike, alikeTwoBack } = figures[frame]!;
  if (alike >= CUT_ALIKE || flashes.has(frame) || flashes.has(frame - 1)) return false;
  // A single odd frame between two that are alike is no cut.
  const next = figures[frame + 1];
  if (next && next.alikeTwoBack > NEIGHBOUR_ALIKE && next.alike < CUT_ALIKE) return false;
  const neighbours = [figures[frame - 1], next].filter((f) => f !== undefined && f !== figures[0]).map((f) => f!.alike);
  return alikeTwoBack < CUT_ALIKE + 0.1 && (neighbours.length === 0 || Math.max(...neighbours) > alike + 0.15);
}

/** Finds the cuts among frames that are given one after the other, and looks at nothing else. */
export class CutWatch {
  private readonly likenesses: Likeness[] = [];
  private readonly exposures: number[] = [];
  private before: SmallFrame | null = null;
  private twoBefore: SmallFrame | null = null;

  add({ width, height, codes, peak }: LumaFrame): void {
    const fine = squareMeans(codes, width, height, clamp(Math.round(width / FINE_ACROSS), 1, height), 255 / peak);
    const now = {
      fine,
      small: squareMeans(fine.data, fine.width, fine.height, Math.min(SQUARES, fine.width, fine.height)),
    };
    const { before, twoBefore } = this;
    this.likenesses.push({
      alike: before ? likeness(before, now) : 1,
      alikeTwoBack: twoBefore ? likeness(twoBefore, now) : 1,
    });
    this.exposures.push(mean(now.small.data) / 255);
    [this.twoBefore, this.before] = [before, now];
  }

  /** The first frame after `from`, up to `to`, with which another picture begins; null where there is none. */
  firstCut([from, to]: readonly [number, number]): number | null {
    const flashes = flashFrames(this.exposures);
    for (let frame = from + 1; frame <= Math.min(to, this.likenesses.length - 1); frame++)
      if (isCut(this.likenesses, frame, flashes)) return frame;
    return null;
  }
}

/** Means of a picture's squares; what is left over at its border is not looked at. */
function squareMeans(values: ArrayLike<number>, width: number, height: number, side: number, unit = 1): Plane {
  const out = createPlane(Math.floor(width / side), Math.floor(height / side));
  const share = unit / (side * side);
  for (let v = 0; v < out.height; v++) {
    for (let u = 0; u < out.width; u++) {
      let sum = 0;
      for (let y = v * side; y < (v + 1) * side; y++)
        for (let x = u * side; x < (u + 1) * side; x++) sum += values[y * width + x]!;
      out.data[v * out.width + u] = sum * share;
    }
  }
  return out;
}
