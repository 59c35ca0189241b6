import { clamp } from '../../base/geometry/clamp.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import { fitCamera } from '../pose/fit-camera.ts';
import type { SurfaceCamera } from '../pose/plane-pose.ts';
import { Problem } from '../../base/problem/problem.ts';
import { blendQuads } from '../pose/blend-quads.ts';

/** A stretch of a surface's motion, and where it comes from; the source may know frames beyond it, too. */
export interface SpliceSpan {
  readonly from: number;
  readonly to: number;
  readonly quadAt: (frame: number) => Quad | null;
}

/** Where one span hands over to the next. */
export interface Join {
  /** The later span's first frame. */
  readonly frame: number;
  /** How far apart the two put the worst corner there, px; null where one of them says nothing there. */
  readonly jump: number | null;
  /** First and last frame that are cross-faded; null where there is no fade. */
  readonly fade: readonly [number, number] | null;
}

export interface SplicedFrame {
  readonly frame: number;
  readonly corners: Quad | null;
  /** The span that it belongs to. */
  readonly span: number;
  /** The span that it is cross-faded with, and that one's share; null in between. */
  readonly fading: { readonly with: number; readonly share: number } | null;
}

export interface Spliced {
  readonly frames: SplicedFrame[];
  readonly joins: Join[];
  /** The camera through which fades are posed; null where corners are led over by themselves. */
  readonly camera: SurfaceCamera | null;
}

/** What fades are unless said otherwise, frames. */
export const USUAL_FADE = 8;
/** Quads that the camera is fitted to, and how far off a rigid rectangle (px, share of its size) they may be. */
const ASKED = 14;
const RIGID = 3;
const RIGID_SHARE = 0.03;

/** Spans in the order of their frames. @throws Problem no-spans, spans-overlap, bad-range */
export function orderedSpans<S extends { from: number; to: number }>(spans: readonly S[], where: string): S[] {
  if (spans.length === 0) throw new Problem('no-spans', { where });
  const sorted = [...spans].sort((a, b) => a.from - b.from);
  sorted.forEach((span, i) => {
    if (span.from > span.to) throw new Problem('bad-range', { where, range: `${span.from}-${span.to}` });
    const next = sorted[i + 1];
    if (next && next.from <= span.to)
      throw new Problem('spans-overlap', { where, span: `${span.from}-${span.to}`, other: `${next.from}-${next.to}` });
  });
  return sorted;
}

/**
 * One motion from spans that were made in different ways. About each join of spans that touch, `fade` frames go over from the one to the other, in the space of
 * the plane's pose; where a source ends at the join, it is thought to go on at the distance from the other that it has there. The share follows
 * 6t⁵ − 15t⁴ + 10t³, so that neither speed nor acceleration jumps. Spans must be in order and not overlap (`orderedSpans`).
 */
export function spliceSpans(spans: readonly SpliceSpan[], fade: number, width: number, height: number): Spliced {
  const camera = cameraOf(spans, width, height);
  const joins: Join[] = [];
  const frames: SplicedFrame[] = [];
  const fades = spans.slice(1).map((span, i) => fadeBetween(spans[i]!, span, fade, camera));
  fades.forEach((f, i) => joins.push({ frame: spans[i + 1]!.from, jump: f?.jump ?? null, fade: f?.range ?? null }));
  spans.forEach((span, index) => {
    for (let frame = span.from; frame <= span.to; frame++) {
      const before = fades[index - 1];
      const after = fades[index];
      const inBefore = before?.range && frame <= before.range[1] ? before : null;
      const inAfter = after?.range && frame >= after.range[0] ? after : null;
      const use = inBefore ?? inAfter;
      const corners = use ? use.at(frame) : span.quadAt(frame);
      const share = use ? use.share(frame) : 0;
      frames.push({
        frame,
        corners,
        span: index,
        fading: use
          ? { with: use === inBefore ? index - 1 : index + 1, share: use === inBefore ? 1 - share : share }
          : null,
      });
    }
  });
  return { frames, joins, camera };
}

