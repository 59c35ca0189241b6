import type { TrackFile } from '../../core/base/schemas/types.ts';
import type { Limits } from '../../demo/conditions/index.ts';
import type { Truth } from '../../demo/truth.ts';

type Pair = readonly [number, number];

/** What became of one frame, beside the truth. */
export interface FrameError {
  frame: number;
  /** Root mean square over the four corners, px; null when the frame is lost. */
  error: number | null;
  /** The share of the screen's area that lies inside the picture. */
  inside: number;
  confidence: number;
  /** Distance of each corner from the truth and the bound stated for it, px. */
  corners: { distance: number; bound: number | null }[];
}

export interface PlateMeasures {
  frames: FrameError[];
  mean: number;
  worst: number;
  under1: number;
  under5: number;
  lost: number;
  jitter: number;
}

/** Frames on which less of the screen is inside the picture do not count: nothing could be seen. */
const SEEN_FROM = 0.25;
/** Over this error a frame must be lost or doubted, px. */
export const GROSS = 5;
/** Under this confidence a frame is doubted. */
export const DOUBTED = 0.3;

/** The share of a quad that lies inside a picture, by a grid of 32×32 points on it. */
export function shareInside(corners: readonly Pair[], width: number, height: number): number {
  const [a, b, c, d] = corners as [Pair, Pair, Pair, Pair];
  let inside = 0;
  for (let j = 0; j < 32; j++) {
    for (let i = 0; i < 32; i++) {
      const s = (i + 0.5) / 32;
      const t = (j + 0.5) / 32;
      const at = (k: 0 | 1) => (1 - t) * ((1 - s) * a[k] + s * b[k]) + t * ((1 - s) * d[k] + s * c[k]);
      const x = at(0);
      const y = at(1);
      if (x >= 0 && y >= 0 && x < width && y < height) inside++;
    }
  }
  return inside / 1024;
}

export function measureTrack(truth: Truth, track: Pick<TrackFile, 'frames'>): PlateMeasures {
  const found = new Map(track.frames.map((f) => [f.frame, f]));
  const offsets: (Pair[] | null)[] = [];
  const frames = truth.frames.map(({ frame, corners }): FrameError => {
    const entry = found.get(frame);
    const there = entry?.corners;
    const offset = there ? corners.map(([x, y], i): Pair => [there[i]![0] - x, there[i]![1] - y]) : null;
    offsets.push(offset);
    return {
      frame,
      inside: shareInside(corners, truth.width, truth.height),
      confidence: entry?.confidence ?? 0,
      error: offset && Math.sqrt(offset.reduce((s, [x, y]) => s + x * x + y * y, 0) / 4),
      corners: (offset ?? []).map(([x, y], i) => ({ distance: Math.hypot(x, y), bound: entry?.bound?.[i] ?? null })),
    };
  });
  const seen = frames.filter((f) => f.inside >= SEEN_FROM);
  const errors = seen.flatMap((f) => (f.error === null ? [] : [f.error]));
  const share = (limit: number) => errors.filter((e) => e < limit).length / Math.max(1, seen.length);
  return {
    frames,
    mean: errors.reduce((a, b) => a + b, 0) / Math.max(1, errors.length),
    worst: Math.max(0, ...errors),
    under1: share(1),
    under5: share(GROSS),
    lost: seen.length - errors.length,
    jitter: jitterOf(offsets),
  };
}

/** Root mean square length of the second difference in time of the corners' errors, px. */
function jitterOf(offsets: readonly (readonly Pair[] | null)[]): number {
  let sum = 0;
  let count = 0;
  for (let f = 1; f + 1 < offsets.length; f++) {
    const [before, now, after] = [offsets[f - 1], offsets[f], offsets[f + 1]];
    if (!before || !now || !after) continue;
    now.forEach((at, i) => {
      sum += (before[i]![0] - 2 * at[0] + after[i]![0]) ** 2 + (before[i]![1] - 2 * at[1] + after[i]![1]) ** 2;
      count++;
    });
  }
  return Math.sqrt(sum / Math.max(1, count));
}

/** Frames with an error over 5 px that are neither lost nor doubted. */
export function falselyCertain(frames: readonly FrameError[]): FrameError[] {
  return frames.filter((f) => f.error !== null && f.error > GROSS && f.confidence >= DOUBTED);
}

/** Which of a condition's limits the plates of all seeds together do not keep, in words. */
export function brokenLimits(limits: Limits, plates: readonly PlateMeasures[]): string[] {
  const over = (pick: (p: PlateMeasures) => number) => plates.reduce((sum, p) => sum + pick(p), 0) / plates.length;
  const broken: string[] = [];
  if (limits.mean !== undefined && over((p) => p.mean) > limits.mean)
    broken.push(`mean ${over((p) => p.mean).toFixed(3)} > ${limits.mean}`);
  if (limits.under1 !== undefined && over((p) => p.under1) < limits.under1)
    broken.push(`under 1 px ${(100 * over((p) => p.under1)).toFixed(1)} % < ${100 * limits.under1} %`);
  if (limits.under5 !== undefined && over((p) => p.under5) < limits.under5)
    broken.push(`under 5 px ${(100 * over((p) => p.under5)).toFixed(1)} % < ${100 * limits.under5} %`);
  if (limits.jitter !== undefined && over((p) => p.jitter) > limits.jitter)
    broken.push(`jitter ${over((p) => p.jitter).toFixed(3)} > ${limits.jitter}`);
  return broken;
}
