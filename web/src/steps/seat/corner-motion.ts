import type { Quad } from '../../../../core/base/geometry/quad.ts';

/** How the fastest corner moves about a frame, px; null where a neighbour is missing. */
export interface CornerMotion {
  readonly frame: number;
  /** Half the way between the neighbours. */
  readonly speed: number | null;
  /** Second difference. */
  readonly acceleration: number | null;
  /** Distance from the neighbours' middle, as far as their own neighbours do not explain it: fourth difference over six. */
  readonly jitter: number | null;
}

export function cornerMotion(frames: readonly number[], cornersAt: (frame: number) => Quad | null): CornerMotion[] {
  const known = new Map(frames.map((f) => [f, cornersAt(f)]));
  const most = (frame: number, weights: readonly [number, number][]): number | null => {
    const quads = weights.map(([by]) => known.get(frame + by) ?? null);
    if (quads.some((q) => q === null)) return null;
    return Math.max(
      ...[0, 1, 2, 3].map((c) =>
        Math.hypot(
          ...([0, 1] as const).map((axis) => weights.reduce((sum, [, w], i) => sum + w * quads[i]![c]![axis], 0)),
        ),
      ),
    );
  };
  return frames.map((frame) => ({
    frame,
    speed: most(frame, [
      [-1, -0.5],
      [1, 0.5],
    ]),
    acceleration: most(frame, [
      [-1, 1],
      [0, -2],
      [1, 1],
    ]),
    jitter: most(frame, [
      [-2, 1 / 6],
      [-1, -4 / 6],
      [0, 1],
      [1, -4 / 6],
      [2, 1 / 6],
    ]),
  }));
}