interface Fade {
  readonly jump: number | null;
  readonly range: readonly [number, number] | null;
  /** The later span's share on a frame. */
  readonly share: (frame: number) => number;
  readonly at: (frame: number) => Quad | null;
}

function fadeBetween(a: SpliceSpan, b: SpliceSpan, frames: number, camera: SurfaceCamera | null): Fade | null {
  if (b.from !== a.to + 1) return null;
  const join = b.from - 0.5;
  const apart = offsetAt(a, b);
  // No fade reaches beyond the middle of a span, where that of its other end may begin.
  const half = Math.min(frames / 2, (a.to - a.from + 1) / 2, (b.to - b.from + 1) / 2);
  const jump = apart && Math.max(...apart.map(([x, y]) => Math.hypot(x, y)));
  const range = half >= 1 && apart ? ([Math.ceil(join - half), Math.floor(join + half)] as const) : null;
  const share = (frame: number) => smoothStep((frame - join + half) / (2 * half));
  return {
    jump,
    range,
    share,
    at: (frame) => {
      const earlier = a.quadAt(frame);
      const later = b.quadAt(frame);
      const first = earlier ?? (later && apart && moved(later, apart, -1));
      const second = later ?? (earlier && apart && moved(earlier, apart, 1));
      return first && second && blendQuads(first, second, share(frame), camera);
    },
  };
}

/** By how much the later span's corners are off the earlier one's at their join: where both know the frame, or as each goes on to it. */
function offsetAt(a: SpliceSpan, b: SpliceSpan): Point[] | null {
  const known = [
    [a.quadAt(b.from), b.quadAt(b.from)],
    [a.quadAt(a.to), b.quadAt(a.to)],
  ] as const;
  const thought = [
    [goneOn(a, a.to, 1), b.quadAt(b.from)],
    [a.quadAt(a.to), goneOn(b, b.from, -1)],
  ] as const;
  const both = (known.some(([p, q]) => p && q) ? known : thought).filter(
    (p): p is readonly [Quad, Quad] => p[0] !== null && p[1] !== null,
  );
  if (both.length === 0) return null;
  return [0, 1, 2, 3].map((c): Point =>
    mapTuple([0, 1], (k) => both.reduce((s, [p, q]) => s + q[c]![k] - p[c]![k], 0) / both.length),
  );
}

/** The corners one frame on (1) or back (−1) from a span's last or first frame, as its last two frames move and speed up. */
function goneOn({ quadAt }: SpliceSpan, frame: number, way: 1 | -1): Quad | null {
  const [q, r, s] = [quadAt(frame), quadAt(frame - way), quadAt(frame - 2 * way)];
  if (!q) return null;
  return mapTuple(q, ([x, y], c): Point =>
    r && s
      ? [3 * x - 3 * r[c]![0] + s[c]![0], 3 * y - 3 * r[c]![1] + s[c]![1]]
      : r
        ? [2 * x - r[c]![0], 2 * y - r[c]![1]]
        : [x, y],
  );
}

const moved = (quad: Quad, by: readonly Point[], sign: 1 | -1): Quad =>
  mapTuple(quad, ([x, y], i): Point => [x + sign * by[i]![0], y + sign * by[i]![1]]);

/** 0 before 0, 1 after 1, with no jump in speed or acceleration. */
export function smoothStep(t: number): number {
  const s = clamp(t, 0, 1);
  return s * s * s * (s * (6 * s - 15) + 10);
}

function cameraOf(spans: readonly SpliceSpan[], width: number, height: number): SurfaceCamera | null {
  const total = spans.reduce((sum, s) => sum + s.to - s.from + 1, 0);
  const step = Math.max(1, Math.floor(total / ASKED));
  const quads: Quad[] = [];
  for (const { from, to, quadAt } of spans) {
    for (let frame = from; frame <= to; frame += step) {
      const quad = quadAt(frame);
      if (quad) quads.push(quad);
    }
  }
  const fit = fitCamera(quads, width, height);
  const size = quads[0] ? distance(quads[0][0], quads[0][2]) : 0;
  return fit && fit.rms <= Math.max(RIGID, RIGID_SHARE * size) ? fit.camera : null;
}
